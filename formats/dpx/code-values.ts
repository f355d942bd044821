/** Code values of one line of a DPX picture, out of its bytes and into them. */

import type { Bits, Packing } from './header'

/** @returns bytes of a line of `count` code values */
export function lineBytes(count: number, bits: Bits, packing: Packing): number {
  if (bits === 16) return Math.ceil((count * 2) / 4) * 4
  if (bits === 8) return Math.ceil(count / 4) * 4
  if (packing === 'packed') return Math.ceil((count * bits) / 32) * 4
  return bits === 10 ? Math.ceil(count / 3) * 4 : Math.ceil((count * 2) / 4) * 4
}

/** Reads `out.length` code values that begin at byte `at`. */
export function unpackLine(
  view: DataView,
  at: number,
  out: Uint16Array,
  { bits, packing, littleEndian }: { bits: Bits; packing: Packing; littleEndian: boolean },
): void {
  const count = out.length
  if (bits === 16) for (let i = 0; i < count; i++) out[i] = view.getUint16(at + 2 * i, littleEndian)
  else if (bits === 8) for (let i = 0; i < count; i++) out[i] = view.getUint8(at + i)
  else if (packing === 'packed') unpackBits(view, at, out, bits, littleEndian)
  else if (bits === 10) {
    // Three to a word, the first uppermost; A has its two spare bits below them, B above.
    const spare = packing === 'filled-a' ? 2 : 0
    for (let i = 0; i < count; i += 3) {
      const word = view.getUint32(at + (i / 3) * 4, littleEndian)
      out[i] = (word >>> (20 + spare)) & 1023
      if (i + 1 < count) out[i + 1] = (word >>> (10 + spare)) & 1023
      if (i + 2 < count) out[i + 2] = (word >>> spare) & 1023
    }
  } else {
    const spare = packing === 'filled-a' ? 4 : 0
    for (let i = 0; i < count; i++) out[i] = (view.getUint16(at + 2 * i, littleEndian) >>> spare) & 4095
  }
}

/** One after the other from the lowest bit of each 32-bit word up. */
function unpackBits(view: DataView, at: number, out: Uint16Array, bits: number, littleEndian: boolean): void {
  const mask = (1 << bits) - 1
  for (let i = 0; i < out.length; i++) {
    const bit = i * bits
    const word = at + (bit >>> 5) * 4
    const shift = bit & 31
    let value = view.getUint32(word, littleEndian) >>> shift
    if (shift + bits > 32) value |= view.getUint32(word + 4, littleEndian) << (32 - shift)
    out[i] = value & mask
  }
}

/** Writes code values from byte `at` on; what is not a code value's bit must be 0 there. */
export function packLine(
  view: DataView,
  at: number,
  codes: Uint16Array,
  { bits, packing, littleEndian }: { bits: Bits; packing: Packing; littleEndian: boolean },
): void {
  const count = codes.length
  if (bits === 16) for (let i = 0; i < count; i++) view.setUint16(at + 2 * i, codes[i], littleEndian)
  else if (bits === 8) for (let i = 0; i < count; i++) view.setUint8(at + i, codes[i])
  else if (packing === 'packed') packBits(view, at, codes, bits, littleEndian)
  else if (bits === 10) {
    const spare = packing === 'filled-a' ? 2 : 0
    for (let i = 0; i < count; i += 3) {
      const [a, b, c] = [codes[i], codes[i + 1] ?? 0, codes[i + 2] ?? 0]
      view.setUint32(at + (i / 3) * 4, ((a << (20 + spare)) | (b << (10 + spare)) | (c << spare)) >>> 0, littleEndian)
    }
  } else {
    const spare = packing === 'filled-a' ? 4 : 0
    for (let i = 0; i < count; i++) view.setUint16(at + 2 * i, codes[i] << spare, littleEndian)
  }
}

function packBits(view: DataView, at: number, codes: Uint16Array, bits: number, littleEndian: boolean): void {
  const put = (word: number, value: number) =>
    view.setUint32(word, (view.getUint32(word, littleEndian) | value) >>> 0, littleEndian)
  codes.forEach((code, i) => {
    const bit = i * bits
    const word = at + (bit >>> 5) * 4
    const shift = bit & 31
    put(word, code << shift)
    if (shift + bits > 32) put(word + 4, code >>> (32 - shift))
  })
}
