/** Colour steps as data, and as the words that the module runs (assembly/program.ts has what each does). */

export type Rgb = readonly [number, number, number]

/** `(2^((code - o) k) - b) s` of a code value: one piece of a camera log. */
export interface ExponentialPiece {
  readonly o: number
  readonly k: number
  readonly b: number
  readonly s: number
}

/**
 * A curve from code values to linear light: `lower` below the first cut, `(code - zero) slope` between the cuts, `upper` from
 * the second on. Cuts are given in both, so that neither direction depends on the rounding of the other.
 */
export interface Pieces {
  readonly upper: ExponentialPiece
  /** null: straight down to minus infinity */
  readonly lower: ExponentialPiece | null
  readonly straight: { readonly zero: number; readonly slope: number }
  readonly cutsInCode: readonly [number, number]
  readonly cutsInLight: readonly [number, number]
  /** linear light is held to this range */
  readonly least?: number
  readonly most?: number
}

/** BT.2100 table 5. */
export const hlg = { a: 0.17883277, b: 0.28466892, c: 0.55991073 } as const

export type ColourStep =
  | { readonly do: 'affine'; readonly gain: Rgb; readonly veil: Rgb }
  /** exponents other than 0 */
  | { readonly do: 'power'; readonly exponent: Rgb }
  /** row by row */
  | { readonly do: 'matrix'; readonly rows: readonly [Rgb, Rgb, Rgb] }
  | { readonly do: 'linear-from-srgb' | 'srgb-from-linear' | 'premultiply' | 'unpremultiply' | 'log2' | 'exp2' }
  | { readonly do: 'linear-from-pieces' | 'pieces-from-linear'; readonly pieces: Pieces }
  /** |c|^exponent with the sign of c */
  | { readonly do: 'mirrored-power'; readonly exponent: number }
  | { readonly do: 'linear-from-hlg' | 'hlg-from-linear' }
  /** `unit`: the linear light of 10000 cd/m2 */
  | { readonly do: 'linear-from-pq' | 'pq-from-linear'; readonly unit: number }
  /** the way back from `unpremultiply`: light without coverage stays as it is */
  | { readonly do: 'premultiply-covered' }
  /** factor on all four channels */
  | { readonly do: 'fade'; readonly amount: number }
  /** of all four channels: what is open becomes closed */
  | { readonly do: 'complement' }
  | { readonly do: 'clamp'; readonly least: number; readonly most: number }
  /** one of them as a grey in red, green and blue; hue and saturation as shares */
  | { readonly do: 'hsv'; readonly which: 'hue' | 'saturation' | 'value' }
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
  'linear-from-pieces': 12,
  'pieces-from-linear': 13,
  'mirrored-power': 14,
  'linear-from-hlg': 15,
  'hlg-from-linear': 16,
  'linear-from-pq': 17,
  'pq-from-linear': 18,
  hsv: 19,
  clamp: 20,
  'premultiply-covered': 21,
  fade: 22,
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
    case 'linear-from-pieces':
      return piecesOperands(step.pieces)
    case 'pieces-from-linear':
      return inversePiecesOperands(step.pieces)
    case 'fade':
      return [step.amount]
    case 'clamp':
      return [step.least, step.most]
    case 'hsv':
      return [['hue', 'saturation', 'value'].indexOf(step.which)]
    case 'mirrored-power':
      return [step.exponent]
    case 'linear-from-hlg':
    case 'hlg-from-linear':
      return [Math.LOG2E / hlg.a, hlg.c, hlg.b, hlg.a * Math.LN2]
    case 'linear-from-pq':
    case 'pq-from-linear':
      return [step.unit]
    default:
      return []
  }
}

function piecesOperands({ upper, lower, straight, cutsInCode: [low, high], most = Infinity }: Pieces): number[] {
  const { o, k, b, s } = lower ?? upper
  const { zero, slope } = straight
  return [lower ? low : -Infinity, high, upper.o, upper.k, upper.b, upper.s, o, k, b, s, zero, slope, most]
}

function inversePiecesOperands({
  upper,
  lower,
  straight,
  cutsInLight: [low, high],
  least = -Infinity,
}: Pieces): number[] {
  const inverse = ({ o, k, b, s }: ExponentialPiece) => [o, 1 / k, b, 1 / s]
  const { zero, slope } = straight
  return [lower ? low : -Infinity, high, ...inverse(upper), ...inverse(lower ?? upper), zero, 1 / slope, least]
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
