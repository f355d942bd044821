/** The sRGB curve (IEC 61966-2-1), and its exact rounding to 8 bits. */

import { power } from './power'

/** @returns scene-linear value of an sRGB code value; mirrored for negatives, going on above 1 */
export function linearFromSrgb(code: number): number {
  const magnitude = Math.abs(code)
  const linear = magnitude <= 0.04045 ? magnitude / 12.92 : power((magnitude + 0.055) / 1.055, 2.4)
  return code < 0 ? -linear : linear
}

/** @returns sRGB code value of a scene-linear value */
export function srgbFromLinear(linear: number): number {
  const magnitude = Math.abs(linear)
  const code = magnitude <= 0.0031308 ? magnitude * 12.92 : 1.055 * power(magnitude, 1 / 2.4) - 0.055
  return linear < 0 ? -code : code
}

/** `thresholds[k]` is the least float whose 8-bit code is k. */
const thresholds = new Float32Array(257)
/** The code of the least float that shares its upper 16 bits. */
const firstCode = new Uint8Array(0x3f80 + 1)
prepare()

function prepare(): void {
  thresholds[0] = -Infinity
  for (let k = 1; k < 256; k++) {
    thresholds[k] = Math.fround(linearFromSrgb((k - 0.5) / 255))
  }
  thresholds[256] = Infinity
  const bits = new Uint32Array(1)
  const float = new Float32Array(bits.buffer)
  let code = 0
  for (let upper = 0; upper <= 0x3f80; upper++) {
    bits[0] = upper << 16
    while (float[0] >= thresholds[code + 1]) code++
    firstCode[upper] = code
  }
}

const one = new Float32Array(1)
const oneBits = new Uint32Array(one.buffer)

/** @returns the sRGB code 0..255 of a scene-linear float, rounded to nearest; NaN and negatives give 0 */
export function srgb8(linear: number): number {
  if (!(linear > 0)) return 0
  if (linear >= 1) return 255
  one[0] = linear
  let code = firstCode[oneBits[0] >>> 16]
  while (linear >= thresholds[code + 1]) code++
  return code
}
