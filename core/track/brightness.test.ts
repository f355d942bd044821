import { brightnessOf } from './brightness'

test('it is the mean of red, green and blue, whatever alpha is; what is no number is black', () => {
  const light = Float32Array.of(0.3, 0.6, 0.9, 0, 1, 0, 0, 1, 0, 0, 3, 1, NaN, 1, 1, 1)
  const { values, width, height } = brightnessOf(light, { x: -5, y: 7, width: 2, height: 2 })
  expect([width, height]).toEqual([2, 2])
  ;[0.6, 1 / 3, 1, 0].forEach((wanted, i) => expect(values[i]).toBeCloseTo(wanted, 6))
})
