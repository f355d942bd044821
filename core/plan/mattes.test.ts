import {
  newLimit,
  newTreatment,
  tableOf,
  matteBase,
  newShutter,
  parseShot,
  type Matte,
  type PaintStroke,
  type Shot,
} from '../shot'
import { parametersFor } from '../shot/parameters'
import { matteDescriptions } from '../set/owners'
import { localEngine } from '../test/local-engine'
import { cgElement, edited, light, only, plan } from '../test/planned'
import { allThere, loadMadeUp, smallShot, treated } from '../test/small-shot'
import { lightIn, mostDifference, mostOff } from '../test/windows'
import { matteOf } from './element'
import { nodeAt } from './node'
import { PlanMemo } from './memo'
import { planFrame } from './plan'

const frame = { x: 0, y: 0, width: 300, height: 150 }
const still = (shot: Shot): Shot => ({ ...shot, shutter: { parameters: { ...newShutter().parameters, angle: [0] } } })

async function coverage(shot: Shot, id: string, time = 1001, scale: 1 | 2 = 1, window = frame): Promise<Float32Array> {
  const planning = { shot, scale, files: allThere(), memo: new PlanMemo() }
  const step = nodeAt(planning, { kind: 'matte', matte: id }, time)
  const pixels = step
    ? await localEngine(1, loadMadeUp).light(step, window)
    : new Float32Array(window.width * window.height * 4)
  return pixels.filter((_, i) => i % 4 === 0)
}
const at = (pixels: Float32Array, x: number, y: number, width = 300) => pixels[y * width + x]
const withMatte = (shot: Shot, matte: Matte): Shot => ({
  ...shot,
  mattes: { byId: { ...shot.mattes.byId, [matte.id]: matte } },
})
const combined = (
  ...parts: readonly {
    readonly matte: string
    readonly how: 'add' | 'subtract' | 'intersect'
    readonly inverted?: true
  }[]
): Matte => ({
  ...matteBase(smallShot, 'combined'),
  id: 'both',
  parts: tableOf(parts.map((part, i) => ({ id: `part-${i}`, rank: `a${i}`, ...part }))),
})
/** Another square, from 40 to 80 and 30 to 70. */
const second = edited(smallShot, {
  kind: 'add-matte',
  matte: { ...smallShot.mattes.byId.post, id: 'second', name: 'Second', rank: 'a9' } as Matte,
})
const shifted = edited(second, {
  kind: 'set-shape-places',
  matte: 'second',
  shape: 'outline',
  frames: {
    1001: Object.fromEntries(
      [
        [40, 30],
        [80, 30],
        [80, 70],
        [40, 70],
      ].map(([x, y], i) => [`p${i}`, { x, y, before: [0, 0], after: [0, 0] }]),
    ) as never,
    1005: null,
  },
})

test('a drawn matte covers its outline on the frame', async () => {
  const found = await coverage(still(smallShot), 'post', 1003)
  for (const [x, y, want] of [
    [24, 12, 1],
    [63, 51, 1],
    [23, 30, 0],
    [64, 30, 0],
    [40, 52, 0],
  ] as const)
    expect(at(found, x, y)).toBe(want)
})

test('motion blurs it as the shutter says: it is covered as long as it is there', async () => {
  // Two pixels across and one down a frame, open for half of one.
  const found = await coverage(smallShot, 'post', 1003)
  const times = Array.from({ length: 400 }, (_, i) => 1003 - 0.25 + ((i + 0.5) / 400) * 0.5)
  for (const x of [22, 23, 24, 25, 62, 63, 64, 65]) {
    const share = times.reduce((sum, time) => {
      const left = 20 + 2 * (time - 1001)
      return sum + Math.max(0, Math.min(x + 1, left + 40) - Math.max(x, left)) / 400
    }, 0)
    expect(at(found, x, 30)).toBeCloseTo(share, 1)
  }
  const matte = { ...smallShot.mattes.byId.post, shutter: 'closed' } as Matte
  expect(at(await coverage(withMatte(smallShot, matte), 'post', 1003), 23, 30)).toBe(0)
})

test('a hard edge that goes by 16 pixels while the shutter is open is within 2/255 of its exact share', async () => {
  const corners = [
    [148, 10],
    [188, 10],
    [188, 50],
    [148, 50],
  ]
  const places = corners.map(([x, y], i) => [`p${i}`, { x, y, before: [0, 0], after: [0, 0] }])
  const fast = edited(smallShot, {
    ...({ kind: 'set-shape-places', matte: 'post', shape: 'outline' } as const),
    frames: { 1005: Object.fromEntries(places) as never },
  })
  const found = await coverage(fast, 'post', 1003)
  // Its left edge goes evenly from 76 to 92.
  const behind = (x: number) => Math.min(1, Math.max(0, (x - 76) / 16))
  let most = 0
  for (let x = 70; x < 100; x++) {
    const share = Array.from({ length: 64 }, (_, i) => behind(x + (i + 0.5) / 64)).reduce(
      (sum, one) => sum + one / 64,
      0,
    )
    most = Math.max(most, Math.abs(at(found, x, 30) - share))
  }
  expect(most).toBeLessThan(2 / 255)
})

test('mattes are added, subtracted and intersected; what does not touch stays as it was', async () => {
  const shot = still(shifted)
  const both = async (how: 'add' | 'subtract' | 'intersect', inverted?: true) =>
    coverage(
      withMatte(
        shot,
        combined({ matte: 'post', how: 'add' }, { matte: 'second', how, ...(inverted ? { inverted } : {}) }),
      ),
      'both',
    )
  const [sum, rest, common, outside] = await Promise.all([
    both('add'),
    both('subtract'),
    both('intersect'),
    both('intersect', true),
  ])
  const looked = [
    [25, 20],
    [50, 40],
    [75, 60],
    [200, 100],
  ] as const
  expect(looked.map(([x, y]) => at(sum, x, y))).toEqual([1, 1, 1, 0])
  expect(looked.map(([x, y]) => at(rest, x, y))).toEqual([1, 0, 0, 0])
  expect(looked.map(([x, y]) => at(common, x, y))).toEqual([0, 1, 0, 0])
  expect(mostDifference(outside, rest)).toBe(0)
})

test('inverted it is 1 beyond the outline, also outside the frame; at an opacity it is that', async () => {
  const inverted = withMatte(still(smallShot), { ...smallShot.mattes.byId.post, inverted: true } as Matte)
  const window = { x: -20, y: -12, width: 100, height: 80 }
  const found = await coverage(inverted, 'post', 1001, 1, window)
  expect(at(found, 0, 0, 100)).toBe(1)
  expect(at(found, 45, 30, 100)).toBe(0)
  const half = edited(inverted, {
    kind: 'set-parameter',
    at: { owner: { kind: 'matte', id: 'post' }, parameter: 'opacity', channel: 0 },
    frame: 1001,
    value: 0.25,
  })
  expect(at(await coverage(half, 'post', 1001, 1, window), 0, 0, 100)).toBe(0.25)
})

test('a keyed matte rises between its levels and falls again, in another working space by that one’s brightness', async () => {
  const levels = { low: [0.02], full: [0.13], fullTo: [0.15], high: [0.22] }
  const keyed = (space: Shot['workingSpace'], by: string): Shot => {
    const matte = { ...matteBase(smallShot, 'keyed'), id: 'key', element: 'plate', choices: { by } }
    return withMatte(
      { ...smallShot, workingSpace: space },
      { ...matte, parameters: parametersFor(matteDescriptions.keyed, levels) },
    )
  }
  let falling = 0
  for (const space of ['linear-rec709', 'linear-rec2020'] as const)
    for (const [by, weights] of [
      ['luma', space === 'linear-rec709' ? [0.2126, 0.7152, 0.0722] : [0.2627, 0.678, 0.0593]],
      ['blue', [0, 0, 1]],
    ] as const) {
      const shot = keyed(space, by)
      const found = await coverage(shot, 'key')
      const plate = await localEngine(1, loadMadeUp).light(plan(shot).plate as never, frame)
      for (let i = 0; i < found.length; i += 97) {
        const level = weights.reduce((sum, w, c) => sum + w * plate[i * 4 + c], 0)
        const held = (value: number) => Math.min(1, Math.max(0, value))
        if (level > 0.155 && level < 0.215) falling++
        expect(found[i]).toBeCloseTo(held((level - 0.02) / 0.11) * held((0.22 - level) / 0.07), 3)
      }
    }
  expect(falling).toBeGreaterThan(20)
})

test('a channel is what the file holds there and 0 beyond it; an alpha is what the element covers', async () => {
  const channel = { ...matteBase(smallShot, 'channel'), id: 'front', source: 'matte', part: null, channel: null }
  const found = await coverage(withMatte(smallShot, channel), 'front')
  for (let y = 45; y < 125; y += 5)
    for (let x = 2; x < 100; x += 3) {
      const inside = x >= 20 && x < 80 && y >= 60 && y < 110
      expect(at(found, x, y)).toBeCloseTo(!inside ? 0 : x < 40 ? 1 : x < 60 ? (60 - x) / 20 : 0, 3)
    }
  const alpha = await coverage(
    withMatte(smallShot, { ...matteBase(smallShot, 'alpha'), id: 'cover', element: 'cg' }),
    'cover',
  )
  const cg = await localEngine(1, loadMadeUp).light(plan(smallShot).elements.get('cg') as never, frame)
  expect(mostOff(alpha, (i) => cg[i * 4 + 3])).toBe(0)
  expect(alpha.filter((value) => value > 0).length).toBeGreaterThan(1000)
})

test('a channel of a source that is gone is a problem that names the matte', () => {
  const gone = {
    ...matteBase(smallShot, 'channel'),
    id: 'front',
    name: 'Front',
    source: 'nothing',
    part: null,
    channel: null,
  }
  const limit = newLimit({ kind: 'matte', matte: 'front' })
  const gain = newTreatment('veil-and-gain', 'gain', { gain: [3, 3, 3] })
  const { problems } = plan(treated(withMatte(smallShot, gone), cgElement, gain, { limit }))
  expect(problems.map(({ sentence }) => sentence)).toContain('Matte Front has no source at frame 1001.')
})

test('a matte of a matte or an element that is gone is a problem that names it', () => {
  const base = { ...matteBase(smallShot, 'combined'), id: 'both', name: 'Both' }
  const without = withMatte(smallShot, {
    ...base,
    parts: tableOf([{ id: 'p', rank: 'a0', matte: 'nothing', how: 'add' }]),
  })
  const alpha = withMatte(smallShot, { ...matteBase(smallShot, 'alpha'), id: 'both', name: 'Both', element: 'nothing' })
  const keyed = withMatte(smallShot, {
    ...smallShot.mattes.byId.bright,
    id: 'both',
    name: 'Both',
    element: 'nothing',
  } as Matte)
  const said = (shot: Shot) =>
    matteOf({ shot, scale: 1, files: allThere(), memo: new PlanMemo() }, 'both', 1001).problems
  expect(said(without).map(({ sentence }) => sentence)).toEqual(['Matte Both is made of a matte that is gone.'])
  for (const shot of [alpha, keyed])
    expect(said(shot).map(({ sentence }) => sentence)).toEqual(['Matte Both is taken from an element that is gone.'])
})

test('levels out of order are a problem that names the matte, and the rest of the picture is there', () => {
  const wrong = parametersFor(matteDescriptions.keyed, { low: [0.5], full: [0.3] })
  const bad = withMatte(smallShot, { ...smallShot.mattes.byId.bright, parameters: wrong } as Matte)
  const limit = newLimit({ kind: 'matte', matte: 'bright' })
  const { composite, problems } = plan(
    treated(bad, cgElement, newTreatment('veil-and-gain', 'gain', { gain: [3, 3, 3] }), { limit }),
  )
  expect(composite).not.toBeNull()
  expect(problems.map(({ at: place }) => place)).toContainEqual({ kind: 'matte', id: 'bright' })
  expect(problems.some(({ sentence }) => sentence.includes('not in order'))).toBe(true)
})

test('the plate’s own brightness limits a treatment of the plate: that is no circle', () => {
  const limit = newLimit({ kind: 'matte', matte: 'bright' })
  const { problems } = plan(
    treated(smallShot, { kind: 'element', id: 'plate' }, newTreatment('exposure', 'up', { stops: [1, 1, 1] }), {
      limit,
    }),
  )
  expect(problems).toEqual([])
})

test('a holdout leaves the plate’s bits inside, the composite’s outside, and inverted the other way round', async () => {
  const shot = still(only('plate', 'cg'))
  const cut = (inverted: boolean) =>
    light(
      treated(shot, cgElement, newTreatment('holdout', 'cut'), {
        limit: { ...newLimit({ kind: 'matte', matte: 'post' }), inverted },
      }),
    )
  const [plate, all, out, kept] = await Promise.all([light(still(only('plate'))), light(shot), cut(false), cut(true)])
  const isInside = (i: number) => {
    const [x, y] = [(i >> 2) % 300, Math.floor(i / 1200)]
    return x >= 20 && x < 60 && y >= 10 && y < 50
  }
  expect(mostOff(out, (i) => (isInside(i) ? plate : all)[i])).toBe(0)
  expect(mostOff(kept, (i) => (isInside(i) ? all : plate)[i])).toBe(0)
  expect(all.filter((value, i) => i % 4 === 0 && isInside(i) && value !== plate[i]).length).toBeGreaterThan(50)
})

const stroke = (id: string, rank: string, points: readonly number[], more: Partial<PaintStroke> = {}): PaintStroke => ({
  ...{ id, rank, points, radius: 10, hardness: 1, how: 'add' },
  ...more,
})
const painted = (...strokes: readonly PaintStroke[]): Shot =>
  withMatte(smallShot, { ...matteBase(smallShot, 'painted'), id: 'painted', strokes: tableOf(strokes) })

test('a painted stroke covers what lies within its radius, a soft one less and less; a dot is a disc', async () => {
  const found = await coverage(painted(stroke('a', 'a0', [50, 50, 120, 80, 150, 40])), 'painted')
  const away = (x: number, y: number) => {
    const part = ([ax, ay]: readonly number[], [bx, by]: readonly number[]) => {
      const t = Math.min(
        1,
        Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2)),
      )
      return Math.hypot(x - ax - t * (bx - ax), y - ay - t * (by - ay))
    }
    return Math.min(part([50, 50], [120, 80]), part([120, 80], [150, 40]))
  }
  for (let y = 20; y < 110; y++)
    for (let x = 20; x < 180; x++) {
      const d = away(x + 0.5, y + 0.5)
      if (d < 9.2) expect(at(found, x, y)).toBe(1)
      if (d > 10.8) expect(at(found, x, y)).toBe(0)
    }
  const soft = await coverage(painted(stroke('a', 'a0', [100, 60], { radius: 30, hardness: 0 })), 'painted')
  for (const d of [0, 10, 15, 20, 29]) {
    const t = (30 - Math.hypot(d + 0.5, 0.5)) / 30
    expect(at(soft, 100 + d, 60)).toBeCloseTo(t * t * (3 - 2 * t), 1)
  }
  const disc = await coverage(painted(stroke('a', 'a0', [100, 60], { radius: 30 })), 'painted')
  expect(disc.reduce((a, b) => a + b, 0) / (Math.PI * 900)).toBeCloseTo(1, 2)
})

test('strokes that cross cover together and not twice; an eraser takes away; one of another frame is not there', async () => {
  const cross = [
    stroke('a', 'a0', [40, 60, 140, 60], { hardness: 0 }),
    stroke('b', 'a1', [90, 20, 90, 110], { hardness: 0 }),
  ]
  const one = await coverage(painted(cross[0]), 'painted')
  const both = await coverage(painted(...cross), 'painted')
  expect(at(both, 60, 66)).toBe(at(one, 60, 66))
  expect(at(both, 90, 30)).toBeGreaterThan(0.9)
  const erased = await coverage(
    painted(...cross, stroke('c', 'a2', [90, 60], { radius: 20, how: 'subtract' })),
    'painted',
  )
  expect(at(erased, 90, 60)).toBe(0)
  expect(at(erased, 50, 60)).toBe(at(both, 50, 60))
  const held = painted(cross[0], stroke('d', 'a1', [90, 100], { frame: 1004 }))
  expect(at(await coverage(held, 'painted', 1001), 90, 100)).toBe(0)
  expect(at(await coverage(held, 'painted', 1004), 90, 100)).toBe(1)
})

test('a painted matte goes with its tracks, and lies on the pin’s frame where it was painted', async () => {
  const shot = edited(painted(stroke('a', 'a0', [100, 60])), {
    kind: 'pin-matte',
    matte: 'painted',
    pin: { tracks: ['corner'], frame: 1001, by: 'position' },
  })
  const middle = (pixels: Float32Array) =>
    pixels.reduce((sum, value, i) => sum + value * (i % 300), 0) / pixels.reduce((a, b) => a + b, 0)
  const [first, third] = [await coverage(shot, 'painted', 1001), await coverage(shot, 'painted', 1003)]
  expect(middle(first)).toBeCloseTo(99.5, 3)
  // The track has gone from 60.5 to 66.5.
  expect(middle(third) - middle(first)).toBeCloseTo(6, 2)
})

test('at half scale a matte is what the mean of four of its pixels is', async () => {
  const soft = edited(still(smallShot), {
    kind: 'set-parameter',
    at: { owner: { kind: 'shape', matte: 'post', id: 'outline' }, parameter: 'outside', channel: 0 },
    frame: 1001,
    value: 8,
  })
  const full = await coverage(soft, 'post')
  const half = await coverage(soft, 'post', 1001, 2, { x: 0, y: 0, width: 150, height: 75 })
  for (let y = 0; y < 60; y++)
    for (let x = 0; x < 60; x++) {
      const mean = [0, 1, 300, 301].reduce((sum, more) => sum + full[y * 600 + x * 2 + more] / 4, 0)
      expect(Math.abs(at(half, x, y, 150) - mean)).toBeLessThan(0.01)
    }
})

test('a part of a matte is that part of the whole, and any number of threads give the same bits', async () => {
  const step = nodeAt(
    { shot: smallShot, scale: 1, files: allThere(), memo: new PlanMemo() },
    { kind: 'matte', matte: 'post' },
    1003,
  )
  const whole = await localEngine(1, loadMadeUp).light(step as never, frame)
  const part = { x: 17, y: 31, width: 51, height: 29 }
  const found = await localEngine(3, loadMadeUp).light(step as never, part)
  expect(mostDifference(found, lightIn(whole, frame, part))).toBe(0)
})

test('the same document gives the same key, another place another', () => {
  const key = (shot: Shot, time = 1003) =>
    nodeAt({ shot, scale: 1, files: allThere(), memo: new PlanMemo() }, { kind: 'matte', matte: 'post' }, time)?.key
  expect(key(smallShot)).toBe(key(JSON.parse(JSON.stringify(smallShot)) as Shot))
  expect(key(smallShot)).not.toBe(key(smallShot, 1002))
  const moved = edited(smallShot, {
    kind: 'set-shape-places',
    matte: 'post',
    shape: 'outline',
    frames: { 1005: { p0: { x: 0, y: 0, before: [0, 0], after: [0, 0] } } },
  })
  expect(key(moved)).not.toBe(key(smallShot))
})

describe('depth slices and bands', () => {
  /** Depth as the plate's red: 0.05 to 0.15. */
  const slice = (levels: Readonly<Record<string, readonly number[]>>, more: Partial<Matte> = {}): Matte =>
    ({
      ...matteBase(smallShot, 'depth'),
      ...{ id: 'slice', source: 'plate', part: null, channel: 'R' },
      parameters: { ...parametersFor(matteDescriptions.depth), ...levels },
      ...more,
    }) as Matte
  const levels = { low: [0.06], full: [0.07], fullTo: [0.1], high: [0.12] }

  test('a slice is 1 between two depths, falls evenly at both ends, and is 0 elsewhere', async () => {
    const covered = await coverage(withMatte(smallShot, slice(levels)), 'slice')
    const depths = await light(only('plate'))
    for (let i = 0; i < covered.length; i += 37) {
      const z = depths[4 * i]
      const want = Math.min(1, Math.max(0, (z - 0.06) / 0.01)) * Math.min(1, Math.max(0, (0.12 - z) / 0.02))
      expect(covered[i]).toBeCloseTo(want, 4)
    }
  })

  test('depths become coverage before they are scaled: no depth lies between two', async () => {
    // The matte of the small shot: 1 and 0 side by side. Nothing of it is half a metre away.
    const hard = slice({ low: [0.4], full: [0.45], fullTo: [0.55], high: [0.6] }, {
      source: 'hard',
      channel: 'Y',
    } as never)
    const shot = withMatte(
      {
        ...smallShot,
        sources: {
          byId: {
            ...smallShot.sources.byId,
            hard: { ...smallShot.sources.byId.matte, id: 'hard', enlarge: 2, path: 'hard.exr' },
          },
        },
      },
      hard,
    )
    const loads: typeof loadMadeUp = async (request) => ({
      decoded: false,
      dataWindow: { x: 0, y: 0, width: 150, height: 75 },
      displayWindow: { x: 0, y: 0, width: 150, height: 75 },
      planes: [
        {
          name: request.channels?.[0] ?? 'Y',
          type: 'float',
          samples: Float32Array.from({ length: 150 * 75 }, (_, i) => (i % 150 < 70 ? 1 : 0)),
        },
      ],
    })
    const planning = { shot, scale: 1 as const, files: allThere(), memo: new PlanMemo() }
    const step = nodeAt(planning, { kind: 'matte', matte: 'slice' }, 1001)
    const pixels = await localEngine(1, loads).light(step!, frame)
    expect(pixels.every((v) => v === 0)).toBe(true)
  })

  test('levels out of order are said, and a source that is gone', () => {
    const wrong = withMatte(smallShot, slice({ ...levels, full: [0.2] }))
    const planning = { shot: wrong, scale: 1 as const, files: allThere(), memo: new PlanMemo() }
    expect(matteOf(planning, 'slice', 1001).problems[0].sentence).toMatch(/not in order at frame 1001/)
    const gone = {
      ...planning,
      shot: withMatte(smallShot, slice(levels, { source: 'none' } as never)),
      memo: new PlanMemo(),
    }
    expect(matteOf(gone, 'slice', 1001).problems[0].sentence).toMatch(/has no source at frame 1001/)
  })

  const bandOf = (inside: number, outside: number): Matte => ({
    ...matteBase(smallShot, 'band'),
    ...{ id: 'edge', kind: 'band', matte: 'post' },
    parameters: { ...parametersFor(matteDescriptions.band), inside: [inside], outside: [outside] },
  })

  test('a band reaches as far inwards and outwards as it is told', async () => {
    // The post lies from 24 to 64 and from 12 to 52 on 1003.
    const covered = await coverage(withMatte(still(smallShot), bandOf(5, 3)), 'edge', 1003)
    for (const [x, want] of [
      [20, 0],
      [21, 1],
      [28, 1],
      [29, 0],
      [40, 0],
      [58, 0],
      [59, 1],
      [66, 1],
      [67, 0],
    ])
      expect(at(covered, x, 30)).toBe(want)
    const half = await coverage(withMatte(still(smallShot), bandOf(8, 4)), 'edge', 1003, 2, {
      ...frame,
      width: 150,
      height: 75,
    })
    expect([at(half, 9, 16, 150), at(half, 10, 16, 150), at(half, 15, 16, 150), at(half, 16, 16, 150)]).toEqual([
      0, 1, 1, 0,
    ])
  })

  test('the edge of a matte that is gone is said; one of its own edge is in itself', () => {
    const { post: _post, ...rest } = smallShot.mattes.byId
    const shot = withMatte({ ...smallShot, mattes: { byId: rest } }, bandOf(1, 1))
    const planning = { shot, scale: 1 as const, files: allThere(), memo: new PlanMemo() }
    expect(matteOf(planning, 'edge', 1001).problems[0].sentence).toMatch(/edge of a matte that is gone/)
    const self = withMatte(smallShot, { ...bandOf(1, 1), matte: 'edge' } as Matte)
    expect(matteOf({ ...planning, shot: self, memo: new PlanMemo() }, 'edge', 1001).problems[0].sentence).toMatch(
      /made of itself/,
    )
  })

  test('any matte grows and shrinks as a whole', async () => {
    const grown = (px: number): Shot =>
      withMatte(still(smallShot), {
        ...smallShot.mattes.byId.post,
        parameters: { ...smallShot.mattes.byId.post.parameters, grow: [px] },
      })
    const [more, less] = [await coverage(grown(2.5), 'post', 1003), await coverage(grown(-2.5), 'post', 1003)]
    expect([20, 21, 22].map((x) => at(more, x, 30))).toEqual([0, 0.5, 1])
    expect([25, 26, 27].map((x) => at(less, x, 30))).toEqual([0, 0.5, 1])
  })
})

describe('objects by ids', () => {
  const floatOf = (id: number) => new Float32Array(Uint32Array.of(id).buffer)[0]
  const load = async (request: Parameters<typeof loadMadeUp>[0]) => {
    if (request.source !== 'cg') return loadMadeUp(request)
    const { frameAtScale } = await import('../engine/source-frame')
    const window = { x: 40, y: 30, width: 40, height: 20 }
    const first = request.part === 'thing00'
    const planes = (request.channels ?? []).map((name) => ({
      name,
      type: 'float' as const,
      samples: Float32Array.from({ length: 800 }, (_, i) => {
        const left = i % 40 < 20
        if (name === 'R') return floatOf(first ? (left ? 11 : 22) : 22)
        if (name === 'G') return first ? 0.75 : 0.25
        return 0
      }),
    }))
    return frameAtScale({ dataWindow: window, displayWindow: frame, planes }, request)
  }
  const matte = (objects: Readonly<Record<string, number>>, more: object = {}): Matte =>
    ({
      ...matteBase(smallShot, 'objects'),
      ...{ id: 'ids', source: 'cg', ranked: true, objects },
      layers: ['thing00', 'thing01'].map((part) => ({ part, channels: ['R', 'G', 'B', 'A'] })),
      ...more,
    }) as Matte
  const seen = async (one: Matte) => {
    const shot = withMatte(smallShot, one)
    const planning = { shot, scale: 1 as const, files: allThere(), memo: new PlanMemo() }
    const step = nodeAt(planning, { kind: 'matte', matte: 'ids' }, 1001)
    if (!step) return null
    const pixels = await localEngine(1, load).light(step, frame)
    return (x: number, y: number, c = 0) => pixels[(y * 300 + x) * 4 + c]
  }

  test('what an object covers in all ranks is added up, as a grey; beyond the pass there is nothing', async () => {
    const found = await seen(matte({ post: 22 }))
    expect([0, 1, 2, 3].map((c) => found?.(45, 40, c))).toEqual([0.25, 0.25, 0.25, 0.25])
    expect([found?.(70, 40), found?.(30, 40), found?.(85, 40)]).toEqual([1, 0, 0])
    const both = await seen(matte({ post: 22, rope: 11 }))
    expect([both?.(45, 40), both?.(70, 40)]).toEqual([1, 1])
  })

  test('no object is nothing; a source that is gone is said; inverted it is the rest', async () => {
    expect(await seen(matte({}))).toBeNull()
    const gone = withMatte(smallShot, matte({ post: 22 }, { source: 'none' }))
    const planning = { shot: gone, scale: 1 as const, files: allThere(), memo: new PlanMemo() }
    expect(matteOf(planning, 'ids', 1001).problems[0].sentence).toMatch(/has no source at frame 1001/)
    const rest = await seen(matte({ post: 22 }, { inverted: true }))
    expect([rest?.(45, 40), rest?.(70, 40), rest?.(10, 10)]).toEqual([0.75, 0, 1])
  })

  test('which objects is changed by an edit, and what is no whole number is refused', () => {
    const shot = withMatte(smallShot, matte({ post: 22 }))
    const set = (changes: object) => edited(shot, { kind: 'set-matte', matte: 'ids', changes } as never).mattes.byId.ids
    expect(set({ objects: { rope: 11 } })).toMatchObject({ objects: { rope: 11 } })
    expect(set({ ids: { ranked: false, layers: [{ part: null, channels: ['id'] }] } })).toMatchObject({ ranked: false })
    const parsed = (objects: object) => () =>
      parseShot(JSON.parse(JSON.stringify(withMatte(smallShot, matte(objects as never)))), 'ids.shot.json')
    expect(parsed({ post: 22 })).not.toThrow()
    expect(parsed({ post: 2.5 })).toThrow(/whole numbers by names/)
  })
})

test('a brush that softens blurs what was painted before it, where it goes and nowhere else', async () => {
  const stroke = (id: string, rank: string, points: readonly number[], how: PaintStroke['how'], radius = 12) => ({
    ...{ id, rank, points, radius, hardness: 1, how },
  })
  const paintedBy = (...strokes: readonly PaintStroke[]): Matte => ({
    ...matteBase(smallShot, 'painted'),
    ...{ id: 'paint', kind: 'painted', strokes: tableOf(strokes) },
  })
  const bar = stroke('bar', 'a0', [60, 60, 160, 60], 'add')
  const soft = stroke('soft', 'a1', [80, 72, 80, 72], 'soften')
  const [plain, both] = [
    await coverage(withMatte(smallShot, paintedBy(bar)), 'paint'),
    await coverage(withMatte(smallShot, paintedBy(bar, soft)), 'paint'),
  ]
  // The bar ends at 72: hard before, soft where the brush was, hard elsewhere.
  expect([at(plain, 80, 70), at(plain, 80, 74)]).toEqual([1, 0])
  expect(at(both, 80, 70)).toBeLessThan(0.8)
  expect(at(both, 80, 74)).toBeGreaterThan(0.2)
  for (const [x, y] of [
    [120, 70],
    [120, 74],
    [80, 50],
  ])
    expect(at(both, x, y)).toBe(at(plain, x, y))
  // On nothing it makes nothing.
  expect((await coverage(withMatte(smallShot, paintedBy(soft)), 'paint')).every((v) => v === 0)).toBe(true)
})

test('a key by the distance from a colour is full near it and ends where it is told, on a transparent element too', async () => {
  const key = (element: string, wanted: readonly number[]): Matte => ({
    ...matteBase(smallShot, 'keyed'),
    ...{ id: 'near', kind: 'keyed', element, choices: { by: 'colour' } },
    parameters: {
      ...parametersFor(matteDescriptions.keyed),
      ...{ colour: wanted, low: [-2], full: [-1], fullTo: [0.02], high: [0.06] },
    },
  })
  for (const element of ['plate', 'cg']) {
    const wanted = element === 'plate' ? [0.1, 0.11, 0.14] : [0.045, 0.054, 0.081]
    const found = await coverage(withMatte(smallShot, key(element, wanted)), 'near')
    const own = await light(only('plate', ...(element === 'cg' ? ['cg'] : [])))
    const planning = { shot: smallShot, scale: 1 as const, files: allThere(), memo: new PlanMemo() }
    const step = nodeAt(planning, { kind: 'element', id: element, upTo: { input: true } }, 1001)
    const pixels = step ? await localEngine(1, loadMadeUp).light(step, frame) : own
    let [near, far] = [0, 0]
    for (let i = 0; i < found.length; i += 13) {
      const a = pixels[4 * i + 3]
      if (!(a > 0)) continue
      const distance = Math.hypot(...[0, 1, 2].map((c) => pixels[4 * i + c] / a - wanted[c]))
      const want = a * Math.min(1, Math.max(0, (0.06 - distance) / 0.04))
      expect(found[i]).toBeCloseTo(want, 3)
      if (want > 0.9 * a) near++
      if (want === 0) far++
    }
    expect(Math.min(near, far)).toBeGreaterThan(element === 'plate' ? 50 : 0)
  }
})

describe('what limits and holdouts say and do', () => {
  const heldBy = (shot: Shot, element: string, matte: string, inverted = false): Shot =>
    treated(shot, { kind: 'element', id: element }, newTreatment('holdout', 'out'), {
      limit: { ...newLimit({ kind: 'matte', matte }), ...(inverted ? { inverted: true as const } : {}) },
    })

  test('what is wrong with the matte of a holdout is said once', () => {
    const { post: _post, ...rest } = smallShot.mattes.byId
    const combinedOfGone = combined({ matte: 'post', how: 'add' })
    const shot = heldBy({ ...smallShot, mattes: { byId: { ...rest, both: combinedOfGone } } }, 'cg', 'both')
    const { problems } = planFrame(shot, 1001, 1, allThere())
    expect(problems.map(({ sentence }) => sentence)).toEqual(['Matte Matte 1 is made of a matte that is gone.'])
  })

  test('a shadow on lit ground only: held out where the plate is dark already, and softly between', async () => {
    const lit: Matte = {
      ...matteBase(smallShot, 'keyed'),
      ...{ id: 'lit', kind: 'keyed', element: 'plate', choices: { by: 'red' } },
      parameters: { ...parametersFor(matteDescriptions.keyed), low: [0.08], full: [0.1] },
    }
    const shadowed = withMatte(only('plate', 'shadow'), lit)
    const shot = heldBy(shadowed, 'shadow', 'lit', true)
    const [plate, all, onLit] = [await light(only('plate')), await light(shadowed), await light(shot)]
    let [dark, bright] = [0, 0]
    for (let y = 60; y < 110; y++)
      for (let x = 20; x < 40; x++) {
        const i = (y * 300 + x) * 4
        if (plate[i] <= 0.08) {
          expect(onLit[i]).toBe(plate[i])
          dark++
        } else if (plate[i] >= 0.1) {
          expect(onLit[i]).toBeCloseTo(all[i], 6)
          bright++
        }
      }
    expect(Math.min(dark, bright)).toBeGreaterThan(100)
  })
})

test('a grade of the elements, of the glass or of the whole, and grain, change no matte by a bit', async () => {
  const parts: readonly Matte[] = [
    { ...matteBase(smallShot, 'alpha'), id: 'cover', element: 'cg' } as Matte,
    { ...matteBase(smallShot, 'channel'), id: 'front', source: 'matte', part: null, channel: null } as Matte,
    {
      ...{ ...matteBase(smallShot, 'keyed'), id: 'key', kind: 'keyed', element: 'plate', choices: { by: 'luma' } },
      parameters: { ...parametersFor(matteDescriptions.keyed), low: [0.02], full: [0.13] },
    } as Matte,
    combined({ matte: 'post', how: 'add' }, { matte: 'key', how: 'intersect', inverted: true }),
  ]
  const plain = parts.reduce(withMatte, smallShot)
  const grades = [
    [{ kind: 'element', id: 'cg' }, newTreatment('exposure', 'up', { stops: [1, 0.5, -1] })],
    [{ kind: 'element', id: 'cg' }, newTreatment('saturation', 'down', { amount: [0.3] })],
    [
      { kind: 'element', id: 'plate' },
      newTreatment('veil-and-gain', 'lift', { veil: [0.02, 0.03, 0.01], gain: [2, 1, 1] }),
    ],
    [{ kind: 'glass' }, newTreatment('glow', 'glow', { threshold: [0.05] })],
    [{ kind: 'sensor' }, newTreatment('grain', 'grain', { shot: [4, 4, 4], read: [10, 10, 10] })],
    [{ kind: 'finish' }, newTreatment('contrast', 'hard', { contrast: [1.4, 1.4, 1.4] })],
  ] as const
  const graded = grades.reduce((shot, [owner, settings]) => treated(shot, owner, settings), plain)
  // They do something to the picture.
  expect(mostDifference(await light(graded), await light(plain))).toBeGreaterThan(0.05)
  for (const id of ['post', 'cover', 'front', 'key', 'both']) {
    const [before, after] = [await coverage(plain, id), await coverage(graded, id)]
    expect(before.some((one) => one > 0.5)).toBe(true)
    expect(mostDifference(after, before)).toBe(0)
  }
})
