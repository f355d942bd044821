/** Run lengths of bytes: a count from 0 up repeats the next byte count + 1 times; a negative one copies that many. */

import { BadBlock } from './layout'

const longestRun = 127
const shortestRun = 3

export function unpackRuns(packed: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size)
  let at = 0
  let to = 0
  while (at < packed.length) {
    const count = (packed[at++] << 24) >> 24
    if (count < 0) {
      if (to - count > size || at - count > packed.length) throw new BadBlock('a run of bytes passes the end')
      out.set(packed.subarray(at, at - count), to)
      at -= count
      to -= count
    } else {
      if (to + count + 1 > size || at >= packed.length) throw new BadBlock('a run of bytes passes the end')
      out.fill(packed[at++], to, to + count + 1)
      to += count + 1
    }
  }
  if (to !== size) throw new BadBlock(`it unpacks to ${to} bytes instead of ${size}`)
  return out
}

export function packRuns(raw: Uint8Array): Uint8Array {
  const out = new Uint8Array(raw.length + Math.ceil(raw.length / longestRun) + 1)
  let to = 0
  let start = 0
  while (start < raw.length) {
    let end = start + 1
    while (end < raw.length && raw[end] === raw[start] && end - start - 1 < longestRun) end++
    if (end - start >= shortestRun) {
      out[to++] = end - start - 1
      out[to++] = raw[start]
    } else {
      while (
        end < raw.length &&
        !(end + 2 < raw.length && raw[end] === raw[end + 1] && raw[end + 1] === raw[end + 2]) &&
        end - start < longestRun
      ) {
        end++
      }
      out[to++] = start - end
      out.set(raw.subarray(start, end), to)
      to += end - start
    }
    start = end
  }
  return out.subarray(0, to)
}
