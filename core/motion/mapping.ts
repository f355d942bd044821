/**
 * Geometry as a value: from a pixel's centre in the picture (i + 0.5) to a place in an element. Mappings are composed in
 * double precision, and the picture is sampled once.
 */

import { identity, wayField, type FrameStep, type Leading, type Mapping, type Matrix3, type Way } from '../graph/steps'
import type { Window } from '../image/window'

export const unmoved: Mapping = { field: null, matrix: identity }

/** @returns the matrix that leads through `first` and then through `second` */
export function multiplied(second: Matrix3, first: Matrix3): Matrix3 {
  const out = Array.from({ length: 9 }, (_, i) => {
    const [row, column] = [Math.floor(i / 3) * 3, i % 3]
    return second[row] * first[column] + second[row + 1] * first[column + 3] + second[row + 2] * first[column + 6]
  })
  return out as unknown as Matrix3
}

/** Moves each place by what the field says at the pixel; it comes first, since a field is known at the picture's pixels. */
export const byField = (field: FrameStep): Mapping => ({ field, matrix: identity })
export const byMatrix = (matrix: Matrix3): Mapping => ({ field: null, matrix })
/** @param x factor from the picture's pixels to the element's */
export const byScale = (x: number, y: number): Mapping => byMatrix([x, 0, 0, 0, y, 0, 0, 0, 1])
export const byShift = (x: number, y: number): Mapping => byMatrix([1, 0, x, 0, 1, y, 0, 0, 1])

/**
 * A field that comes second is known at other pixels than the picture's: one that is computed is computed anew where the first leads.
 *
 * @returns through `first`, then through `second`; null where that takes two samplings: a field from a file that comes second, or two warps
 */
export function composed(first: Mapping, second: Mapping): Mapping | null {
  if (second.field && (first.field || !isIdentity(first.matrix) || first.warp)) {
    const field = fieldBehind(first, second.field)
    return field && { ...second, field }
  }
  const leading = led(first, second)
  return leading && { field: first.field ?? second.field, ...leading }
}

function fieldBehind(
  { field: first, matrix, warp }: Mapping,
  { request: { way: second } }: FrameStep,
): FrameStep | null {
  if (warp || !second) return null
  const way = first ? first.request.way?.way : []
  if (!way) return null
  const window = first?.request.way?.window ?? second.window
  return wayField({ way: joined(joined(way, [{ matrix }]), second.way), window })
}

/** Through `first` and then through `second`; matrices that meet become one. */
export function joined(first: Way, second: Way): Way {
  const parts: Way[number][] = []
  for (const part of [...first, ...second]) {
    const last = parts.at(-1)
    if ('lens' in part) parts.push(part)
    else if (last && 'matrix' in last) parts[parts.length - 1] = { matrix: multiplied(part.matrix, last.matrix) }
    else if (!isIdentity(part.matrix)) parts.push(part)
  }
  return parts
}

/** The same without fields. */
export function led(first: Leading, second: Leading): Leading | null {
  if (!first.warp) {
    const matrix = multiplied(second.matrix, first.matrix)
    return second.warp ? { matrix, warp: second.warp } : { matrix }
  }
  if (second.warp) return null
  return { matrix: first.matrix, warp: { ...first.warp, then: multiplied(second.matrix, first.warp.then) } }
}

/** A matrix about a place. @param linear what it does to differences from the place, row by row */
export const about = (
  [x, y]: readonly [number, number],
  [a, b, c, d]: readonly [number, number, number, number],
): Matrix3 => [a, b, x - a * x - b * y, c, d, y - c * x - d * y, 0, 0, 1]

export const isIdentity = (matrix: Matrix3): boolean => matrix.every((value, i) => value === identity[i])

/** @returns null where there is none */
export function inverseOf([a, b, c, d, e, f, g, h, i]: Matrix3): Matrix3 | null {
  const determinant = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g)
  if (!Number.isFinite(1 / determinant)) return null
  const k = 1 / determinant
  return [
    (e * i - f * h) * k,
    (c * h - b * i) * k,
    (b * f - c * e) * k,
    (f * g - d * i) * k,
    (a * i - c * g) * k,
    (c * d - a * f) * k,
    (d * h - e * g) * k,
    (b * g - a * h) * k,
    (a * e - b * d) * k,
  ]
}

/** @returns where a place comes to lie; null behind the eye (third component not above 0) */
export function throughMatrix(m: Matrix3, x: number, y: number): readonly [number, number] | null {
  const w = m[6] * x + m[7] * y + m[8]
  return w > 0 ? [(m[0] * x + m[1] * y + m[2]) / w, (m[3] * x + m[4] * y + m[5]) / w] : null
}

/**
 * How many pixels of the element a step of one pixel in the picture passes at most, over a window's corners; at least 1.
 * Behind the eye it is as at the nearest corner before it.
 */
export function shrinkOver(m: Matrix3, { x, y, width, height }: Window): number {
  const corners = [
    [x, y],
    [x + width, y],
    [x, y + height],
    [x + width, y + height],
  ]
  return Math.max(1, ...corners.map(([px, py]) => shrinkAt(m, px, py)))
}

function shrinkAt(m: Matrix3, x: number, y: number): number {
  const w = m[6] * x + m[7] * y + m[8]
  if (!(w > 0)) return 1
  const [u, v] = [(m[0] * x + m[1] * y + m[2]) / w, (m[3] * x + m[4] * y + m[5]) / w]
  const [ux, uy] = [(m[0] - u * m[6]) / w, (m[1] - u * m[7]) / w]
  const [vx, vy] = [(m[3] - v * m[6]) / w, (m[4] - v * m[7]) / w]
  return Math.max(Math.abs(ux) + Math.abs(uy), Math.abs(vx) + Math.abs(vy))
}
