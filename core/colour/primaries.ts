/** Primaries and white points, and the matrices between them: from chromaticities, with Bradford adaptation. */

import type { ColourStep, Rgb } from '../kernels/colour-program'

export const primariesNames = [
  'rec709',
  'rec2020',
  'p3-d65',
  'acescg',
  'aces',
  'wide-gamut-3',
  'wide-gamut-4',
  's-gamut3',
  's-gamut3-cine',
  'v-gamut',
  'cinema-gamut',
] as const

export type PrimariesName = (typeof primariesNames)[number]

export type Chromaticity = readonly [x: number, y: number]

export interface Primaries {
  readonly label: string
  readonly red: Chromaticity
  readonly green: Chromaticity
  readonly blue: Chromaticity
  readonly white: Chromaticity
}

const d65: Chromaticity = [0.3127, 0.329]
/** The white point of ACES, close to D60 (TB-2018-001). */
const acesWhite: Chromaticity = [0.32168, 0.33767]

const named = (label: string, rgb: readonly number[], white = d65): Primaries => ({
  label,
  red: [rgb[0], rgb[1]],
  green: [rgb[2], rgb[3]],
  blue: [rgb[4], rgb[5]],
  white,
})

/** As published by the standards' bodies and the makers of the cameras. */
export const primaries: Readonly<Record<PrimariesName, Primaries>> = {
  rec709: named('Rec.709 / sRGB', [0.64, 0.33, 0.3, 0.6, 0.15, 0.06]),
  rec2020: named('Rec.2020', [0.708, 0.292, 0.17, 0.797, 0.131, 0.046]),
  'p3-d65': named('P3-D65', [0.68, 0.32, 0.265, 0.69, 0.15, 0.06]),
  acescg: named('ACEScg (AP1)', [0.713, 0.293, 0.165, 0.83, 0.128, 0.044], acesWhite),
  aces: named('ACES2065-1 (AP0)', [0.7347, 0.2653, 0, 1, 0.0001, -0.077], acesWhite),
  'wide-gamut-3': named('ARRI Wide Gamut 3', [0.684, 0.313, 0.221, 0.848, 0.0861, -0.102]),
  'wide-gamut-4': named('ARRI Wide Gamut 4', [0.7347, 0.2653, 0.1424, 0.8576, 0.0991, -0.0308]),
  's-gamut3': named('S-Gamut3', [0.73, 0.28, 0.14, 0.855, 0.1, -0.05]),
  's-gamut3-cine': named('S-Gamut3.Cine', [0.766, 0.275, 0.225, 0.8, 0.089, -0.087]),
  'v-gamut': named('V-Gamut', [0.73, 0.28, 0.165, 0.84, 0.1, -0.03]),
  'cinema-gamut': named('Cinema Gamut', [0.74, 0.27, 0.17, 1.14, 0.08, -0.1]),
}

export type Matrix = readonly [Rgb, Rgb, Rgb]

export function multiply(a: Matrix, b: Matrix): Matrix {
  const row = (r: Rgb): Rgb => [0, 1, 2].map((c) => r[0] * b[0][c] + r[1] * b[1][c] + r[2] * b[2][c]) as unknown as Rgb
  return [row(a[0]), row(a[1]), row(a[2])]
}

export function transform([a, b, c]: Matrix, v: Rgb): Rgb {
  const dot = (r: Rgb) => r[0] * v[0] + r[1] * v[1] + r[2] * v[2]
  return [dot(a), dot(b), dot(c)]
}

export function invert([[a, b, c], [d, e, f], [g, h, i]]: Matrix): Matrix {
  const [A, B, C] = [e * i - f * h, f * g - d * i, d * h - e * g]
  const det = a * A + b * B + c * C
  return [
    [A / det, (c * h - b * i) / det, (b * f - c * e) / det],
    [B / det, (a * i - c * g) / det, (c * d - a * f) / det],
    [C / det, (b * g - a * h) / det, (a * e - b * d) / det],
  ]
}

const toXyz = ([x, y]: Chromaticity): Rgb => [x / y, 1, (1 - x - y) / y]

/** @returns the matrix from linear RGB to CIE XYZ with the white's own Y at 1 (SMPTE RP 177) */
export function xyzFromRgb({ red, green, blue, white }: Omit<Primaries, 'label'>): Matrix {
  const [r, g, b] = [red, green, blue].map(toXyz)
  const columns: Matrix = [
    [r[0], g[0], b[0]],
    [r[1], g[1], b[1]],
    [r[2], g[2], b[2]],
  ]
  const shares = transform(invert(columns), toXyz(white))
  return columns.map((row) => row.map((value, c) => value * shares[c])) as unknown as Matrix
}

const bradford: Matrix = [
  [0.8951, 0.2664, -0.1614],
  [-0.7502, 1.7135, 0.0367],
  [0.0389, -0.0685, 1.0296],
]

/** @returns the matrix that adapts XYZ from one white point to another */
export function adaptation(from: Chromaticity, to: Chromaticity): Matrix {
  const [source, target] = [transform(bradford, toXyz(from)), transform(bradford, toXyz(to))]
  const scale: Matrix = [
    [target[0] / source[0], 0, 0],
    [0, target[1] / source[1], 0],
    [0, 0, target[2] / source[2]],
  ]
  return multiply(invert(bradford), multiply(scale, bradford))
}

const same = (a: Chromaticity, b: Chromaticity) => a[0] === b[0] && a[1] === b[1]

/** @returns the matrix from linear light in one set of primaries to another */
export function matrixBetween(from: Omit<Primaries, 'label'>, to: Omit<Primaries, 'label'>): Matrix {
  const xyz = xyzFromRgb(from)
  const adapted = same(from.white, to.white) ? xyz : multiply(adaptation(from.white, to.white), xyz)
  return multiply(invert(xyzFromRgb(to)), adapted)
}

/** @returns the steps from one set of primaries to another; none when they are the same */
export function primariesSteps(from: PrimariesName, to: PrimariesName): readonly ColourStep[] {
  return from === to ? [] : [{ do: 'matrix', rows: matrixBetween(primaries[from], primaries[to]) }]
}

/** Weights of red, green and blue in luminance. */
export function lumaWeights(name: PrimariesName): Rgb {
  return xyzFromRgb(primaries[name])[1]
}

/** Chromaticities that differ by less than this are the same: files round them to floats or to four digits. */
const chromaticityTolerance = 6e-4

/** @returns the name of the set that has these chromaticities, or null */
export function primariesNamed(given: Omit<Primaries, 'label'>): PrimariesName | null {
  const near = (a: Chromaticity, b: Chromaticity) =>
    Math.abs(a[0] - b[0]) < chromaticityTolerance && Math.abs(a[1] - b[1]) < chromaticityTolerance
  return (
    primariesNames.find((name) => {
      const known = primaries[name]
      return (['red', 'green', 'blue', 'white'] as const).every((part) => near(known[part], given[part]))
    }) ?? null
  )
}

/** The working spaces that a shot can have, by the name in its document. */
export const workingSpaces = {
  'linear-rec709': 'rec709',
  acescg: 'acescg',
  'linear-rec2020': 'rec2020',
} as const satisfies Record<string, PrimariesName>

export type WorkingSpace = keyof typeof workingSpaces
