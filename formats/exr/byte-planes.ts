/** The reordering that RLE, ZIPS and ZIP share: even bytes before odd ones, each byte stored as a difference. */

/**
 * Undoes differences and halves: `stored` to `out`, both of one length.
 *
 * The second half goes on where the first ends, so its start is worked out first; then both run side by side.
 */
export function gatherBytes(stored: Uint8Array, out: Uint8Array): void {
  const n = stored.length
  const half = (n + 1) >> 1
  const paired = n >> 1
  let sum = 0
  for (let i = 0; i < half; i++) sum += stored[i]
  let even = 128
  let odd = sum - 128 * (half - 1)
  if ((out.byteOffset & 1) === 0) {
    const words = new Uint16Array(out.buffer, out.byteOffset, paired)
    for (let i = 0, j = half; i < paired; i++, j++) {
      even = (even + stored[i] - 128) & 255
      odd = (odd + stored[j] - 128) & 255
      words[i] = even | (odd << 8)
    }
  } else {
    for (let i = 0, j = half; i < paired; i++, j++) {
      even = (even + stored[i] - 128) & 255
      odd = (odd + stored[j] - 128) & 255
      out[2 * i] = even
      out[2 * i + 1] = odd
    }
  }
  if (n & 1) out[n - 1] = even + stored[half - 1] - 128
}

/** Where one run of halves goes; null throws it away. */
export interface HalfRun {
  readonly samples: Uint16Array | null
  readonly at: number
  readonly count: number
}

/** The same for blocks of halves only, straight to where each run of them belongs: no bytes in between. */
export function gatherHalves(stored: Uint8Array, runs: Iterable<HalfRun>): void {
  const half = stored.length >> 1
  let sum = 0
  for (let i = 0; i < half; i++) sum += stored[i]
  let even = 128
  let odd = sum - 128 * (half - 1)
  let i = 0
  for (const { samples, at, count } of runs) {
    const end = i + count
    if (samples) {
      for (let to = at; i < end; i++, to++) {
        even = (even + stored[i] - 128) & 255
        odd = (odd + stored[half + i] - 128) & 255
        samples[to] = even | (odd << 8)
      }
    } else {
      for (; i < end; i++) {
        even += stored[i] - 128
        odd += stored[half + i] - 128
      }
    }
  }
}

/** The way there: `raw` to a new array ready for the entropy coder. */
export function spreadBytes(raw: Uint8Array): Uint8Array {
  const n = raw.length
  const half = (n + 1) >> 1
  const out = new Uint8Array(n)
  let before = 0
  for (let i = 0; i < half; i++) {
    const value = raw[2 * i]
    out[i] = value - before + 128
    before = value
  }
  for (let i = 0, paired = n >> 1; i < paired; i++) {
    const value = raw[2 * i + 1]
    out[half + i] = value - before + 128
    before = value
  }
  if (n > 0) out[0] = raw[0]
  return out
}
