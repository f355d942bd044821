import { elementsInOrder, find, rootInput, usesOf } from '../shot'
import type { PictureHeader } from '../check'
import {
  framesOfVersion,
  makeShot,
  passRole,
  proposeShot,
  remarksOn,
  versionChanges,
  whatItHolds,
  type Answers,
  type FoundClip,
  type Holds,
} from '.'
import { elementName, proposedName } from './names'
import { rationalRate } from './propose'

const size = { x: 0, y: 0, width: 64, height: 36 }

function header(parts: readonly (string | null)[], given: Partial<PictureHeader> = {}, window = size): PictureHeader {
  return {
    format: 'exr',
    bits: null,
    says: { encoding: 'linear', primaries: null, alpha: 'none', rate: null, pixelAspect: null },
    parts: parts.map((name) => ({
      name,
      channels: (name === 'alpha' ? ['Y'] : ['R', 'G', 'B']).map((one) => ({ name: one, type: 'half' as const })),
      dataWindow: window,
      displayWindow: window,
    })),
    ...given,
  }
}

const clip = (path: string, holds: Holds, given: Partial<FoundClip> = {}): FoundClip => ({
  path,
  frames: { first: 1001, last: 1010 },
  count: 10,
  header: header([null]),
  holds,
  firstFile: null,
  problem: null,
  ...given,
})

const plate = clip('quay-020/plate/quay-020_plate_v001.####.exr', 'picture')
const bell = clip('quay-020/cg/quay-020_divingBell_v003.####.exr', 'cut-out', {
  header: header(['beauty', 'diffuse', 'shadow', 'occlusion', 'ground_reflection', 'alpha'], {
    says: { encoding: 'linear', primaries: 'acescg', alpha: 'premultiplied', rate: 23.976, pixelAspect: null },
  }),
})

const answers = (given: Partial<Answers> = {}): Answers => ({
  ...{ name: 'quay-020', plate: plate.path, handles: 0, bentBy: null, without: [] },
  rate: { numerator: 24, denominator: 1 },
  workingSpace: 'linear-rec709',
  ...given,
})

const made = (clips: readonly FoundClip[], given: Partial<Answers> = {}) =>
  makeShot(proposeShot(clips), answers(given), (path) => path)

test.each([
  ['ground_reflection', 'ground-reflection'],
  ['reflection', 'light'],
  ['specularDirect', 'light'],
  ['Z', 'depth'],
  ['ambient.occlusion', 'occlusion'],
  ['N', 'normals'],
  ['motionVector', 'vectors'],
  ['object_id', 'ids'],
  ['RGBA', 'beauty'],
  ['holdout', 'alpha'],
  ['shoulder', 'other'],
  ['key2', 'light'],
] as const)('a pass called %s is for %s', (name, role) => {
  expect(passRole(name)).toBe(role)
})

test('names come from the folder or the plate, without what says only what a file is', () => {
  expect(proposedName('quay-020', plate.path)).toBe('quay-020')
  expect(proposedName('imported/plates', 'Night Watch_010_plate_v2.####.dpx')).toBe('night-watch-010')
  expect(proposedName('', null)).toBe('shot')
  expect(elementName(bell.path, 'quay-020')).toBe('Diving bell')
  expect(elementName('qwrtz.####.exr', 'quay-020')).toBe('Qwrtz')
})

test('rates of film and television are exact', () => {
  expect(rationalRate(23.976)).toEqual({ numerator: 24000, denominator: 1001 })
  expect(rationalRate(29.97)).toEqual({ numerator: 30000, denominator: 1001 })
  expect(rationalRate(24.9999)).toEqual({ numerator: 25, denominator: 1 })
  expect(rationalRate(12.5)).toEqual({ numerator: 12500, denominator: 1000 })
})

test('plate, shadow, occlusion, reflection, beauty over: far to near', () => {
  const shot = made([bell, plate])
  expect(elementsInOrder(shot).map(({ element }) => [element.name, element.blend.kind])).toEqual([
    ['Plate', 'over'],
    ['Diving bell shadow', 'shadow'],
    ['Diving bell contact', 'occlusion'],
    ['Diving bell reflection', 'plus-lighter'],
    ['Diving bell', 'over'],
  ])
})

test('a render without a beauty is its light passes added up, cut out by its alpha', () => {
  const bare = { ...bell, header: header(['diffuse', 'specular', 'alpha']) }
  const [, { element }] = elementsInOrder(made([bare, plate]))
  expect(rootInput(element)).toMatchObject({ kind: 'sum', alpha: 'alpha' })
  expect(element.inputs.byId.alpha).toMatchObject({ kind: 'pass', part: 'alpha', channels: ['Y'] })
  expect(Object.keys(element.inputs.byId)).toHaveLength(4)
  expect(element.blend.kind).toBe('over')
})

test('rates: what files say, else what the sequence has, else it is asked', () => {
  expect(proposeShot([plate, bell])).toMatchObject({ rate: { numerator: 24000, denominator: 1001 } })
  const silent = { ...bell, header: header(['beauty', 'shadow']) }
  expect(proposeShot([plate, silent]).rate).toBeNull()
  const asked: string[] = []
  const sequence = (name: string) => (asked.push(name), { numerator: 25, denominator: 1 })
  expect(proposeShot([plate, silent], sequence).rate).toEqual({ numerator: 25, denominator: 1 })
  expect(asked).toEqual(['quay-020'])
})

test('two plates are both offered; a still beside a sequence is not', () => {
  const other = { ...plate, path: 'quay-020/plate/other.####.exr' }
  const clean = { ...plate, path: 'quay-020/clean.exr', frames: null, count: 1 }
  expect(proposeShot([plate, other, clean]).plates).toEqual([plate.path, other.path])
  expect(proposeShot([clean, bell]).plates).toEqual([clean.path])
  expect(proposeShot([bell]).plates).toEqual([])
})

test('a still render that is called like a reference, beside one that moves, was made to compare with; another is not', () => {
  const crate = { ...bell, path: 'quay-020/crate_v001.exr', frames: null, count: 1 }
  expect(elementsInOrder(made([plate, bell, crate]))).toHaveLength(9)
  for (const name of ['grey-ball', 'crate_cg', 'ref_v2', 'chart'])
    expect(elementsInOrder(made([plate, bell, { ...crate, path: `quay-020/${name}.exr` }]))).toHaveLength(5)
  const ball = { ...bell, path: 'quay-020/ball_cg.exr', frames: null, count: 1 }
  const shot = made([plate, bell, ball])
  expect(elementsInOrder(shot)).toHaveLength(5)
  expect(Object.keys(shot.sources.byId)).toHaveLength(3)
  expect(elementsInOrder(made([plate, ball]))).toHaveLength(5)
})

test('handles are not worked on; more than there is leaves nothing', () => {
  expect(made([plate, bell], { handles: 2 }).frames).toEqual({ first: 1003, last: 1008 })
  expect(() => made([plate, bell], { handles: 5 })).toThrow('Handles of 5 frames at each end leave nothing')
  expect(() => made([plate], { plate: 'gone.exr' })).toThrow('Nothing is chosen that can be the plate')
})

test('the shot has the pixels of its plate; a render of others says so', () => {
  const says = (pixelAspect: number | null) => ({ ...header([null]).says, pixelAspect })
  const wide = { ...plate, header: header([null], { says: says(2) }) }
  const shot = made([wide, bell])
  expect(shot.pixelAspect).toBe(2)
  expect(Object.values(shot.sources.byId).map(({ name, pixelAspect }) => [name, pixelAspect])).toEqual([
    ['Plate', undefined],
    ['Diving bell', 1],
  ])
  expect(made([plate, bell]).pixelAspect).toBe(1)
  expect(Object.values(made([plate, bell]).sources.byId).every(({ pixelAspect }) => pixelAspect === undefined)).toBe(
    true,
  )
})

test('one lens map in the glass bends everything but the plate', () => {
  const map = clip('quay-020/bend.exr', 'map', { frames: null, count: 1 })
  const shot = made([plate, bell, map], { bentBy: map.path })
  expect(elementsInOrder(shot).flatMap(({ element }) => usesOf(shot, { kind: 'element', id: element.id }))).toEqual([])
  const [use, ...more] = usesOf(shot, { kind: 'glass' })
  expect(more).toEqual([])
  expect(find(shot.sources, find(shot.treatments, use.treatment)?.sources?.map ?? '')?.path).toBe(map.path)
})

describe('what does not fit is said', () => {
  const remarks = (clips: readonly FoundClip[], given: Partial<Answers> = {}) =>
    remarksOn(proposeShot(clips), answers(given))
  const range = (first: number, last: number) => ({ ...bell, frames: { first, last } })

  test('nothing where everything fits', () => expect(remarks([plate, bell])).toEqual([]))

  test('shorter, longer, shifted', () => {
    expect(remarks([plate, range(1003, 1008)])).toEqual([
      'Diving bell has 1003 to 1008, the shot 1001 to 1010: it is not there before 1003 and after 1008.',
    ])
    expect(remarks([plate, range(995, 1020)])).toEqual([
      'Diving bell has 995 to 1020, which is more than the plate has. The rest is not used.',
    ])
    expect(remarks([plate, range(995, 1020)], { handles: 4 })).toHaveLength(1)
    expect(remarks([plate, range(1, 10)])).toEqual([
      'Diving bell is numbered 1 to 10. It is moved by 1000 frames to begin with the shot.',
    ])
  })

  test('another size', () => {
    const half = { ...bell, header: header(['beauty', 'shadow'], {}, { ...size, width: 32, height: 18 }) }
    expect(remarks([plate, half])).toEqual(['Diving bell is 32 x 18, the plate 64 x 36. It is enlarged 2 times.'])
    const shot = made([plate, half])
    expect(Object.values(shot.sources.byId).map(({ enlarge }) => enlarge)).toContain(2)
    const wide = { ...bell, header: header(['beauty', 'shadow'], {}, { ...size, width: 80 }) }
    expect(remarks([plate, wide])).toEqual(['Diving bell is 80 x 36, the plate 64 x 36. It is centred on the plate.'])
  })

  test('a plate of one frame, a movie, what stays out', () => {
    const still = { ...plate, frames: null, count: 1 }
    expect(remarks([still, bell])).toEqual([
      'quay-020_plate_v001 is one frame. It is the plate of every frame from 1001 to 1010.',
    ])
    expect(made([still, bell]).frames).toEqual({ first: 1001, last: 1010 })
    const movie = clip('quay-020/edit.mov', 'picture', { header: null, holds: null })
    expect(remarks([plate, movie])).toEqual([
      'edit is a movie. It is not used yet: import it in the shot, where it is decoded.',
    ])
    expect(remarks([plate, movie, range(1, 5)], { without: [movie.path, bell.path] })).toEqual([])
  })
})

describe('another version', () => {
  const files = (parts: readonly (string | null)[], frames = { first: 1001, last: 1010 }, given = {}) => ({
    header: header(parts, given),
    frames,
    count: frames.last - frames.first + 1,
  })
  const shot = made([plate, bell])
  const id = Object.values(shot.sources.byId).find(({ name }) => name === 'Diving bell')?.id ?? ''
  const old = files(['beauty', 'shadow', 'occlusion', 'ground_reflection', 'facing'])

  test('the same is said to be the same', () => expect(versionChanges(shot, id, old, old)).toEqual([]))

  test('missing passes are named with what is made of them, others by name only', () => {
    expect(versionChanges(shot, id, old, files(['beauty', 'occlusion', 'ground_reflection', 'fog']))).toEqual([
      'The pass shadow is not there any more, and Diving bell shadow is made of it.',
      'Passes gone that nothing uses: facing.',
      'New passes: fog.',
    ])
  })

  test('frames, size, encoding', () => {
    const half = header(
      ['beauty', 'shadow', 'occlusion', 'ground_reflection', 'facing'],
      {},
      { ...size, width: 32, height: 18 },
    )
    const now = {
      header: { ...half, says: { ...half.says, encoding: null } },
      frames: { first: 1001, last: 1012 },
      count: 5,
    }
    expect(versionChanges(shot, id, old, now)).toEqual([
      'Frames: 1001 to 1010 before, 1001 to 1012 now.',
      '5 of 12 frames are there so far; the others appear as they arrive.',
      'Size: 64 x 36 before, 32 x 18 now.',
      'Data window of the first frame: 64 x 36 at 0 0 before, 32 x 18 at 0 0 now.',
      'Encoding: linear before, not said now.',
    ])
  })

  test('while fewer frames have arrived than there were, all that there were are waited for', () => {
    const [ten, three] = [
      { first: 1001, last: 1010 },
      { first: 1001, last: 1003 },
    ]
    expect(framesOfVersion(ten, three)).toEqual(ten)
    expect(framesOfVersion(three, ten)).toEqual(ten)
    expect(framesOfVersion(ten, { first: 1003, last: 1020 })).toEqual({ first: 1003, last: 1020 })
    expect(framesOfVersion(null, ten)).toEqual(ten)
  })
})

test('what is opaque in a part of the frame only is cut out; opaque all over it is a picture', () => {
  const planes = (dataWindow: typeof size) => ({
    dataWindow,
    displayWindow: size,
    planes: ['R', 'G', 'B', 'A'].map((name) => ({
      name,
      type: 'float' as const,
      samples: new Float32Array(dataWindow.width * dataWindow.height).fill(name === 'A' ? 1 : 0.3),
    })),
  })
  expect(whatItHolds(planes({ x: 10, y: 8, width: 20, height: 12 }))).toBe('cut-out')
  expect(whatItHolds(planes({ x: -4, y: -4, width: 72, height: 44 }))).toBe('picture')
})

describe('what was shot for reference', () => {
  const photographed = clip('quay-020/reference/quay-020_ball_plate.####.exr', 'picture', {
    frames: { first: 1001, last: 1008 },
  })
  const rendered = {
    ...bell,
    path: 'quay-020/reference/quay-020_ball_cg.####.exr',
    frames: { first: 1001, last: 1008 },
  }

  test('photographs and render that are called alike are an object, for comparing only, in the place of the render', () => {
    const proposal = proposeShot([plate, bell, photographed, rendered])
    expect(proposal.plates).toEqual([plate.path])
    expect(proposal.objects).toEqual([{ name: 'Ball', photographed: photographed.path, rendered: rendered.path }])
    const shot = made([plate, bell, photographed, rendered])
    expect(elementsInOrder(shot)).toHaveLength(5)
    const [object] = Object.values(shot.referenceObjects.byId)
    const pathOf = (id: string) => find(shot.sources, id)?.path
    expect([object.photographed, object.rendered, object.insteadOf].map(pathOf)).toEqual(
      [photographed.path, rendered.path, bell.path].map((path) =>
        expect.stringContaining(path.split('/').at(-1) ?? ''),
      ),
    )
    expect(find(shot.sources, object.rendered)?.forComparing).toBe(true)
  })

  test('a shot whose own plate and render are called alike has none', () => {
    const [own, cg] = [
      { ...photographed, path: 'quay-020/quay-020_plate.####.exr' },
      { ...rendered, path: 'quay-020/quay-020_cg.####.exr' },
    ]
    expect(proposeShot([own, cg]).objects).toEqual([])
    expect(proposeShot([own, cg]).plates).toEqual([own.path])
    expect(elementsInOrder(made([own, cg], { plate: own.path }))).toHaveLength(5)
  })
})
