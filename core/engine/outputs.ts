/** Puts the parts of an output together: bands of a picture that was too large for the memory, and the counts of workers. */

import type { Output } from './program'

type Bytes = Uint8Array<ArrayBuffer>

/** Two bands, one above the other; half-float output is joined plane by plane, counts are added. */
export function joinedBands(output: Output, upper: Bytes, lower: Bytes): Bytes {
  if (output.kind === 'counts') {
    const counts = new Uint32Array(lower.buffer)
    const sum = new Uint32Array(upper.buffer).map((count, i) => count + counts[i])
    return new Uint8Array(sum.buffer)
  }
  const joined = new Uint8Array(upper.length + lower.length)
  const planes = output.kind === 'halves' ? 3 : 1
  const [above, below] = [upper.length / planes, lower.length / planes]
  for (let c = 0; c < planes; c++) {
    joined.set(upper.subarray(c * above, (c + 1) * above), c * (above + below))
    joined.set(lower.subarray(c * below, (c + 1) * below), c * (above + below) + above)
  }
  return joined
}

/** @param bytes of one worker's counts; they follow each other from `address` on */
export function summedCounts(memory: ArrayBufferLike, address: number, bytes: number, workers: number): Bytes {
  const sum = new Uint32Array(bytes / 4)
  for (let worker = 0; worker < workers; worker++) {
    const counts = new Uint32Array(memory, address + worker * bytes, bytes / 4)
    for (let i = 0; i < sum.length; i++) sum[i] += counts[i]
  }
  return new Uint8Array(sum.buffer)
}
