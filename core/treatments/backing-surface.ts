/** Light of a backing over the frame, as a smooth surface through picks of it. */

import { solved } from '../algebra/solved'

export interface BackingPick {
  /** full-scale pixels */
  readonly x: number
  readonly y: number
  readonly light: readonly number[]
}

/** Where u and v are 0, and how many pixels are 1 of them. */
export interface SurfaceFrame {
  readonly x: number
  readonly y: number
  readonly unit: number
}

/** Terms of 1, u, v, u2, uv, v2. */
const terms = (u: number, v: number) => [1, u, v, u * u, u * v, v * v]
/** As many picks are needed for as many terms, with some to spare. */
const termsFor = (picks: number) => (picks >= 9 ? 6 : picks >= 4 ? 3 : 1)

/**
 * By least squares, of an order that the picks can tell.
 *
 * @returns six numbers a channel, red, green and blue one after the other
 */
export function backingSurface(picks: readonly BackingPick[], { x, y, unit }: SurfaceFrame): readonly number[] {
  const count = termsFor(picks.length)
  const rows = picks.map((pick) => terms((pick.x - x) / unit, (pick.y - y) / unit).slice(0, count))
  const normal = Array.from({ length: count * count }, (_, at) =>
    rows.reduce((sum, row) => sum + row[Math.floor(at / count)] * row[at % count], 0),
  )
  return [0, 1, 2].flatMap((c) => {
    const right = Array.from({ length: count }, (_, i) =>
      rows.reduce((sum, row, k) => sum + row[i] * picks[k].light[c], 0),
    )
    const found = solved(normal, right, 1e-9)
    const mean = picks.reduce((sum, { light }) => sum + light[c] / picks.length, 0)
    // Picks on one line tell no surface.
    const known = found ? [...found] : [mean]
    return [...known, ...Array<number>(6 - known.length).fill(0)]
  })
}

/** Light of the surface at a place, for one channel. */
export function surfaceAt(
  surface: readonly number[],
  c: number,
  { x, y, unit }: SurfaceFrame,
  px: number,
  py: number,
): number {
  return terms((px - x) / unit, (py - y) / unit).reduce((sum, term, i) => sum + term * surface[6 * c + i], 0)
}
