import fc from 'fast-check'
import { randomOf } from '../test/random'
import { NoGrainError } from './grain-record'
import { pairsIn, plateGrain } from './plate-grain'

test('pairs lie in the range, spread to its ends, and none shares a frame with another', () => {
  expect(pairsIn({ first: 1001, last: 1048 })).toEqual([1001, 1010, 1019, 1028, 1037, 1047])
  expect(pairsIn({ first: 5, last: 6 })).toEqual([5])
  expect(pairsIn({ first: 5, last: 5 })).toEqual([])
  fc.assert(
    fc.property(fc.integer({ min: -50, max: 50 }), fc.nat(200), (first, more) => {
      const pairs = pairsIn({ first, last: first + more })
      pairs.forEach((frame, i) => {
        expect(frame).toBeGreaterThanOrEqual(first)
        expect(frame + 1).toBeLessThanOrEqual(first + more)
        if (i > 0) expect(frame).toBeGreaterThanOrEqual(pairs[i - 1] + 2)
      })
      expect(pairs.length).toBe(Math.min(6, Math.floor((more + 1) / 2)))
    }),
  )
})

const size = { width: 96, height: 64 }
function grainy(frame: number): Float32Array {
  const { normal } = randomOf(frame)
  return Float32Array.from({ length: 4 * size.width * size.height }, (_, i) =>
    i % 4 === 3 ? 1 : 0.2 + 0.01 * normal(),
  )
}

test('each frame is read once, and a pair that the plate does not reach is left out', async () => {
  const read: number[] = []
  const light = (frame: number) => {
    read.push(frame)
    return Promise.resolve(frame === 4 ? null : grainy(frame))
  }
  const found = await plateGrain({ first: 1, last: 8 }, size, light)
  expect(read).toEqual([1, 2, 3, 4, 5, 6, 7, 8])
  expect(found.frames).toEqual([1, 5, 7])
  for (const { bins } of found.channels)
    for (const { sigma, verdict } of bins)
      if (verdict === 'usable') expect(Math.abs(sigma / 0.01 - 1)).toBeLessThan(0.05)
})

test('a plate of one frame tells nothing, and says why', async () => {
  const alone = plateGrain({ first: 1, last: 1 }, size, () => Promise.resolve(grainy(1)))
  await expect(alone).rejects.toThrow(NoGrainError)
  await expect(alone).rejects.toThrow(/no two of them/)
})
