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

const lowestBits = 0x39000000
const runs = (0x3f800000 - lowestBits) >> 12
let table: Uint8Array | null = null

/**
 * The table by which the view kernels round (assembly/view.ts): the least float of each of the codes 0..255, and one beyond
 * all; then, for each run of floats from 2^-13 to 1 with the same upper 20 bits, the code of its first.
 */
export function writeViewTable(memory: ArrayBufferLike, address: number): void {
  table ??= viewTable()
  new Uint8Array(memory, address, table.length).set(table)
}

function viewTable(): Uint8Array {
  const bytes = new Uint8Array(257 * 4 + runs)
  const least = new Float32Array(bytes.buffer, 0, 257)
  for (let code = 1; code < 256; code++) {
    const exact = linearFromSrgb((code - 0.5) / 255)
    least[code] = exact
    // the first float that is not below
    if (least[code] < exact) new Uint32Array(bytes.buffer, code * 4, 1)[0]++
  }
  least[256] = Infinity
  const bits = new Uint32Array(1)
  const float = new Float32Array(bits.buffer)
  let code = 0
  for (let run = 0; run < runs; run++) {
    bits[0] = lowestBits + (run << 12)
    while (float[0] >= least[code + 1]) code++
    bytes[257 * 4 + run] = code
  }
  return bytes
}
