import { smallShot } from '../test/small-shot'
import { newPaintedMatte, strokesOutside, tableOf, type PaintedMatte, type PaintStroke } from '.'

const { width, height } = smallShot.frameSize
const stroke = (id: string, points: readonly number[], more: Partial<PaintStroke> = {}): PaintStroke => ({
  ...{ id, rank: id, points, radius: 3, hardness: 1, how: 'add' },
  ...more,
})
const matte = (...strokes: readonly PaintStroke[]): PaintedMatte => ({
  ...newPaintedMatte(smallShot),
  strokes: tableOf(strokes),
})
const said = (frame: number, ...strokes: readonly PaintStroke[]) => strokesOutside(smallShot, matte(...strokes), frame)

test('strokes that reach into the frame are nothing odd, though their points may lie beyond its edge', () => {
  expect(said(1001)).toBeNull()
  expect(said(1001, stroke('a', [5, 5]), stroke('b', [-2.9, 4]), stroke('c', [width + 2.9, height + 2.9]))).toBeNull()
  expect(said(1001, stroke('a', [-50, 4, 10, 4]))).toBeNull()
})

test('what lies outside is counted, on the frames on which it is painted', () => {
  const [inside, left, below] = [
    stroke('a', [5, 5]),
    stroke('b', [-3, 4]),
    stroke('c', [4, height + 40, 9, height + 30], { frame: 1003 }),
  ]
  expect(said(1001, inside, left, below)).toMatch(/^One stroke lies outside the frame on 1001: nothing of it is seen\./)
  expect(said(1003, inside, left, below)).toMatch(/^2 strokes lie outside the frame on 1003: nothing of them/)
  expect(said(1003, left, below)).toMatch(/^All strokes lie outside/)
  expect(said(1001, below)).toBeNull()
})
