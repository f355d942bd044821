import { mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Plane, Planes } from '../../core/image/planes'
import { makeShot, proposeShot, roleOf, workingSpaceFor, type Answers, type Proposal } from '../../core/new-shot'
import { elementsInOrder, find, parseShot, rootInput } from '../../core/shot'
import { writeExr } from '../../formats/exr'
import { packing } from '../media/exr-blocks'
import { withFile } from '../media/file-source'
import { MediaRoots } from '../media/media-roots'
import { readPicture, readPictureHeader } from '../media/picture-files'
import { encodePicture } from '../media/write-picture'
import { smallData } from '../test/running-server'
import { findClips } from './find-clips'

/** Files of the small shot in other formats, under names that say nothing, as a person may find them in a folder. */

const root = mkdtempSync(join(tmpdir(), 'enkrasis-new-shot-'))
afterAll(() => rmSync(root, { recursive: true, force: true }))
const media = new MediaRoots(root)
const small = (file: string) => join(smallData(), 'media', 'quay-010', file)

/** The middle of the small shot's pictures, so that many folders can be made. */
const middle = { x: 160, y: 90, width: 320, height: 180 }

async function read(file: string, part: string | null, names: readonly string[]): Promise<Planes> {
  const cut = await withFile(small(file), file, (source) =>
    readPicture(source, part, () => names, { window: () => middle }),
  )
  const { x, y, ...size } = cut.dataWindow
  const dataWindow = { x: x - middle.x, y: y - middle.y, ...size }
  return { planes: cut.planes, dataWindow, displayWindow: { ...middle, x: 0, y: 0 } }
}

/** The same numbers for the same seed (mulberry32). */
function seeded(seed: number): () => number {
  let state = seed
  return () => {
    state = (state + 0x6d2b79f5) | 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}

interface Made {
  readonly folder: string
  /** what each file is, by its pattern */
  readonly is: ReadonlyMap<string, string>
}

const frames = [1001, 1002]

/** One folder: which clips there are, in which formats, and what they are called, all by the seed. */
async function makeFolder(seed: number): Promise<Made> {
  const random = seeded(seed)
  const pick = <T>(all: readonly T[]): T => all[Math.floor(random() * all.length)]
  const chance = (share: number) => random() < share
  const name = () => Array.from({ length: 7 }, () => pick([...'bcdfghjklmnprstvwxz'])).join('')
  const folder = `folder-${seed}`
  const is = new Map<string, string>()
  const write = (file: string, bytes: Uint8Array) => {
    mkdirSync(join(root, folder), { recursive: true })
    writeFileSync(join(root, folder, file), bytes)
  }
  const sequence = async (
    role: string,
    extension: string,
    first: number,
    each: (frame: number) => Promise<Uint8Array>,
  ) => {
    const stem = name()
    for (const frame of frames)
      write(`${stem}.${String(frame - frames[0] + first).padStart(4, '0')}.${extension}`, await each(frame))
    is.set(`${folder}/${stem}.####.${extension}`, role)
  }
  const still = (role: string, extension: string, bytes: Uint8Array) => {
    const stem = name()
    write(`${stem}.${extension}`, bytes)
    is.set(`${folder}/${stem}.${extension}`, role)
  }
  const plate = async (frame: number) => read(`plate/quay-010_plate.${frame}.exr`, null, ['R', 'G', 'B'])
  const as = async (extension: string, frame: number) =>
    encodePicture(`x.${extension}`, { ...(await plate(frame)), encoding: extension === 'exr' ? 'linear' : 'srgb' })
  for (let i = chance(0.3) ? 2 : 1; i > 0; i--) {
    const extension = pick(['exr', 'dpx', 'png', 'tif', 'jpg'])
    await sequence('picture', extension, 1001, (frame) => as(extension, frame))
  }
  await sequence('render', 'exr', pick([1001, 1, 995]), (frame) => render(frame, pick, seed % 3 === 0))
  if (chance(0.4)) await sequence('render', 'png', 1001, cutOut)
  if (chance(0.6)) {
    const extension = pick(['exr', 'png', 'tif'])
    await sequence('matte', extension, 1001, async (frame) => {
      const matte = await read(`matte/quay-010_front.${frame}.exr`, null, ['Y'])
      const [y] = matte.planes
      const planes = extension === 'exr' ? [y] : ['R', 'G', 'B'].map((channel) => ({ ...y, name: channel }))
      return encodePicture(`x.${extension}`, { ...matte, planes, encoding: 'linear' })
    })
  }
  if (chance(0.5)) still('still', pick(['exr', 'png']), await as('exr', frames[0]).then(() => as('png', frames[0])))
  if (chance(0.5)) {
    const map = await read('lens/quay-010_redistort.exr', null, ['R', 'G'])
    still('map', 'exr', await encodePicture('x.exr', { ...map, encoding: 'linear' }, 32))
  }
  if (chance(0.4)) await sequence('depth', 'exr', 1001, depth)
  if (chance(0.4)) still('table', 'cube', new TextEncoder().encode('LUT_3D_SIZE 2\n' + '0 0 0\n'.repeat(8)))
  return { folder, is }
}

/** Some of the bell's passes, their names kept; now and then without a beauty. */
async function render(frame: number, pick: <T>(all: readonly T[]) => T, bare: boolean): Promise<Uint8Array> {
  const file = `cg/quay-010_bell.${frame}.exr`
  const header = await withFile(small(file), file, readPictureHeader)
  const left = bare ? ['beauty', 'depth'] : [pick(['depth', 'facing'])]
  const parts = []
  for (const { name, channels } of header.parts) {
    if (name === null || left.includes(name)) continue
    const { planes, dataWindow, displayWindow } = await read(
      file,
      name,
      channels.map((channel) => channel.name),
    )
    parts.push({ name, planes, dataWindow, displayWindow })
  }
  return writeExr(parts, { compression: 'zips', ...packing })
}

/** The beauty alone, straight, in the frame. */
async function cutOut(frame: number): Promise<Uint8Array> {
  const { planes, ...windows } = await read(`cg/quay-010_bell.${frame}.exr`, 'beauty', ['R', 'G', 'B', 'A'])
  return encodePicture('x.png', { ...windows, planes, encoding: 'linear' }, 16)
}

async function depth(frame: number): Promise<Uint8Array> {
  const { planes, ...windows } = await read(`cg/quay-010_bell.${frame}.exr`, 'depth', ['Z'])
  const [z] = planes
  const named: Plane = { ...z, name: 'Y' }
  return encodePicture('x.exr', { ...windows, planes: [named], encoding: 'linear' }, 32)
}

const answersTo = (proposal: Proposal, plate: string): Answers => ({
  ...{ name: 'made', plate, rate: { numerator: 25, denominator: 1 }, handles: 0, bentBy: null, without: [] },
  workingSpace: workingSpaceFor({ encoding: 'linear', primaries: 'rec709', alpha: 'none' }),
})

const seeds = Array.from({ length: 12 }, (_, i) => i + 1)

test.each(seeds)('folder %i: every file is what it holds, and what could be two things is asked', async (seed) => {
  const { folder, is } = await makeFolder(seed)
  const clips = await findClips(media, [folder])
  expect(new Map(clips.map((clip) => [clip.path, roleOf(clip)]))).toEqual(is)
  const proposal = proposeShot(clips)
  const plates = [...is].flatMap(([path, role]) => (role === 'picture' ? [path] : []))
  expect([...proposal.plates].sort()).toEqual(plates.sort())
  const [plate] = plates
  const shot = makeShot(proposal, answersTo(proposal, plate), (path) => path)
  // What is made can be read again as it is.
  expect(parseShot(JSON.parse(JSON.stringify(shot)), 'made')).toEqual(shot)
  expect(shot.frames).toEqual({ first: 1001, last: 1002 })
  expect(shot.frameSize).toEqual({ width: 320, height: 180 })
  const blends = elementsInOrder(shot).map(({ element }) => element.blend.kind)
  const renders = [...is.values()].filter((role) => role === 'render').length
  expect(blends).toEqual(['over', 'shadow', 'occlusion', 'plus-lighter', ...Array<string>(renders).fill('over')])
  for (const { element } of elementsInOrder(shot).slice(1)) {
    const root = rootInput(element)
    const pass = root?.kind === 'pass' ? root : element.inputs.byId.alpha
    const source = pass.kind === 'pass' ? find(shot.sources, pass.source) : undefined
    expect(is.get(source?.path ?? '')).toBe('render')
    // Every render meets the first frame of the shot, however it is numbered.
    expect((source?.frames?.first ?? 0) + (source?.offset ?? 0)).toBe(1001)
  }
})

test('files that cannot be read are told of, and the others are used', async () => {
  mkdirSync(join(root, 'broken'))
  writeFileSync(join(root, 'broken', 'plate.0001.exr'), 'no picture')
  writeFileSync(join(root, 'broken', 'plate.0002.exr'), 'no picture')
  const [clip] = await findClips(media, ['broken'])
  expect(clip).toMatchObject({
    path: 'broken/plate.####.exr',
    header: null,
    problem: expect.stringMatching(/plate\.0001\.exr is not a picture/),
  })
  expect(proposeShot([clip]).plates).toEqual([])
})

test('single sequences and files can be chosen, and what is not there is said', async () => {
  const { folder, is } = await makeFolder(1)
  const [path] = is.keys()
  expect((await findClips(media, [path])).map((clip) => clip.path)).toEqual([path])
  const file = `${folder}/${readdirSync(join(root, folder)).sort()[0]}`
  expect((await findClips(media, [file])).map((clip) => clip.path)).toEqual([file])
  await expect(findClips(media, ['nowhere'])).rejects.toThrow(/nowhere does not exist/)
  await expect(findClips(media, [`${folder}/none.####.exr`])).rejects.toThrow(/There is no sequence/)
  await expect(findClips(media, ['../..'])).rejects.toThrow(/outside the media roots/)
})
