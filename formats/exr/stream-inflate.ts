/** Inflates with the web platform's DecompressionStream, so that browsers need no zlib of their own. */

import type { Inflate } from './layout'

/** @throws when the stream is broken, or gives more than `size` bytes: reading stops there */
export const streamInflate: Inflate = async (bytes, size) => {
  const stream = new DecompressionStream('deflate')
  const writer = stream.writable.getWriter()
  // The writer's failures come back through the reader as well; here they only must not go unheard.
  const fed = writer.write(bytes as Uint8Array<ArrayBuffer>).then(() => writer.close())
  fed.catch(() => undefined)
  const out = new Uint8Array(size)
  const reader = stream.readable.getReader()
  let at = 0
  for (;;) {
    const { done, value } = await reader.read()
    if (done) return out.subarray(0, at)
    if (at + value.length > size) {
      await reader.cancel()
      throw new RangeError(`The stream gives more than ${size} bytes.`)
    }
    out.set(value, at)
    at += value.length
  }
}
