import fc from 'fast-check'
import { typedNumber } from './typed-number'

test.each([
  ['0.02', 0.02],
  ['0,02', 0.02],
  [' -3 ', -3],
  ['+4', 4],
  ['0.02 * 1.5', 0.03],
  ['2 + 3 * 4', 14],
  ['(2 + 3) * 4', 20],
  ['1/8', 0.125],
  ['-(1 + 1)', -2],
  ['*2', 1],
  ['/4', 0.125],
  ['* 2 + 1', 2],
])('"%s" is %p where 0.5 stood', (text, value) => {
  expect(typedNumber(text, 0.5)).toBeCloseTo(value, 12)
})

test.each(['', 'x', '2 +', '1/0', 'alert(1)', 'constructor', '1 ** 2', '[1]', '"2"', '1 ? 2 : 3', '{}', '~1', '1;2'])(
  '"%s" is no number',
  (text) => {
    expect(typedNumber(text, 1)).toBeNull()
  },
)

test('any number that is printed is read back', () => {
  fc.assert(
    fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (value) => {
      const text = value.toFixed(6)
      if (!text.includes('e')) expect(typedNumber(text, 0)).toBeCloseTo(Number(text), 6)
    }),
  )
})

test('nothing that is typed throws', () => {
  fc.assert(fc.property(fc.string(), (text) => void typedNumber(text, 1)))
})
