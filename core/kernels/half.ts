/**
 * Half floats (IEEE 754-2008 binary16) to and from single floats, exactly.
 *
 * Every one of the 65536 halves has its float in a table; the way back rounds to nearest, ties to even.
 */

const floatOfHalf = buildTable()

function buildTable(): Float32Array {
  const bits = new Uint32Array(65536)
  for (let h = 0; h < 65536; h++) {
    const sign = (h & 0x8000) << 16
    const exponent = (h >> 10) & 31
    const mantissa = h & 1023
    if (exponent === 31) bits[h] = sign | 0x7f800000 | (mantissa << 13)
    else if (exponent > 0) bits[h] = sign | ((exponent + 112) << 23) | (mantissa << 13)
    else if (mantissa === 0) bits[h] = sign
    else {
      const leading = Math.clz32(mantissa) - 21
      bits[h] = sign | ((113 - leading) << 23) | (((mantissa << leading) & 1023) << 13)
    }
  }
  return new Float32Array(bits.buffer)
}

/** The table itself: index a half's 16 bits, get its float. Read only. */
export const halfTable: Float32Array = floatOfHalf

/** @param half 16 bits of a half float; @returns its value */
export function halfToFloat(half: number): number {
  return floatOfHalf[half]
}

const scratchFloat = new Float32Array(1)
const scratchBits = new Uint32Array(scratchFloat.buffer)

/** @returns the 16 bits of the nearest half; values past 65520 become infinity, NaN stays NaN with its top payload bits */
export function floatToHalf(value: number): number {
  scratchFloat[0] = value
  return floatBitsToHalf(scratchBits[0])
}

/** The same from the 32 bits of a float, so that loops over a Uint32Array view pay no conversion. */
export function floatBitsToHalf(bits: number): number {
  const sign = (bits >>> 16) & 0x8000
  const magnitude = bits & 0x7fffffff
  if (magnitude >= 0x47800000) {
    if (magnitude <= 0x7f800000) return sign | 0x7c00
    const payload = (magnitude >> 13) & 1023
    return sign | 0x7c00 | (payload === 0 ? 1 : payload)
  }
  if (magnitude >= 0x38800000) {
    const rounded = magnitude - 0x38000000 + 0xfff + ((magnitude >> 13) & 1)
    return sign | (rounded >> 13)
  }
  if (magnitude <= 0x33000000) return sign
  const shift = 126 - (magnitude >> 23)
  const mantissa = (magnitude & 0x7fffff) | 0x800000
  const half = mantissa >> shift
  const rest = mantissa & ((1 << shift) - 1)
  const tie = 1 << (shift - 1)
  return sign | (half + (rest > tie || (rest === tie && (half & 1) === 1) ? 1 : 0))
}
