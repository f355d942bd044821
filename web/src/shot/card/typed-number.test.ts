import fc from 'fast-check'
import { typedNumber, typingFault } from './typed-number'

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

test('what is beyond the range, or no number, is said with what became of it', () => {
  const range = { least: 1000, most: 25_000 }
  expect(typingFault('Kelvin', '500', 500, range)).toBe('Kelvin is at least 1,000: 500 became 1,000.')
  expect(typingFault('Kelvin', '1e6', 1e6, range)).toBe('Kelvin is at most 25,000: 1,000,000 became 25,000.')
  expect(typingFault('Kelvin', 'warm', null, range)).toBe('“warm” is no number, so Kelvin stays as it was.')
  expect(typingFault('Kelvin', ' ', null, range)).toBeNull()
  expect(typingFault('Kelvin', '1000', 1000, range)).toBeNull()
})
