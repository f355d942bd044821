import { boxOfCoverage } from './box-of-coverage'

const window = { x: -3, y: 10, width: 8, height: 6 }
const light = (...pixels: readonly (readonly [x: number, y: number, channel: number, value: number])[]) => {
  const all = new Float32Array(8 * 6 * 4)
  for (const [x, y, channel, value] of pixels) all[((y - 10) * 8 + x + 3) * 4 + channel] = value
  return all
}

test('the box holds every pixel with coverage or light, and no more', () => {
  expect(boxOfCoverage(light([-2, 11, 3, 1], [3, 14, 0, 0.1]), window)).toEqual({ x: -2, y: 11, width: 6, height: 4 })
  expect(boxOfCoverage(light([4, 15, 3, 0.5]), window)).toEqual({ x: 4, y: 15, width: 1, height: 1 })
})

test('empty, hardly anything, and what is no number are no box', () => {
  expect(boxOfCoverage(light(), window)).toBeNull()
  expect(boxOfCoverage(light([0, 12, 3, 0.0001], [1, 12, 2, NaN]), window)).toBeNull()
})
