import fc from 'fast-check'
import { deflateSync } from 'node:zlib'
import { streamInflate } from './index'

test('gives back what zlib packed', async () => {
  await fc.assert(
    fc.asyncProperty(fc.uint8Array({ maxLength: 70_000 }), async (raw) =>
      expect(Buffer.from(await streamInflate(deflateSync(raw), raw.length)).equals(Buffer.from(raw))).toBe(true),
    ),
    { numRuns: 40 },
  )
})

test('stops at the size that was promised', async () => {
  await expect(streamInflate(deflateSync(new Uint8Array(50_000_000)), 1000)).rejects.toThrow('more than 1000 bytes')
})

test('a broken stream is an error, not a hang', async () => {
  const packed = deflateSync(Buffer.from('the same words again and again and again '.repeat(50)))
  await expect(streamInflate(packed.subarray(0, packed.length - 12), 5000)).rejects.toThrow()
  packed[10] ^= 255
  await expect(streamInflate(packed, 5000)).rejects.toThrow()
})
