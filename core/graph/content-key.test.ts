import fc from 'fast-check'
import { contentKey } from './content-key'

test('equal parts give equal keys, 128 bits in hex', () => {
  expect(contentKey('treat', 1, { gain: [1, 2] })).toBe(contentKey('treat', 1, { gain: [1, 2] }))
  expect(contentKey('x')).toMatch(/^[0-9a-f]{32}$/)
})

test('different parts give different keys, wherever the border between them lies', () => {
  const parts = fc.array(fc.oneof(fc.string(), fc.double({ noNaN: true, noDefaultInfinity: true }), fc.boolean()), {
    maxLength: 4,
  })
  fc.assert(
    fc.property(parts, parts, (a, b) => {
      expect(contentKey(...a) === contentKey(...b)).toBe(JSON.stringify(a) === JSON.stringify(b))
    }),
  )
})

test('known answer: SHA-256 of the JSON, first half', () => {
  expect(contentKey()).toBe('4f53cda18c2baa0c0354bb5f9a3ecbe5')
})
