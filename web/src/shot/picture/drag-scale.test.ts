import { scaleWhileDragging } from './drag-scale'

test('a picture that takes longer than a twelfth of a second is made smaller, down to a quarter', () => {
  expect(scaleWhileDragging(1, 1, 90)).toBe(2)
  expect(scaleWhileDragging(1, 2, 90)).toBe(4)
  expect(scaleWhileDragging(1, 4, 900)).toBe(4)
  expect(scaleWhileDragging(2, 2, 90)).toBe(4)
})

test('it stays as it is while it follows, and comes back when twice the size would follow too, never beyond what was chosen', () => {
  expect(scaleWhileDragging(1, 1, 60)).toBeNull()
  expect(scaleWhileDragging(1, 2, 60)).toBe(2)
  expect(scaleWhileDragging(1, 4, 10)).toBe(2)
  expect(scaleWhileDragging(1, 2, 10)).toBeNull()
  expect(scaleWhileDragging(2, 4, 10)).toBeNull()
  // Four times as long as this is still quick enough: it does not go to and fro.
  for (const took of [14, 20, 40, 80]) expect(scaleWhileDragging(1, 2, took)).toBe(2)
})
