import { execFileSync } from 'node:child_process'
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { readDpx } from '../../formats/dpx'
import { MediaRoots } from './media-roots'
import { decodedMovie } from './decoded-movie'
import { unevenAmong } from './movie-durations'
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
  const names = readdirSync(join(folder, into))
    .filter((one) => one.endsWith('.dpx'))
    .sort()
  expect(names).toHaveLength(frames)
  expect(names.at(-1)).toBe(`frame.${String(frames).padStart(6, '0')}.dpx`)
  return names.map((one) => numberOf(join(folder, into, one)))
}
const uneven = async (name: string) =>
  (await decodedMovie(media.place(), `decoded/${name.replace(/\W/g, '_')}/frame.######.dpx`))?.uneven
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
  // Picture 20 stays for eight frames, picture 30 for four; the check says so.
  expect(await uneven('uneven.mp4')).toEqual([
    { picture: 20, frames: 8 },
    { picture: 30, frames: 4 },
  ])
  expect(await uneven('reordered.mp4')).toEqual([])
  expect(await uneven('edited.mp4')).toEqual([])
})

test('times that are only rounded are even; a picture that is short is uneven too', () => {
  const rounded = Array.from({ length: 48 }, (_, i) => Math.round((i * 1000) / 24) / 1000)
  expect(unevenAmong(rounded)).toEqual([])
  expect(unevenAmong([0, 1, 2, 2.5, 3.5, 4.5])).toEqual([{ picture: 3, frames: 0.5 }])
  expect(unevenAmong([0])).toEqual([])
})

describe('chroma samples', () => {
  // A step of colour between two pixels: where the samples of half width lie decides on which side it bleeds further.
  const edge = 64
  const stepped = Buffer.alloc(width * height * 3)
  for (let i = 0; i < width * height; i++) stepped.set(i % width < edge ? [200, 40, 40] : [40, 40, 200], i * 3)
  const rise = async (name: string) => {
    await decoded(name)
    const [first] = readdirSync(join(folder, `decoded/${name.replace(/\W/g, '_')}`))
    const path = join(folder, `decoded/${name.replace(/\W/g, '_')}`, first)
    const { planes } = readDpx(new Uint8Array(readFileSync(path)), path)
    const row = planes[2].samples.subarray(32 * width, 33 * width)
    const [low, high] = [row[edge - 12], row[edge + 12]]
    // The place of the edge: what lies below it, in pixels.
    let place = edge - 8
    for (let x = edge - 8; x < edge + 8; x++) place += (high - row[x]) / (high - low)
    return place
  }

  test.each(['left', 'center', 'topleft'])('that lie %s are put back where they were taken', async (siting) => {
    const name = `siting-${siting}.mp4`
    ffmpeg(
      [
        ...fromPictures,
        '-frames:v',
        '1',
        '-vf',
        `zscale=matrix=709:range=limited:chromal=${siting},format=yuv420p,setparams=color_primaries=bt709:color_trc=bt709:colorspace=bt709:range=tv`,
        '-c:v',
        'libx264',
        '-qp',
        '1',
        '-chroma_sample_location',
        siting,
        join(folder, name),
      ],
      stepped,
    )
    // Misplaced samples would move it by half a pixel.
    expect(Math.abs((await rise(name)) - edge)).toBeLessThan(0.1)
  })
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
