import fc from 'fast-check'
import type { Curve } from '../motion/curve'
import { popsOf } from './pops'

/** A keyed value that leaves its way for a frame or two and comes back is named; what goes on evenly, or steps and stays, is not. */

const frames = [1001, 1024] as const
const keyed = (values: Readonly<Record<number, number>>, to: 'straight' | 'level' = 'straight'): Curve => ({
  keyframes: Object.fromEntries(Object.entries(values).map(([frame, value]) => [frame, { value, to }])),
})

test('one frame that is set apart is named, with how far', () => {
  const curve = keyed({ 1001: 0, 1009: 0.8, 1010: 2, 1011: 1, 1024: 2.3 })
  expect(popsOf(curve, frames, 0.01)).toEqual([{ frame: 1010, off: expect.closeTo(1.1, 9) as number }])
})

test('two frames that are set apart are named', () => {
  const curve = keyed({ 1001: 1, 1009: 1, 1010: 3, 1011: 3, 1012: 1, 1024: 1 })
  expect(popsOf(curve, frames, 0.01).map(({ frame }) => frame)).toEqual([1010, 1011])
})

test('a step that stays, a bend, a move there and back, and a flicker that goes on all the time are meant', () => {
  expect(popsOf(keyed({ 1001: 0, 1012: 1 }, 'level'), frames, 0.01)).toEqual([])
  expect(popsOf(keyed({ 1001: 0, 1012: 1, 1024: 0 }), frames, 0.01)).toEqual([])
  expect(popsOf(keyed({ 1001: 0, 1010: 0, 1012: 1, 1013: 1, 1014: 1, 1016: 0 }), frames, 0.01)).toEqual([])
  const flicker = Object.fromEntries(Array.from({ length: 24 }, (_, i) => [1001 + i, i % 2]))
  expect(popsOf(keyed(flicker), frames, 0.01)).toEqual([])
})

test('what is smaller than can be seen is let pass, and a value without keyframes has none', () => {
  expect(popsOf(keyed({ 1001: 0, 1009: 0, 1010: 0.009, 1011: 0, 1024: 0 }), frames, 0.01)).toEqual([])
  expect(popsOf(3, frames, 0.01)).toEqual([])
})

test('straight lines never pop, wherever their keyframes lie', () => {
  const slopes = fc.record({ at: fc.integer({ min: -5, max: 5 }), by: fc.double({ min: -3, max: 3, noNaN: true }) })
  const places = fc.uniqueArray(fc.integer({ min: 1001, max: 1024 }), { minLength: 2, maxLength: 8 })
  fc.assert(
    fc.property(slopes, places, ({ at, by }, own) => {
      const curve = keyed(Object.fromEntries(own.map((frame) => [frame, at + by * frame])))
      expect(popsOf(curve, frames, 0.01)).toEqual([])
    }),
  )
})
