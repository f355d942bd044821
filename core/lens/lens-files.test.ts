import { bent, straightener, type Lens } from '../motion/lens'
import { unbent } from './lens-from-lines'
import { mapOf, numbersOf, overscanOf } from './lens-files'

const frame = { width: 64, height: 36 }
const lens: Lens = { ...unbent({ frame }), k1: -0.1, k2: 0.01, centre: [33, 17.5] }

describe('maps of a lens', () => {
  it('lead from the plate to the straight picture, and back, in shares of the frame', () => {
    const straight = mapOf(lens, frame, 'to-straight')
    const at = 10 * 64 + 50
    const [x, y] = straightener(lens)(50.5, 10.5) as [number, number]
    expect(straight.planes[0].samples[at]).toBeCloseTo(x / 64, 6)
    expect(straight.planes[1].samples[at]).toBeCloseTo(y / 36, 6)
    const back = mapOf(lens, frame, 'to-bent')
    const { x: left, y: top, width } = back.dataWindow
    const there = bent(lens, [50.5, 10.5])
    expect(back.planes[0].samples[(10 - top) * width + 50 - left]).toBeCloseTo(there[0] / 64, 6)
  })

  it('hold every pixel of the plate: the overscan reaches as far as its border lies when it is straight', () => {
    const window = overscanOf(lens, frame)
    expect(window).not.toBeNull()
    if (!window) return
    expect(window.x).toBeLessThan(0)
    expect(window.width).toBeGreaterThan(64)
    for (const [cx, cy] of [
      [0, 0],
      [64, 36],
      [64, 0],
      [32, 0],
    ] as const) {
      const [x, y] = straightener(lens)(cx, cy) as [number, number]
      expect(x).toBeGreaterThanOrEqual(window.x)
      expect(x).toBeLessThanOrEqual(window.x + window.width)
      expect(y).toBeGreaterThanOrEqual(window.y)
      expect(y).toBeLessThanOrEqual(window.y + window.height)
    }
    expect(mapOf(lens, frame, 'to-bent').dataWindow).toEqual(window)
  })

  it('of a lens that folds in the frame have holes, and no overscan is told', () => {
    const folding = { ...lens, k1: -0.5 }
    expect(overscanOf(folding, frame)).toBeNull()
    expect(mapOf(folding, frame, 'to-straight').planes[0].samples[0]).toBeNaN()
    expect(numbersOf(folding, frame).overscan).toBeNull()
  })

  it('never cut the frame itself where the lens draws it together', () => {
    expect(overscanOf({ ...lens, k1: 0.1 }, frame)).toEqual({ x: 0, y: 0, ...frame })
  })
})
