import { gradientAt } from '../engine/kinds/made'
import { made, type MadePicture } from '../graph/steps'
import { localEngine } from '../test/local-engine'
import { edited, only } from '../test/planned'
import { loadMadeUp, pictureOf, smallShot } from '../test/small-shot'
import { lightIn, mostDifference } from '../test/windows'
import { addMade, addShadowOf, childrenOf, type Change, type Shot } from '../shot'
import type { Window } from '../image/window'

const window: Window = { x: -20, y: -10, width: 140, height: 90 }
const engine = () => localEngine(1, loadMadeUp)
const gradient = (given: Partial<Extract<MadePicture, { made: 'gradient' }>> = {}): MadePicture => ({
  made: 'gradient',
  shape: 'linear',
  start: [10, 20],
  end: [90, 20],
  stops: [
    { at: 0, pixel: [0, 0, 0, 0] },
    { at: 0.25, pixel: [0.5, 0.2, 0, 0.5] },
    { at: 1, pixel: [1, 2, 0.5, 1] },
  ],
  ...given,
})
const noise = (given: Partial<Extract<MadePicture, { made: 'noise' }>> = {}): MadePicture => ({
  ...{ made: 'noise', pixel: [0.4, 0.3, 0.2, 1], size: [24, 24], octaves: 3, middle: 0.5, contrast: 1 },
  ...{ drift: [0, 0], change: 0, seed: 'one' },
  ...given,
})
const light = (picture: MadePicture, at = window, all = window) => engine().light(made(picture, all), at)

test('a gradient has each stop at its place, straight lines between, and its ends beyond', async () => {
  const stops = gradient().made === 'gradient' ? (gradient() as Extract<MadePicture, { made: 'gradient' }>).stops : []
  const pixels = await light(gradient())
  for (const x of [-20, 0, 10, 29, 60, 89, 110]) {
    const share = (x + 0.5 - 10) / 80
    const want = gradientAt(stops, Math.min(1, Math.max(0, share)))
    const found = pixels.subarray((30 * 140 + x + 20) * 4, (30 * 140 + x + 20) * 4 + 4)
    want.forEach((value, c) => expect(found[c]).toBeCloseTo(value, 4))
  }
})

test('a radial one is the same all round its middle', async () => {
  const pixels = await light(gradient({ shape: 'radial', start: [50, 40], end: [80, 40] }))
  const at = (x: number, y: number) => pixels[((y + 10) * 140 + x + 20) * 4 + 1]
  expect(at(49 + 20, 39)).toBeCloseTo(at(50 - 20, 40), 5)
  expect(at(49, 39 + 20)).toBeCloseTo(at(49 + 20, 39), 5)
  expect(at(100, 40)).toBe(2)
})

test.each([
  ['gradient', gradient()],
  ['noise', noise()],
] as const)('a part of a %s is that part of the whole, and outside its window it is empty', async (_name, picture) => {
  const part: Window = { x: 13, y: 7, width: 31, height: 22 }
  const cut = await light(picture, part)
  expect(mostDifference(cut, lightIn(await light(picture), window, part))).toBe(0)
  const outside = await light(picture, { x: 200, y: 0, width: 8, height: 8 })
  expect(outside.every((v) => v === 0)).toBe(true)
})

test('noise lies between nothing and its pixel, has no mean of its own, and is another for another seed', async () => {
  const big: Window = { x: 0, y: 0, width: 500, height: 400 }
  const [one, again, other] = await Promise.all([
    light(noise(), big, big),
    light(noise(), big, big),
    light(noise({ seed: 'two' }), big, big),
  ])
  const alpha = one.filter((_, i) => i % 4 === 3)
  expect(alpha.every((a) => a >= 0 && a <= 1)).toBe(true)
  expect(alpha.reduce((a, b) => a + b, 0) / alpha.length).toBeCloseTo(0.5, 1)
  expect(Math.max(...alpha.slice(0, 50_000)) - Math.min(...alpha.slice(0, 50_000))).toBeGreaterThan(0.4)
  expect(mostDifference(one, again)).toBe(0)
  expect(mostDifference(one, other)).toBeGreaterThan(0.1)
  // Premultiplied: light goes with coverage.
  for (let i = 0; i < 4000; i += 40) expect(one[i]).toBeCloseTo(one[i + 3] * 0.4, 5)
})

test('drifting moves it to the bit; changing goes on smoothly', async () => {
  const [still, moved] = [
    await light(noise()),
    await light(noise({ drift: [7, 3] }), { ...window, x: -13, y: -7 }, { ...window, x: -13, y: -7 }),
  ]
  expect(mostDifference(moved, still)).toBe(0)
  const near = await light(noise({ change: 0.01 }))
  const far = await light(noise({ change: 0.9 }))
  expect(mostDifference(near, still)).toBeLessThan(0.1)
  expect(mostDifference(far, still)).toBeGreaterThan(0.1)
})

describe('in a shot', () => {
  const withMade = (kind: 'gradient' | 'noise'): { shot: Shot; id: string } => {
    const edit = addMade(only('plate', 'cg'), kind, 'plate')
    return { shot: edited(only('plate', 'cg'), edit), id: edit.element.id }
  }

  test('it comes in front of the selected element', () => {
    const { shot, id } = withMade('noise')
    const order = Object.values(shot.elements.byId).sort((a, b) => (a.rank < b.rank ? -1 : 1))
    expect(order.map((one) => one.id)).toEqual(['plate', id, 'cg'])
  })

  test('a stop more or less: fewer than two are refused in a sentence', () => {
    const { shot, id } = withMade('gradient')
    const of = { kind: 'input', element: id, id: 'gradient' } as const
    const remove = (point: string): Change => ({ kind: 'remove-point', of, point })
    expect(() => edited(shot, remove('start'))).toThrow('it must have from 2 to 8')
  })

  test.each(['gradient', 'noise'] as const)('at half scale a %s is the full one reduced', async (kind) => {
    const { shot, id } = withMade(kind)
    const { width, height } = smallShot.frameSize
    const at = async (scale: 1 | 2) => {
      const step = pictureOf(shot, 1001, scale).elements.get(id)
      if (!step) throw new Error('no element')
      return engine().light(step, { x: 0, y: 0, width: width / scale, height: height / scale })
    }
    const [full, half] = [await at(1), await at(2)]
    let worst = 0
    for (let y = 0; y < height / 2; y++)
      for (let x = 0; x < width / 2; x++) {
        const i = (y * 2 * width + x * 2) * 4 + 3
        const mean = (full[i] + full[i + 4] + full[i + width * 4] + full[i + width * 4 + 4]) / 4
        worst = Math.max(worst, Math.abs(half[(y * (width / 2) + x) * 4 + 3] - mean))
      }
    expect(worst).toBeLessThan(0.02)
  })
})

describe('a shadow made of an element', () => {
  const frame: Window = { x: 0, y: 0, width: 300, height: 150 }
  const base = only('plate', 'cg')
  const withShadow = (...more: readonly Change[]): Shot => {
    const add = addShadowOf(base, 'cg')
    if (!add) throw new Error('There is nothing to make a shadow of.')
    return edited(base, { ...add, element: { ...add.element, id: 'made-shadow' }, uses: [], treatments: [] }, ...more)
  }
  const picture = (shot: Shot) => localEngine(1, loadMadeUp).light(pictureOf(shot, 1001).composite, frame)
  const moved: Change = {
    ...{ kind: 'set-parameter', frame: 1001, value: 90 },
    at: { owner: { kind: 'placing', element: 'made-shadow' }, parameter: 'x', channel: 0 },
  }

  test('lies right behind it, and is soft at first', () => {
    const add = addShadowOf(base, 'cg')
    const shot = edited(base, add as Change)
    expect(childrenOf(shot, null).map(({ name }) => name)).toEqual(['Plate', 'Shadow of CG', 'CG'])
    expect(add?.treatments[0].parameters).toMatchObject({ across: [6], down: [6] })
    expect(addShadowOf(base, 'plate')).toBeNull()
    expect(addShadowOf(base, 'none')).toBeNull()
  })

  test('darkens what is behind by the element’s coverage, where it is moved to, and leaves all else as it is', async () => {
    const [before, after] = [await picture(base), await picture(withShadow(moved))]
    const at = (pixels: Float32Array, x: number, y: number, c = 0) => pixels[(y * 300 + x) * 4 + c]
    // The disc's middle lies at 46, 75 on 1001; its shadow 90 pixels to the right of it.
    expect(at(after, 136, 75)).toBeLessThan(0.8 * at(before, 136, 75))
    expect(at(after, 46, 75)).toBe(at(before, 46, 75))
    expect(at(after, 220, 75)).toBe(at(before, 220, 75))
  })
})
