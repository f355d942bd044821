import fc from 'fast-check'
import { contains, pixelCount, type Window } from '../image/window'
import { windowsTogether } from './windows-together'

const window = fc.record({
  x: fc.integer({ min: -100, max: 4000 }),
  y: fc.integer({ min: -100, max: 2000 }),
  width: fc.integer({ min: 1, max: 300 }),
  height: fc.integer({ min: 1, max: 300 }),
})

test('every window is in one of them, inside what is made, and that is never much larger than what is wanted', () => {
  fc.assert(
    fc.property(fc.array(window, { maxLength: 20 }), (windows) => {
      const groups = windowsTogether(windows)
      const all = groups.flatMap((group) => group.windows)
      expect(new Set(all)).toEqual(new Set(windows))
      expect(all).toHaveLength(windows.length)
      for (const { around, windows: own } of groups) {
        for (const one of own) expect(contains(around, one)).toBe(true)
        const wanted = own.reduce((sum, one) => sum + pixelCount(one), 0)
        expect(pixelCount(around)).toBeLessThanOrEqual(Math.max(65_536, 2 * wanted, wanted))
      }
    }),
  )
})

test('windows near each other are one; far apart they are not, across or down', () => {
  const at = (x: number, y: number): Window => ({ x, y, width: 32, height: 32 })
  expect(windowsTogether([at(0, 0), at(100, 20), at(60, 60)])).toHaveLength(1)
  expect(windowsTogether([at(0, 0), at(3000, 0)])).toHaveLength(2)
  expect(windowsTogether([at(0, 0), at(0, 49)])).toHaveLength(2)
})
