import { bent, straightener } from '../motion/lens'
import { frameAtScale } from '../engine/source-frame'
import type { FrameRequest, Matrix3, Scale } from '../graph/steps'
import { absent } from '../plan/catalog'
import { planFrame } from '../plan/plan'
import { newLimit, newTreatment, type Shot, type TreatmentSettings } from '../shot'
import { localEngine } from '../test/local-engine'
import { only, plan } from '../test/planned'
import { allThere, loadMadeUp, treated } from '../test/small-shot'
import { someFrame, surroundings } from '../test/steps'
import { lightIn, sameBits } from '../test/windows'
import { constant } from '../graph/steps'
import { patch } from './patch'
import type { Surroundings } from './treatment'

type Pixel = readonly [number, number, number, number]
const frame = { x: 0, y: 0, width: 300, height: 150 }
const window = { x: 30, y: 20, width: 200, height: 110 }
/** What is filled. */
const place = { x: 100, y: 50, width: 40, height: 30 }

const load = (pixels: Readonly<Record<string, (x: number, y: number) => Pixel>>) => async (request: FrameRequest) => {
  const planes = ['R', 'G', 'B', 'A'].map((name, c) => ({
    name,
    type: 'float' as const,
    samples: Float32Array.from(
      { length: window.width * window.height },
      (_, i) => pixels[request.source](window.x + (i % window.width), window.y + Math.floor(i / window.width))[c],
    ),
  }))
  return frameAtScale({ dataWindow: window, displayWindow: frame, planes }, request)
}

const settings = { across: [0], down: [0], frame: [0], border: [1], inwards: [20] }

async function patched(
  values: Partial<typeof settings>,
  picture: (x: number, y: number) => Pixel,
  filling = picture,
  {
    at = window,
    scale = 1,
    ...more
  }: Partial<Surroundings> & { readonly at?: typeof window; readonly scale?: Scale } = {},
) {
  const read = (source: string) => someFrame({ source, path: `${source}.exr`, reduce: scale })
  const within = constant([1, 1, 1, 1], {
    x: place.x / scale,
    y: place.y / scale,
    width: place.width / scale,
    height: place.height / scale,
  })
  const step = patch.build(
    read('picture'),
    { ...settings, ...values },
    surroundings({
      ...{ pictures: { filling: read('filling') }, within, scale, ...more },
      frame: { ...frame, width: 300 / scale, height: 150 / scale },
    }),
  )
  const out = await localEngine(1, load({ picture, filling })).light(step, at)
  return (x: number, y: number, c = 0) => out[((y - at.y) * at.width + x - at.x) * 4 + c]
}

const wall = (x: number, y: number): Pixel => [
  0.2 + 0.05 * Math.sin(x / 5) * Math.cos(y / 4),
  0.15 + 0.03 * Math.cos(x / 7),
  0.1 + 0.02 * Math.sin(y / 3),
  1,
]

/** A value tells the place. */
const ramp = (x: number, y: number): Pixel => [0.002 * (x + 0.5), 0.002 * (y + 0.5), 0.1, 1]

describe('following tracks', () => {
  // From 1001 to 1003 the picture goes by 8, -4.
  const goes = (at: number): Matrix3 => [1, 0, 4 * (at - 1001), 0, 1, -2 * (at - 1001), 0, 0, 1]
  const followed = (time: number) => ({ at: goes, lens: null, rest: 1001, frames: { first: 1001, last: 1010 }, time })

  test('a held frame lies where its things have gone since, pixel for pixel, at full and at half scale', async () => {
    const values = { frame: [1001], border: [0] }
    const look = { followed: followed(1003), choices: { when: 'held' } }
    const at = await patched(values, wall, wall, look)
    for (const [x, y] of [
      [101, 51],
      [138, 78],
    ] as const)
      expect(at(x, y)).toBe(Math.fround(wall(x - 8, y + 4)[0]))
    const half = { x: 15, y: 10, width: 100, height: 55 }
    const small = await patched(values, wall, wall, { ...look, scale: 2, at: half })
    const mean = (x: number, y: number) =>
      [0, 1].flatMap((j) => [0, 1].map((i) => wall(2 * x + i - 8, 2 * y + j + 4)[0])).reduce((a, b) => a + b, 0) / 4
    expect(small(60, 30)).toBeCloseTo(mean(60, 30), 5)
  })

  test('an offset is as it is set on the frame on which the tracks rest, and turns and grows with them', async () => {
    const twice: Matrix3 = [2, 0, -100, 0, 2, -60, 0, 0, 1]
    const look = {
      followed: { ...followed(1003), at: (at: number) => (at === 1003 ? twice : goes(1001)) },
      choices: { when: 'same' },
    }
    const at = await patched({ across: [15], down: [0], border: [0] }, wall, wall, look)
    expect(at(120, 60)).toBeCloseTo(wall(150, 60)[0], 6)
  })

  test('behind a lens it goes by way of the straight picture, at full and at half scale', async () => {
    const lens = { centre: [90, 60] as const, unit: 150, squeeze: 1, k1: -0.12, k2: 0.02, k3: 0, p1: 0, p2: 0 }
    const look = { followed: { ...followed(1003), lens: () => lens }, choices: { when: 'held' } }
    const at = await patched({ frame: [1001], border: [0] }, ramp, ramp, look)
    const half = await patched({ frame: [1001], border: [0] }, ramp, ramp, {
      ...look,
      ...{ scale: 2, at: { x: 15, y: 10, width: 100, height: 55 } },
    })
    const filling = (x: number, y: number) => {
      const [sx, sy] = straightener(lens)(x, y) ?? [NaN, NaN]
      return bent(lens, [sx - 8, sy + 4])
    }
    for (const [x, y] of [
      [101, 51],
      [139, 57],
    ] as const) {
      const [u, v] = filling(x + 0.5, y + 0.5)
      expect(Math.abs(v - (y + 0.5 + 4)) + Math.abs(u - (x + 0.5 - 8))).toBeGreaterThan(0.01)
      expect(at(x, y)).toBeCloseTo(0.002 * u, 5)
      expect(at(x, y, 1)).toBeCloseTo(0.002 * v, 5)
    }
    const [u] = filling(2 * 60 + 1, 2 * 30 + 1)
    expect(half(60, 30)).toBeCloseTo(0.002 * u, 4)
  })

  test('without an offset and on its own frame there is nothing to follow', async () => {
    const at = await patched({ border: [0] }, wall, wall, { followed: followed(1003), choices: { when: 'same' } })
    expect(at(120, 60)).toBe(Math.fround(wall(120, 60)[0]))
  })
})

test('it is filled from so far to the right and below, pixel for pixel', async () => {
  const at = await patched({ across: [50], down: [-12], border: [0] }, wall)
  for (const [x, y] of [
    [100, 50],
    [120, 70],
    [139, 79],
  ])
    expect([0, 1, 2, 3].map((c) => at(x, y, c))).toEqual(wall(x + 50, y - 12).map((v) => Math.fround(v)))
})

test('a filling under other light is brought to that of the border: more light, more of one colour, a slope', async () => {
  const other = (x: number, y: number): Pixel => {
    const [r, g, b] = wall(x, y)
    return [r + 0.06, g + 0.02 + 0.0004 * (x - 100), b - 0.03, 1]
  }
  const at = await patched({}, wall, other)
  const plain = await patched({ border: [0] }, wall, other)
  let [worst, before] = [0, 0]
  for (let y = 50; y < 80; y++)
    for (let x = 100; x < 140; x++)
      for (let c = 0; c < 3; c++) {
        worst = Math.max(worst, Math.abs(at(x, y, c) - wall(x, y)[c]))
        before = Math.max(before, Math.abs(plain(x, y, c) - wall(x, y)[c]))
      }
  expect(before).toBeGreaterThan(0.05)
  expect(worst).toBeLessThan(0.006)
})

test('what lies in the place itself has no say in how the filling is brought to the border', async () => {
  const blot = (x: number, y: number): Pixel =>
    x > 102 && x < 138 && y > 52 && y < 78 ? [0.9, 0.9, 0.9, 1] : wall(x, y)
  const at = await patched({}, blot, wall)
  for (const [x, y] of [
    [120, 65],
    [104, 54],
  ])
    expect(Math.abs(at(x, y) - wall(x, y)[0])).toBeLessThan(1e-4)
})

test('where the filling shows nothing the picture stays as it is', async () => {
  const at = await patched({ across: [300] }, wall)
  expect([0, 1, 2, 3].map((c) => at(120, 65, c))).toEqual(wall(120, 65).map((v) => Math.fround(v)))
})

test('a transparent picture is filled premultiplied, light without coverage stays', async () => {
  const half = (x: number, y: number): Pixel => wall(x, y).map((v) => v / 2) as unknown as Pixel
  const at = await patched({ across: [10] }, half)
  expect(at(120, 65, 3)).toBe(0.5)
  expect(Math.abs(at(120, 65) - wall(130, 65)[0] / 2)).toBeLessThan(0.02)
  const light = await patched({ across: [10] }, () => [0.3, 0.2, 0.1, 0])
  expect([0, 1, 2, 3].map((c) => light(120, 65, c))).toEqual([0.3, 0.2, 0.1, 0].map((v) => Math.fround(v)))
})

test('a filling that covers a half is brought to the border by half of what straight light differs', async () => {
  const half = (more: number) => (x: number, y: number) =>
    wall(x, y).map((v, c) => (c < 3 ? (v + more) / 2 : 0.5)) as unknown as Pixel
  const at = await patched({}, half(0), half(0.06))
  for (const [x, y] of [
    [104, 55],
    [120, 65],
    [136, 76],
  ])
    for (let c = 0; c < 3; c++) expect(Math.abs(at(x, y, c) - wall(x, y)[c] / 2)).toBeLessThan(0.002)
})

test('any part has the bits of the whole, and at half scale it is the same, reduced', async () => {
  const other = (x: number, y: number): Pixel => wall(x, y).map((v, c) => (c < 3 ? v + 0.04 : v)) as unknown as Pixel
  const [whole, part] = [
    await patched({ across: [20] }, wall, other),
    await patched({ across: [20] }, wall, other, { at: { x: 111, y: 61, width: 17, height: 9 } }),
  ]
  for (let y = 61; y < 70; y++) for (let x = 111; x < 128; x++) expect(part(x, y)).toBe(whole(x, y))
  const half = await patched({ across: [20] }, wall, other, { at: { x: 15, y: 10, width: 100, height: 55 }, scale: 2 })
  for (const [x, y] of [
    [55, 30],
    [60, 34],
  ]) {
    const mean = [0, 1].flatMap((j) => [0, 1].map((i) => whole(2 * x + i, 2 * y + j))).reduce((a, b) => a + b / 4, 0)
    expect(Math.abs(half(x, y) - mean)).toBeLessThan(0.003)
  }
})

describe('on the plate of a shot', () => {
  const withPatch = (parameters: TreatmentSettings['parameters'], when: string, inverted = false): Shot => {
    const made = newTreatment('patch', 'patch', parameters)
    return treated(
      only('plate'),
      { kind: 'element', id: 'plate' },
      { ...made, sources: { filling: 'plate' }, choices: { when } },
      { limit: { ...newLimit({ kind: 'matte', matte: 'post' }), ...(inverted ? { inverted: true as const } : {}) } },
    )
  }
  const plateOf = async (shot: Shot, time: number) => {
    return localEngine(1, loadMadeUp).light(plan(shot, time).composite, frame)
  }
  const at = (pixels: Float32Array, x: number, y: number) => [
    ...pixels.subarray((y * 300 + x) * 4, (y * 300 + x) * 4 + 4),
  ]

  test('a frame is held inside its matte, and outside every bit of the plate stands', async () => {
    const [before, held] = [await plateOf(only('plate'), 1004), await plateOf(only('plate'), 1001)]
    const after = await plateOf(withPatch({ frame: [1001], border: [0] }, 'held'), 1004)
    expect(at(after, 40, 30)).toEqual(at(held, 40, 30))
    for (let y = 0; y < 150; y++)
      for (let x = 0; x < 300; x += 7) if (x < 20 || x > 70 || y > 60) expect(at(after, x, y)).toEqual(at(before, x, y))
  })

  test('so many frames later, and inverted everywhere else', async () => {
    const later = await plateOf(only('plate'), 1003)
    const after = await plateOf(withPatch({ frame: [2], border: [0] }, 'later', true), 1001)
    expect(at(after, 200, 100)).toEqual(at(later, 200, 100))
    expect(at(after, 40, 30)).toEqual(at(await plateOf(only('plate'), 1001), 40, 30))
  })

  test('a frame that is not there is said by name; the rest of the picture is made', () => {
    const { problems, composite } = planFrame(withPatch({ frame: [3000] }, 'held'), 1001, 1, allThere())
    expect(composite).not.toBeNull()
    expect(problems[0].sentence).toBe('Patch: filled from Plate, which shows nothing at frame 3000.')
    const gone = withPatch({}, 'same')
    const filledFrom = (filling: string) => ({
      byId: { ...gone.treatments.byId, patch: { ...gone.treatments.byId.patch, sources: { filling } } },
    })
    expect(planFrame({ ...gone, treatments: filledFrom('none') }, 1001, 1, allThere()).problems[0].sentence).toBe(
      'Patch: filled from a source that is gone, which shows nothing at frame 1001.',
    )
    const made = {
      ...gone.sources.byId.cg,
      id: 'made',
      name: 'Clean',
      made: { kind: 'clean-plate', source: 'plate', part: null, from: 1001, to: 1004, step: 1 },
    } as const
    const shot = {
      ...gone,
      sources: { byId: { ...gone.sources.byId, made } },
      treatments: filledFrom('made'),
    } as Shot
    const files = allThere(({ id }) => (id === 'made' ? absent : 'there'))
    expect(planFrame(shot, 1001, 1, files).problems[0].sentence).toBe('Clean is not made yet at frame 1001.')
  })

  test('the border counts: what is filled ends without a step where the matte ends', async () => {
    const shot = withPatch({ across: [120], down: [40] }, 'same')
    const whole = await plateOf(shot, 1001)
    const part = { x: 10, y: 5, width: 80, height: 60 }
    expect(
      sameBits(await localEngine(1, loadMadeUp).light(plan(shot).composite, part), lightIn(whole, frame, part)),
    ).toBe(true)
  })
})

test('its grain is told to be not matched, and whose it is', () => {
  const said = (when: string, frame: number) => patch.toLookAt?.({ ...settings, frame: [frame] }, { when })
  expect(said('held', 1004)).toBe('Grain not matched: that of frame 1004, the same on every frame.')
  expect(said('later', -1)).toBe('Grain not matched: that of 1 frame earlier.')
  expect(said('later', 12)).toBe('Grain not matched: that of 12 frames later.')
  expect(said('later', 0)).toBe('Grain not matched: that of the place it is filled from.')
  expect(said('same', 7)).toBe('Grain not matched: that of the place it is filled from.')
})
