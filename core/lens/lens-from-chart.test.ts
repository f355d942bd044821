import { bent } from '../motion/lens'
import { throughMatrix } from '../motion/mapping'
import { randomOf } from '../test/random'
import { ChartTellsNothingError, lensFromChart, type ChartSeen } from './lens-from-chart'
import { cornersOff, frame, lensOf } from './test/known-lenses'

const marks = Array.from({ length: 54 }, (_, i) => [i % 9, Math.floor(i / 9)] as const)
const truth = lensOf({ k1: -0.12, k2: 0.02, centre: [655, 348] })
/** A chart of 9 by 6 marks, each time in another perspective, all over the frame. */
function photographs(count: number, error: number): ChartSeen[] {
  const { uniform, normal } = randomOf(12)
  return Array.from({ length: count }, () => {
    const [turn, size] = [uniform() * 0.6 - 0.3, 90 + 40 * uniform()]
    const [x, y] = [uniform() * 450 + 20, uniform() * 200 + 20]
    const matrix = [
      ...[size * Math.cos(turn), -size * Math.sin(turn), x],
      ...[size * Math.sin(turn), size * Math.cos(turn), y],
      ...[0.04 * uniform() - 0.02, 0.04 * uniform() - 0.02, 1],
    ] as never
    const seen = marks.map(([u, v]) => {
      const [px, py] = bent(truth, throughMatrix(matrix, u, v) as [number, number])
      return [px + error * normal(), py + error * normal()] as const
    })
    return { marks, seen }
  })
}

describe('a lens from a chart', () => {
  it('is found exactly where the marks are exact', () => {
    const found = lensFromChart(photographs(3, 0), { frame })
    expect(found.rms).toBeLessThan(1e-4)
    expect(cornersOff(found.lens, truth)).toBeLessThan(0.01)
  })

  it('is as near as the marks’ errors let it be, and leaves what they are off by', () => {
    const found = lensFromChart(photographs(8, 0.1), { frame })
    // Two errors a mark; of 54 marks a photograph, its perspective takes up 8 numbers.
    expect(found.rms).toBeGreaterThan(0.1 * Math.SQRT2 * 0.85)
    expect(found.rms).toBeLessThan(0.1 * Math.SQRT2 * 1.05)
    expect(cornersOff(found.lens, truth)).toBeLessThan(0.3)
  })

  it('is refused with the photograph that tells nothing', () => {
    const [one] = photographs(1, 0)
    expect(() => lensFromChart([], { frame })).toThrow(ChartTellsNothingError)
    expect(() => lensFromChart([one, { marks: marks.slice(0, 5), seen: one.seen.slice(0, 5) }], { frame })).toThrow(
      'Photograph 2 has 5 marks seen of 5',
    )
    const onLine = { marks, seen: marks.map(([u, v]) => [u + 9 * v, 100] as const) }
    expect(() => lensFromChart([onLine], { frame })).toThrow('lie on one line')
  })
})
