/** The reordering that RLE, ZIPS and ZIP share: even bytes before odd ones, each byte stored as a difference. */

/** Bytes as they are stored, and as they are meant. */
export interface ByteReordering {
  /** @returns what stands until the next call */
  gather(stored: Uint8Array): Uint8Array
  spread(raw: Uint8Array): Uint8Array
}

/** Without kernels, which do the same many times faster (core/kernels/byte-planes.ts). */
export const plainReordering: ByteReordering = { gather: gatherBytes, spread: spreadBytes }

function gatherBytes(stored: Uint8Array): Uint8Array {
  const n = stored.length
  const half = (n + 1) >> 1
  const out = new Uint8Array(n)
  let value = 128
  for (let i = 0; i < half; i++) out[2 * i] = value += stored[i] - 128
  for (let i = half; i < n; i++) out[2 * (i - half) + 1] = value += stored[i] - 128
  return out
}

function spreadBytes(raw: Uint8Array): Uint8Array {
  const n = raw.length
  const half = (n + 1) >> 1
  const out = new Uint8Array(n)
  let before = 128
  for (let i = 0; i < n; i++) {
    const value = raw[i < half ? 2 * i : 2 * (i - half) + 1]
    out[i] = value - before + 128
    before = value
  }
  return out
}
