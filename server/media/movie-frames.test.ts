import { execFileSync } from 'node:child_process'
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { readDpx } from '../../formats/dpx'
import { MediaRoots } from './media-roots'
import { readMovieHeader } from './movie-header'
import { movieWork } from './movie-work'

/** Frame n of a decoded movie is the n-th picture that the movie presents: none repeated, none dropped, none out of order. */

const folder = mkdtempSync(join(tmpdir(), 'enkrasis-movies-'))
const media = new MediaRoots(folder)
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const [width, height, side] = [128, 64, 16]
const total = 50
/** A picture that says its number: eight squares for its bits, white for 1, on a grey that changes with it. */
function numbered(number: number): Buffer {
  const bytes = Buffer.alloc(width * height * 3, 60 + (number % 40))
  for (let bit = 0; bit < 8; bit++)
    for (let y = 24; y < 24 + side; y++)
      bytes.fill((number >> bit) & 1 ? 230 : 16, (y * width + bit * side) * 3, (y * width + (bit + 1) * side) * 3)
  return bytes
}

function numberOf(path: string): number {
  const { planes } = readDpx(new Uint8Array(readFileSync(path)), path)
  let number = 0
  for (let bit = 0; bit < 8; bit++) if (planes[1].samples[32 * width + bit * side + side / 2] > 0.5) number |= 1 << bit
  return number
}

const ffmpeg = (args: readonly string[], input?: Buffer) =>
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...args], { input, maxBuffer: 1 << 26 })
const pictures = Buffer.concat(Array.from({ length: total }, (_, i) => numbered(i + 1)))
const fromPictures = [
  '-f',
  'rawvideo',
  '-pixel_format',
  'rgb24',
  '-video_size',
  `${width}x${height}`,
  '-framerate',
  '24',
  '-i',
  '-',
]
const make = (name: string, ...args: string[]) => {
  ffmpeg([...fromPictures, '-pix_fmt', 'yuv420p', ...args, join(folder, name)], pictures)
  return name
}

async function decoded(name: string): Promise<number[]> {
  const says = await readMovieHeader(join(folder, name), name)
  const into = `decoded/${name.replace(/\W/g, '_')}`
  const movie = { path: name, says, folder: into, pattern: `${into}/frame.######.dpx` }
  const context = { signal: new AbortController().signal, attempt: 'test', again: false, progress: () => undefined }
  const { frames } = await movieWork(media).run(movie, 1, context)
  const names = readdirSync(join(folder, into)).sort()
  expect(names).toHaveLength(frames)
  expect(names.at(-1)).toBe(`frame.${String(frames).padStart(6, '0')}.dpx`)
  return names.map((one) => numberOf(join(folder, into, one)))
}
const counted = (first: number, last: number) => Array.from({ length: last - first + 1 }, (_, i) => first + i)

test('with pictures that are stored out of order', async () => {
  const name = make('reordered.mp4', '-c:v', 'libx264', '-bf', '3', '-g', '12')
  expect(await decoded(name)).toEqual(counted(1, total))
})

test('with an edit list that begins in the middle', async () => {
  const whole = make('whole.mp4', '-c:v', 'libx264', '-bf', '2', '-g', '25')
  // From picture 13 on, without encoding again: the pictures before it are in the file, and are not presented.
  ffmpeg(['-ss', String(12 / 24), '-i', join(folder, whole), '-c', 'copy', join(folder, 'edited.mp4')])
  expect(await decoded('edited.mp4')).toEqual(counted(13, total))
})

test('whose pictures last differently long', async () => {
  const name = make(
    'uneven.mp4',
    '-vf',
    "setpts='if(gte(N,20),N+7,N)+if(gte(N,30),3,0)'",
    '-fps_mode',
    'vfr',
    '-c:v',
    'libx264',
  )
  expect(await decoded(name)).toEqual(counted(1, total))
})

test('that says a wrong number of pictures', async () => {
  const name = make('miscounted.mp4', '-c:v', 'libx264', '-bf', '0')
  const bytes = readFileSync(join(folder, name))
  // Media header and track header say how long it is, in their own units; twice as long is a lie.
  for (const box of ['mvhd', 'mdhd']) {
    const at = bytes.indexOf(box) + 4 + 4 + 8 + 4
    bytes.writeUInt32BE(bytes.readUInt32BE(at) * 2, at)
  }
  writeFileSync(join(folder, name), bytes)
  expect(await decoded(name)).toEqual(counted(1, total))
})

test.each([
  ['intra.mov', ['-c:v', 'prores_ks', '-pix_fmt', 'yuv422p10le']],
  ['lossless.mkv', ['-c:v', 'ffv1', '-pix_fmt', 'bgr0']],
])('%s', async (name, args) => {
  expect(await decoded(make(name, ...args))).toEqual(counted(1, total))
})
