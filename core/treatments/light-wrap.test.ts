import { constant } from '../graph/steps'
import { PlanMemo } from '../plan/memo'
import { nodeAt } from '../plan/node'
import { newLimit, newPlacing, newTreatment } from '../shot'
import { cgElement, edited, light, plan } from '../test/planned'
import { allThere, loadMadeUp, smallShot, treated } from '../test/small-shot'
import { localEngine } from '../test/local-engine'
import { someFrame, surroundings } from '../test/steps'
import { lightIn, mostDifference, sameBits } from '../test/windows'
import { lightWrap } from './light-wrap'

/** Light from behind comes round an edge: it is known from the integral of the Gaussian across a straight edge. */

const window = { x: 30, y: 20, width: 80, height: 20 }
const edge = 70
/** Black, opaque from the edge on. */
const half = async () => ({
  decoded: false,
  dataWindow: { x: 0, y: 0, width: 200, height: 60 },
  displayWindow: { x: 0, y: 0, width: 200, height: 60 },
  planes: ['R', 'G', 'B', 'A'].map((name) => ({
    name,
    type: 'float' as const,
    samples: Float32Array.from({ length: 200 * 60 }, (_, i) => (name === 'A' && i % 200 >= edge ? 1 : 0)),
  })),
})
const behind = constant([0.4, 0.2, 0.1, 1], { x: 0, y: 0, width: 200, height: 60 })
/** Error function (Abramowitz and Stegun 7.1.26). */
const erf = (x: number): number => {
  if (x < 0) return -erf(-x)
  const t = 1 / (1 + 0.3275911 * x)
  return (
    1 -
    ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t * Math.exp(-x * x)
  )
}

test('across a straight edge it falls as the Gaussian’s integral does, in each channel by its amount', async () => {
  const values = { width: [5], amount: [0.5, 1, 0] }
  const step = lightWrap.build(someFrame(), values, surroundings({ behind }))
  const out = await localEngine(1, half).light(step, window)
  for (const x of [40, 69, 70, 74, 80, 100]) {
    const at = 4 * (10 * window.width + x - window.x)
    const outside = x < edge ? 0 : 0.5 * (1 - erf((x + 0.5 - edge) / (5 * Math.SQRT2)))
    expect([...out.slice(at, at + 4)]).toEqual(
      [0.4 * 0.5 * outside, 0.2 * outside, 0, x < edge ? 0 : 1].map((one) => expect.closeTo(one, 3) as number),
    )
  }
})

test('without an amount, or seen alone, there is nothing in the graph', () => {
  const input = someFrame()
  expect(lightWrap.build(input, { width: [5], amount: [0, 0, 0] }, surroundings({ behind }))).toBe(input)
  expect(lightWrap.build(input, { width: [5], amount: [1, 1, 1] }, surroundings())).toBe(input)
})

describe('on an element of a shot', () => {
  const shot = treated(smallShot, cgElement, newTreatment('light-wrap', 'wrap', { width: [6], amount: [1, 1, 1] }))
  const frame = { x: 0, y: 0, width: 300, height: 150 }

  test('it takes the light of all that lies behind it, and what lies outside the element keeps every bit', async () => {
    const [before, after] = await Promise.all([light(smallShot), light(shot)])
    expect(mostDifference(after, before)).toBeGreaterThan(0.01)
    const outside = { x: 130, y: 0, width: 150, height: 150 }
    expect(sameBits(lightIn(after, frame, outside), lightIn(before, frame, outside))).toBe(true)
    const { elements, problems } = plan(shot)
    expect(problems).toEqual([])
    const own = elements.get('cg')
    if (!own) throw new Error('nothing is shown')
    // What it shows in the picture has the light of the plate on it.
    const [lit] = await Promise.all([localEngine(1, loadMadeUp).light(own, frame)])
    expect(lit.every(Number.isFinite)).toBe(true)
  })

  test('a matte of the element’s own pixels that limits it goes with the element', async () => {
    const matte = { kind: 'source', source: 'cg', part: null, channel: 'A', lies: 'element' } as const
    const box = { x: 15, y: 45, width: 60, height: 60 }
    const limited = (x: number) =>
      edited(
        treated(smallShot, cgElement, newTreatment('light-wrap', 'wrap', { width: [6], amount: [1, 1, 1] }), {
          limit: newLimit(matte),
        }),
        { kind: 'place-element', element: 'cg', placing: { ...newPlacing(box, { x: [x] }), shutter: 'closed' } },
      )
    const free = (x: number) => ({
      ...limited(x),
      uses: { byId: { ...limited(x).uses.byId, wrap: { ...limited(x).uses.byId.wrap, limit: null } } },
    })
    // Where it covers wholly, the limit leaves all of it, wherever the element has been moved.
    const inside = { x: 100, y: 68, width: 10, height: 10 }
    const [one, other] = await Promise.all([light(limited(60)), light(free(60))])
    expect(mostDifference(lightIn(one, frame, inside), lightIn(other, frame, inside))).toBeLessThan(1e-6)
    expect(
      mostDifference(
        one,
        await light(
          edited(smallShot, {
            kind: 'place-element',
            element: 'cg',
            placing: { ...newPlacing(box, { x: [60] }), shutter: 'closed' },
          }),
        ),
      ),
    ).toBeGreaterThan(0.01)
  })

  test('before nothing there is no light to come round', async () => {
    const alone = (one: typeof shot) => {
      const step = nodeAt(
        { shot: one, scale: 1, files: allThere(), memo: new PlanMemo() },
        { kind: 'elements', ids: ['cg'] },
        1001,
      )
      if (!step) throw new Error('nothing is shown')
      return localEngine(1, loadMadeUp).light(step, frame)
    }
    expect(mostDifference(await alone(shot), await alone(smallShot))).toBe(0)
  })

  test('a shadow, the plate and the finish have nothing behind them, and that is said', () => {
    const shaded = treated(
      smallShot,
      { kind: 'element', id: 'shadow' },
      newTreatment('light-wrap', 'wrap', { amount: [1, 1, 1] }),
    )
    expect(plan(shaded).composite.key).toBe(plan(smallShot).composite.key)
    for (const owner of [
      { kind: 'element', id: 'shadow' },
      { kind: 'element', id: 'plate' },
      { kind: 'finish' },
    ] as const) {
      const wrapped = treated(smallShot, owner, newTreatment('light-wrap', 'wrap', { amount: [1, 1, 1] }))
      const { composite, problems } = plan(wrapped)
      expect(composite.key).toBe(plan(smallShot).composite.key)
      expect(problems.map(({ sentence }) => sentence)).toEqual([
        'Light wrap goes by the light behind an element that is seen, so it does nothing here.',
      ])
    }
  })
})
