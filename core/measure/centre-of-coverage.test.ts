import { centreOfCoverage } from './centre-of-coverage'

const window = { x: -10, y: 40, width: 60, height: 50 }
function picture(alpha: (x: number, y: number) => number): Float32Array {
  const light = new Float32Array(window.width * window.height * 4)
  for (let i = 0; i < window.width * window.height; i++)
    light[4 * i + 3] = alpha(window.x + (i % window.width), window.y + Math.floor(i / window.width))
  return light
}
const disc = (cx: number, cy: number) => (x: number, y: number) =>
  Math.min(1, Math.max(0, 8.5 - Math.hypot(x + 0.5 - cx, y + 0.5 - cy)))

test('of a disc it is the middle, to a hundredth of a pixel, and it moves as the disc does', () => {
  const before = centreOfCoverage(picture(disc(12.3, 60.8)), window)
  const after = centreOfCoverage(picture(disc(15.05, 58.4)), window)
  expect(before?.x).toBeCloseTo(12.3, 2)
  expect(before?.y).toBeCloseTo(60.8, 2)
  expect((after?.x ?? 0) - (before?.x ?? 0)).toBeCloseTo(2.75, 2)
})

test('light without coverage counts nothing, more than whole coverage counts once, no number counts nothing', () => {
  const light = picture((x, y) => (x === 0 && y === 50 ? 900 : x === 4 && y === 50 ? 1 : x === 9 ? NaN : 0))
  for (let i = 0; i < light.length; i += 4) light[i] = 5
  expect(centreOfCoverage(light, window)).toEqual({ x: 2.5, y: 50.5 })
})

test('where nothing is covered there is nothing to follow', () => {
  expect(
    centreOfCoverage(
      picture(() => 0),
      window,
    ),
  ).toBeNull()
  expect(
    centreOfCoverage(
      picture(() => -1),
      window,
    ),
  ).toBeNull()
})
