import { placementMatrix } from '../motion/placing'
import { multiplied } from '../motion/mapping'
import type { Matrix3 } from '../graph/steps'
import { randomOf } from '../test/random'
import { chartMarks, lensFromChart, unbent, type ChartSeen } from '.'
import { cornersOffAsTold } from './test/known-lenses'
import { cornersSeen, photographOf, type SeenChart } from './test/known-chart'

const frame = { width: 360, height: 240 }
const lens = { ...unbent({ frame }), k1: -0.12, k2: 0.02, centre: [186, 114] } as const
const still = { x: 0, y: 0, stretch: 1, skew: 0, pivotX: 0, pivotY: 0 }
/** Held in front of the camera, turned and tilted. */
const held = (
  x: number,
  y: number,
  size: number,
  rotation: number,
  tilt: readonly [number, number] = [0, 0],
): Matrix3 =>
  multiplied(
    [1, 0, x, 0, 1, y, 0, 0, 1],
    multiplied([1, 0, 0, 0, 1, 0, ...tilt, 1], placementMatrix({ ...still, scale: size, rotation })),
  )
const chart = (motion: Matrix3, more: Partial<SeenChart> = {}): SeenChart => ({
  ...{ frame, lens, motion, squares: [9, 7] as const },
  ...more,
})
const board = chart(held(60, 30, 26, 4, [4e-4, 7e-4]))

/** Of each corner that is there, how far the nearest found one lies; and found ones that are none. */
function judged(seen: ChartSeen | null, truth: readonly (readonly [number, number])[]) {
  const found = seen?.seen ?? []
  const near = (place: readonly [number, number], others: typeof found) =>
    Math.min(Infinity, ...others.map(([x, y]) => Math.hypot(x - place[0], y - place[1])))
  const away = truth.map((corner) => near(corner, found))
  const there = away.filter((far) => far < 1)
  return {
    there: there.length,
    worst: Math.max(...there),
    wrong: found.filter((place) => near(place, truth) > 0.5).length,
  }
}

test.each([0, 0.01])(
  'every corner of a chart is found to a few hundredths of a pixel, and none beside it; noise %d',
  (noise) => {
    const seen = chartMarks(photographOf({ ...board, noise }))
    const { there, worst, wrong } = judged(seen, cornersSeen(board))
    expect(there).toBeGreaterThanOrEqual(46)
    expect(worst).toBeLessThan(noise > 0 ? 0.1 : 0.07)
    expect(wrong).toBe(0)
  },
)

test('columns and rows are counted as they lie: the perspective and the lens lead each to where it is seen', () => {
  const seen = chartMarks(photographOf(board))
  if (!seen) throw new Error('There is no chart.')
  const { rms, motions } = lensFromChart([seen], { frame }, [['k1'], ['k2']])
  expect(rms).toBeLessThan(0.08)
  expect(motions).toHaveLength(1)
  const names = new Set(seen.marks.map(([column, row]) => `${column} ${row}`))
  expect(names.size).toBe(seen.marks.length)
})

test('turned a half, upside down or mostly out of the frame it is counted all the same', () => {
  const turned = chart(held(300, 205, 26, 184))
  expect(judged(chartMarks(photographOf(turned)), cornersSeen(turned))).toMatchObject({ there: 48, wrong: 0 })
  const out = chart(held(200, 90, 30, 0))
  const seen = chartMarks(photographOf(out))
  const inside = cornersSeen(out).filter(([x, y]) => x < 345 && y < 225)
  expect(judged(seen, inside).there).toBeGreaterThanOrEqual(inside.length - 4)
  expect(judged(seen, cornersSeen(out)).wrong).toBe(0)
})

test('where the paper ends at a dark table, what looks like corners there is left out', () => {
  const narrow = { ...board, margin: 0.12 }
  const { there, wrong } = judged(chartMarks(photographOf(narrow)), cornersSeen(narrow))
  expect(there).toBeGreaterThanOrEqual(44)
  expect(wrong).toBe(0)
})

test('four photographs found so tell the lens they were taken through', () => {
  const views = [
    board,
    chart(held(20, 20, 30, -3, [-3e-4, 9e-4])),
    chart(held(120, 40, 26, 15, [1e-3, 0])),
    chart(held(40, 50, 24, -12, [0, -8e-4])),
  ].map((one, i) => chartMarks(photographOf({ ...one, noise: 0.005, seed: i + 1 })))
  const { lens: found, rms } = lensFromChart(views as ChartSeen[], { frame })
  expect(rms).toBeLessThan(0.1)
  // Less the homography that each photograph's own perspective takes up.
  expect(cornersOffAsTold(found, lens, frame)).toBeLessThan(0.3)
})

test('grain, a grid of lines and a flat wall are no chart', () => {
  const { normal } = randomOf(4)
  const plane = (of: (x: number, y: number) => number) => ({
    values: Float64Array.from({ length: 240 * 160 }, (_, i) => of(i % 240, Math.floor(i / 240))),
    ...{ width: 240, height: 160 },
  })
  expect(chartMarks(plane(() => 0.2 + 0.02 * normal()))).toBeNull()
  expect(chartMarks(plane(() => 0.2))).toBeNull()
  expect(chartMarks(plane((x, y) => (x % 24 < 2 || y % 24 < 2 ? 0.6 : 0.05)))).toBeNull()
})
