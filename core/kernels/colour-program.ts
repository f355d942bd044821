/** Colour steps as data, and as the words that the module runs (assembly/program.ts has what each does). */

export type Rgb = readonly [number, number, number]

export type ColourStep =
  | { readonly do: 'affine'; readonly gain: Rgb; readonly veil: Rgb }
  /** exponents other than 0 */
  | { readonly do: 'power'; readonly exponent: Rgb }
  /** row by row */
  | { readonly do: 'matrix'; readonly rows: readonly [Rgb, Rgb, Rgb] }
  | { readonly do: 'linear-from-srgb' | 'srgb-from-linear' | 'premultiply' | 'unpremultiply' | 'log2' | 'exp2' }
  /** of all four channels: what is open becomes closed */
  | { readonly do: 'complement' }
  | { readonly do: 'light-above'; readonly threshold: number; readonly knee: number }

const codes = {
  affine: 1,
  power: 2,
  matrix: 3,
  'linear-from-srgb': 4,
  'srgb-from-linear': 5,
  premultiply: 6,
  unpremultiply: 7,
  log2: 8,
  exp2: 9,
  'light-above': 10,
  complement: 11,
} as const satisfies Record<ColourStep['do'], number>

/** A softer knee than this cannot be told from a hard one. */
const leastKnee = 1e-6

function operands(step: ColourStep): readonly number[] {
  switch (step.do) {
    case 'affine':
      return [...step.gain, ...step.veil]
    case 'power':
      return step.exponent
    case 'matrix':
      return step.rows.flat()
    case 'light-above':
      return step.knee > leastKnee ? [step.threshold, step.knee, 1 / (4 * step.knee)] : [step.threshold, 0, 0]
    default:
      return []
  }
}

/** @returns bytes that the program takes */
export function programBytes(steps: readonly ColourStep[]): number {
  return steps.reduce((sum, step) => sum + 4 * (1 + operands(step).length), 4)
}

/** Writes the program at an address divisible by 4. */
export function writeProgram(memory: ArrayBufferLike, address: number, steps: readonly ColourStep[]): void {
  const words = new Int32Array(memory)
  const floats = new Float32Array(memory)
  let at = address >> 2
  for (const step of steps) {
    words[at++] = codes[step.do]
    for (const value of operands(step)) floats[at++] = value
  }
  words[at] = 0
}
