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
const runBits = 11
const runs = (0x3f800000 - lowestBits) >> runBits
let table: Uint8Array | null = null

/**
 * The table by which the view kernels round (assembly/view.ts): for each run of floats from 2^-13 to 1 with the same upper
 * 21 bits, the code of its middle. A run is a 28th of a code wide at most, so only what lies within a 56th of a code from
 * halfway between two can be given the other one.
 */
export function writeViewTable(memory: ArrayBufferLike, address: number): void {
  table ??= viewTable()
  new Uint8Array(memory, address, table.length).set(table)
}

function viewTable(): Uint8Array {
  const codes = new Uint8Array(runs)
  const bits = new Uint32Array(1)
  const float = new Float32Array(bits.buffer)
  // Every thread makes it, so it is filled from one code's least light to the next's instead of a power for every run.
  const leastOf = (code: number) => linearFromSrgb((code - 0.5) / 255)
  let code = 0
  let next = leastOf(1)
  for (let run = 0; run < runs; run++) {
    bits[0] = lowestBits + (run << runBits) + (1 << (runBits - 1))
    while (float[0] >= next) next = leastOf(++code + 1)
    codes[run] = code
  }
  return codes
}
