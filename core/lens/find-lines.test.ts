import { bent, straightener, type Lens } from '../motion/lens'
import { randomOf } from '../test/random'
import { findLines } from './find-lines'
import { bowOf, lensFromLines, unbent } from './lens-from-lines'

const { abs, floor, max, min, round } = Math
const frame = { width: 480, height: 270 }
const lens: Lens = { ...unbent({ frame }), k1: -0.08, k2: 0.01 }

/** A grid of light lines, 3 px wide and 45 px apart, seen through the lens; a pixel holds so much of them as it covers. */
function gridThrough(noise: number, seed = 4) {
  const { normal } = randomOf(seed)
  const back = straightener(lens)
  const { width, height } = frame
  const covered = (v: number) => min(1, max(0, 2 - abs(v - 45 * round(v / 45))))
  const values = new Float64Array(width * height)
  for (let i = 0; i < values.length; i++) {
    const [x, y] = back((i % width) + 0.5, floor(i / width) + 0.5) as [number, number]
    const [across, down] = [covered(x), covered(y)]
    values[i] = 0.05 + 0.5 * (across + down - across * down) + noise * normal()
  }
  return { values, width, height }
}

describe('lines found in a picture', () => {
  it.each([0, 0.02])('are those of a grid, and tell its lens; noise %d', (noise) => {
    const lines = findLines(gridThrough(noise))
    expect(lines.length).toBeGreaterThan(20)
    for (const line of lines) expect(bowOf(lens, line)).toBeLessThan(0.5)
    const found = lensFromLines(lines, { frame, choose: true })
    expect(found.heldOutBow).toBeLessThan(0.3)
    const back = straightener(lens)
    for (const [x, y] of [
      [0, 0],
      [480, 270],
    ] as const) {
      const there = bent(found.lens, back(x, y) as [number, number])
      expect(Math.hypot(there[0] - x, there[1] - y)).toBeLessThan(0.3)
    }
  })

  it('lie on the edge to a few hundredths of a pixel, a pixel middle at its half', () => {
    // Light right of x = 100.3 + 0.1 y.
    const values = Float64Array.from({ length: 240 * 200 }, (_, i) => {
      const edge = 100.3 + 0.1 * (Math.floor(i / 240) + 0.5)
      return 0.02 + 0.4 * Math.min(1, Math.max(0, (i % 240) + 1 - edge))
    })
    const [line] = findLines({ values, width: 240, height: 200 })
    for (const [x, y] of line.slice(1, -1)) expect(Math.abs(x - (100.3 + 0.1 * y))).toBeLessThan(0.06)
  })

  it('are none where there is nothing but grain', () => {
    const { normal } = randomOf(9)
    const values = Float64Array.from({ length: 300 * 200 }, () => 0.2 + 0.02 * normal())
    expect(findLines({ values, width: 300, height: 200 })).toEqual([])
  })
})
