/**
 * For the tests: the W3C's Compositing and Blending Level 1 in double precision, on colour that is not premultiplied, going on
 * above 1 as docs/decisions/0013-blends.md says.
 */

import type { hslBlends, porterDuffOperators, separableBlends } from '../kernels/kernels'

export type Rgb = readonly [number, number, number]

/** Shares of element and backdrop, section 9.1. */
export const shares: Record<
  (typeof porterDuffOperators)[number],
  (aF: number, aB: number) => readonly [number, number]
> = {
  clear: () => [0, 0],
  copy: () => [1, 0],
  destination: () => [0, 1],
  'source-over': (aF) => [1, 1 - aF],
  'destination-over': (_, aB) => [1 - aB, 1],
  'source-in': (_, aB) => [aB, 0],
  'destination-in': (aF) => [0, aF],
  'source-out': (_, aB) => [1 - aB, 0],
  'destination-out': (aF) => [0, 1 - aF],
  'source-atop': (aF, aB) => [aB, 1 - aF],
  'destination-atop': (aF, aB) => [1 - aB, aF],
  xor: (aF, aB) => [1 - aB, 1 - aF],
  lighter: () => [1, 1],
}

const screen = (b: number, s: number) => (b <= 1 && s <= 1 ? b + s - b * s : Math.max(b, s))
const hardLight = (b: number, s: number) => (s <= 0.5 ? b * 2 * s : screen(b, 2 * s - 1))
export const separable: Record<(typeof separableBlends)[number], (b: number, s: number) => number> = {
  normal: (_, s) => s,
  multiply: (b, s) => b * s,
  screen,
  overlay: (b, s) => hardLight(s, b),
  darken: Math.min,
  lighten: Math.max,
  'color-dodge': (b, s) => (b <= 0 ? b : s >= 1 ? Math.max(1, b) : Math.min(Math.max(1, b), b / (1 - s))),
  'color-burn': (b, s) => (b >= 1 || b < 0 ? b : s <= 0 ? 0 : 1 - Math.min(1, (1 - b) / s)),
  'hard-light': hardLight,
  'soft-light': (b, wide) => {
    const s = Math.min(1, Math.max(0, wide))
    if (b > 1 || b < 0) return b
    if (s <= 0.5) return b - (1 - 2 * s) * b * (1 - b)
    const d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b)
    return b + (2 * s - 1) * (d - b)
  },
  difference: (b, s) => Math.abs(b - s),
  exclusion: (b, s) => (b <= 1 && s <= 1 ? b + s - 2 * b * s : Math.abs(b - s)),
}

const luminosity = ([r, g, b]: Rgb) => 0.3 * r + 0.59 * g + 0.11 * b
export const saturationOf = (c: Rgb) => Math.max(...c) - Math.min(...c)
const map = (c: Rgb, change: (v: number) => number): Rgb => [change(c[0]), change(c[1]), change(c[2])]

function withLuminosity(c: Rgb, wanted: number, ceiling: number): Rgb {
  const lifted = map(c, (v) => v + wanted - luminosity(c))
  const [n, x] = [Math.min(...lifted), Math.max(...lifted)]
  const up = n < 0 ? map(lifted, (v) => wanted + ((v - wanted) * wanted) / (wanted - n)) : lifted
  return x > ceiling && x > wanted ? map(up, (v) => wanted + ((v - wanted) * (ceiling - wanted)) / (x - wanted)) : up
}

function withSaturation(c: Rgb, wanted: number): Rgb {
  const range = saturationOf(c)
  return range > 0 ? map(c, (v) => ((v - Math.min(...c)) * wanted) / range) : [0, 0, 0]
}

const inseparable: Record<(typeof hslBlends)[number], (b: Rgb, s: Rgb) => { colour: Rgb; light: number }> = {
  hue: (b, s) => ({ colour: withSaturation(s, saturationOf(b)), light: luminosity(b) }),
  saturation: (b, s) => ({ colour: withSaturation(b, saturationOf(s)), light: luminosity(b) }),
  color: (b, s) => ({ colour: s, light: luminosity(b) }),
  luminosity: (b, s) => ({ colour: b, light: luminosity(s) }),
}

export function luminosityMix(mode: (typeof hslBlends)[number], backdrop: Rgb, source: Rgb): Rgb {
  const { colour, light } = inseparable[mode](backdrop, source)
  return withLuminosity(colour, light, Math.max(1, ...backdrop))
}
