import { differenceOf, labOf, type Lab } from './colour-difference'

/** The pairs that Sharma, Wu and Dalal published to test implementations with, and what they differ by. */
const published: readonly (readonly [Lab, Lab, number])[] = [
  [[50, 2.6772, -79.7751], [50, 0, -82.7485], 2.0425],
  [[50, 3.1571, -77.2803], [50, 0, -82.7485], 2.8615],
  [[50, 2.8361, -74.02], [50, 0, -82.7485], 3.4412],
  [[50, -1.3802, -84.2814], [50, 0, -82.7485], 1],
  [[50, -1.1848, -84.8006], [50, 0, -82.7485], 1],
  [[50, -0.9009, -85.5211], [50, 0, -82.7485], 1],
  [[50, 0, 0], [50, -1, 2], 2.3669],
  [[50, 2.49, -0.001], [50, -2.49, 0.0009], 7.1792],
  [[50, 2.49, -0.001], [50, -2.49, 0.0011], 7.2195],
  [[50, -0.001, 2.49], [50, 0.0009, -2.49], 4.8045],
  [[50, -0.001, 2.49], [50, 0.0011, -2.49], 4.7461],
  [[50, 2.5, 0], [50, 0, -2.5], 4.3065],
  [[50, 2.5, 0], [73, 25, -18], 27.1492],
  [[50, 2.5, 0], [61, -5, 29], 22.8977],
  [[50, 2.5, 0], [56, -27, -3], 31.903],
  [[50, 2.5, 0], [58, 24, 15], 19.4535],
  [[60.2574, -34.0099, 36.2677], [60.4626, -34.1751, 39.4387], 1.2644],
  [[63.0109, -31.0961, -5.8663], [62.8187, -29.7946, -4.0864], 1.263],
  [[6.7747, -0.2908, -2.4247], [5.8714, -0.0985, -2.2286], 0.6377],
  [[2.0776, 0.0795, -1.135], [0.9033, -0.0636, -0.5514], 0.9082],
]

test.each(published)('dE2000 of %j and %j is %d, both ways round', (a, b, expected) => {
  expect(differenceOf(a, b)).toBeCloseTo(expected, 4)
  expect(differenceOf(b, a)).toBeCloseTo(expected, 4)
})

test('Lab of white, mid grey and red is what the standard says', () => {
  const close = (found: Lab, expected: Lab) => expected.forEach((value, i) => expect(found[i]).toBeCloseTo(value, 1))
  close(labOf(1, 1, 1), [100, 0, 0])
  close(labOf(0.184187, 0.184187, 0.184187), [50, 0, 0])
  close(labOf(1, 0, 0), [53.24, 80.09, 67.2])
})
