/** The reordering that RLE, ZIPS and ZIP share: even bytes before odd ones, each byte stored as a difference. */

/** Undoes differences and halves in place of `out`, which has the length of `stored`; `stored` is overwritten. */
export function gatherBytes(stored: Uint8Array, out: Uint8Array): void {
  const n = stored.length
  const half = (n + 1) >> 1
  if (n === 0) return
  let value = stored[0]
  for (let i = 1; i < half; i++) {
    value = (value + stored[i] - 128) & 255
    stored[i] = value
  }
  const paired = n >> 1
  if ((out.byteOffset & 1) === 0) {
    const words = new Uint16Array(out.buffer, out.byteOffset, paired)
    for (let i = 0; i < paired; i++) {
      value = (value + stored[half + i] - 128) & 255
      words[i] = stored[i] | (value << 8)
    }
  } else {
    for (let i = 0; i < paired; i++) {
      value = (value + stored[half + i] - 128) & 255
      out[2 * i] = stored[i]
      out[2 * i + 1] = value
    }
  }
  if (n & 1) out[n - 1] = stored[half - 1]
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
