import fc from 'fast-check'
import { Arena, ArenaFullError } from './arena'

test('pieces never overlap, stay inside the budget, and everything comes back', () => {
  const steps = fc.array(
    fc.oneof(fc.record({ take: fc.integer({ min: 1, max: 5000 }) }), fc.record({ drop: fc.nat(20) })),
    { maxLength: 80 },
  )
  fc.assert(
    fc.property(steps, (list) => {
      const budget = 40_000
      const arena = new Arena(64, budget)
      const held: { address: number; size: number }[] = []
      for (const step of list) {
        if ('take' in step) {
          try {
            const address = arena.allocate(step.take)
            for (const other of held)
              expect(address + step.take <= other.address || other.address + other.size <= address).toBe(true)
            expect(address % 64).toBe(0)
            expect(address).toBeGreaterThanOrEqual(64)
            expect(address + step.take).toBeLessThanOrEqual(budget)
            held.push({ address, size: step.take })
          } catch (error) {
            expect(error).toBeInstanceOf(ArenaFullError)
          }
        } else if (held.length > 0) {
          const [released] = held.splice(step.drop % held.length, 1)
          arena.release(released.address)
        }
      }
      for (const { address } of held) arena.release(address)
      expect(arena.usedBytes()).toBe(0)
      expect(arena.largestFree()).toBe(budget - 64)
    }),
  )
})

test('a full memory says how much is wanted and how much is free', () => {
  const arena = new Arena(0, 2 ** 21)
  arena.allocate(2 ** 20)
  expect(() => arena.allocate(2 ** 21)).toThrow(
    'The picture needs 2 MB of working memory; 1 MB of 2 MB are free in one piece.',
  )
})

test('releasing what was never handed out is an error', () => {
  expect(() => new Arena(0, 4096).release(64)).toThrow(RangeError)
})
