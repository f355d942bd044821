import { randomOf } from '../test/random'
import { lineAlong } from './line-along'

const { abs, max, min } = Math
const [width, height] = [400, 240]
/** A bowed edge, darker above: y = 100.4 + (x - 200)² / 4000, each pixel covered by so much of the light. */
const edgeAt = (x: number) => 100.4 + (x - 200) ** 2 / 4000
function bowed(noise: number) {
  const { normal } = randomOf(6)
  const values = Float64Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [(i % width) + 0.5, Math.floor(i / width)]
    return 0.04 + 0.3 * min(1, max(0, y + 1 - edgeAt(x))) + noise * normal()
  })
  return { values, width, height }
}

describe('a stroke along an edge', () => {
  it.each([0, 0.02])('is brought onto it, also where the edge bows; noise %d', (noise) => {
    const line = lineAlong(bowed(noise), [20, 104], [380, 103])
    expect(line).not.toBeNull()
    for (const [x, y] of line ?? []) expect(abs(y - edgeAt(x))).toBeLessThan(noise > 0 ? 0.4 : 0.06)
    const off = (line ?? []).map(([x, y]) => y - edgeAt(x))
    expect(abs(off.reduce((sum, one) => sum + one, 0) / off.length)).toBeLessThan(0.05)
    expect(line?.length).toBeGreaterThan(20)
  })

  it('is the same from its other end', () => {
    const forth = lineAlong(bowed(0), [20, 104], [380, 103]) ?? []
    const back = lineAlong(bowed(0), [380, 103], [20, 104]) ?? []
    for (const [x, y] of [...forth, ...back]) expect(abs(y - edgeAt(x))).toBeLessThan(0.06)
  })

  it('of nothing is none: on flat ground, in grain, outside, or too short', () => {
    expect(lineAlong(bowed(0), [20, 30], [380, 30])).toBeNull()
    expect(lineAlong(bowed(0.02), [20, 200], [380, 201])).toBeNull()
    expect(lineAlong(bowed(0), [500, 300], [900, 300])).toBeNull()
    expect(lineAlong(bowed(0), [20, 104], [30, 104])).toBeNull()
  })
})
