/** Ways through lenses and matrices: where a place comes to lie, the way back, and the same in other pixels. */

import type { Lens, Matrix3, Way, WayField } from '../graph/steps'
import { bent, straightener } from './lens'
import { inverseOf, throughMatrix } from './mapping'
import { atScale, type Spot } from './placing'

export type { Way } from '../graph/steps'

type Through = (x: number, y: number) => Spot | null

/** @returns what leads along a way; null beyond a lens's fold, and behind the eye */
export function along(way: Way): Through {
  const parts = way.map((part): Through => {
    if ('matrix' in part) return (x, y) => throughMatrix(part.matrix, x, y)
    return part.leads === 'to-straight' ? straightener(part.lens) : (x, y) => bent(part.lens, [x, y])
  })
  return (x, y) => {
    let place: Spot | null = [x, y]
    for (let i = 0; place && i < parts.length; i++) place = parts[i](place[0], place[1])
    return place
  }
}

/** @returns the same the other way round; null where a matrix flattens everything */
export function wayBack(way: Way): Way | null {
  const back: Way[number][] = []
  for (const part of [...way].reverse()) {
    if ('lens' in part) back.push({ ...part, leads: part.leads === 'to-bent' ? 'to-straight' : 'to-bent' })
    else {
      const matrix = inverseOf(part.matrix)
      if (!matrix) return null
      back.push({ matrix })
    }
  }
  return back
}

/** A lens of full-scale pixels in pixels of a graph at a scale. */
export const lensAtScale = (lens: Lens, scale: number): Lens => ({
  ...lens,
  centre: [lens.centre[0] / scale, lens.centre[1] / scale],
  unit: lens.unit / scale,
})

/** A way of full-scale pixels in pixels of a graph at a scale. */
export const wayAtScale = (way: Way, scale: number): Way =>
  way.map((part) =>
    'lens' in part ? { ...part, lens: lensAtScale(part.lens, scale) } : { matrix: atScale(part.matrix, scale) },
  )

/**
 * From where things are seen through one lens to where they are through another, when the matrix moves the straight picture.
 *
 * @param lens null: the matrix holds in the picture as it is
 */
export const throughLens = (matrix: Matrix3, lens: { readonly from: Lens; readonly to: Lens } | null): Way =>
  lens ? [{ lens: lens.from, leads: 'to-straight' }, { matrix }, { lens: lens.to, leads: 'to-bent' }] : [{ matrix }]

/** Blocks of so many pixels a side are interpolated where that is exact enough: a lens bends smoothly. */
const side = 8
/** Pixels, where interpolating is farthest off. */
const exactEnough = 1e-6

/** Lagrange's cubic through four knots, by the share of the way from the second to the third: four weights for each. */
const weights = Float64Array.from(
  Array.from({ length: side }, (_, i) => cubicAt((i + 0.5) / side)).flatMap((four) => [...four]),
)
const halfway = Float64Array.from(cubicAt(0.5))

function cubicAt(t: number): readonly number[] {
  return [
    (-t * (t - 1) * (t - 2)) / 6,
    ((t + 1) * (t - 1) * (t - 2)) / 2,
    (-(t + 1) * t * (t - 2)) / 2,
    ((t + 1) * t * (t - 1)) / 6,
  ]
}

/**
 * Where every pixel's middle of a window leads. Within a millionth of a pixel: a block whose middle is farther off than that when it is
 * interpolated is led pixel by pixel.
 *
 * @returns across and down of each, row by row; no number where a lens shows nothing
 */
export function placesOver({ way, window: { x: left, y: top, width, height } }: WayField): Float64Array {
  const through = along(way)
  const places = new Float64Array(2 * width * height)
  const led = (x: number, y: number, at: number, into: Float64Array) => {
    const place = through(x, y)
    into[at] = place ? place[0] : NaN
    into[at + 1] = place ? place[1] : NaN
  }
  const [across, down] = [Math.ceil(width / side), Math.ceil(height / side)]
  const pitch = 2 * (across + 3)
  const knots = new Float64Array(pitch * (down + 3))
  for (let row = 0, k = 0; row < down + 3; row++)
    for (let column = 0; column < across + 3; column++, k += 2)
      led(left + (column - 1) * side, top + (row - 1) * side, k, knots)
  const columns = new Float64Array(8)
  const middle = new Float64Array(4)
  for (let by = 0; by < down; by++)
    for (let bx = 0; bx < across; bx++) {
      const knot = by * pitch + 2 * bx
      const [x0, y0] = [bx * side, by * side]
      led(left + x0 + side / 2, top + y0 + side / 2, 0, middle)
      downTo(knots, knot, pitch, halfway, 0, columns)
      acrossTo(columns, halfway, 1, 2, middle)
      const off = Math.abs(middle[0] - middle[2]) + Math.abs(middle[1] - middle[3])
      const [rows, wide] = [Math.min(side, height - y0), Math.min(side, width - x0)]
      for (let row = 0; row < rows; row++) {
        const at = 2 * ((y0 + row) * width + x0)
        if (off <= exactEnough) {
          downTo(knots, knot, pitch, weights, 4 * row, columns)
          acrossTo(columns, weights, wide, at, places)
        } else
          for (let column = 0; column < wide; column++)
            led(left + x0 + column + 0.5, top + y0 + row + 0.5, at + 2 * column, places)
      }
    }
  return places
}

/** The four columns of knots about a block, so far down it. */
function downTo(
  knots: Float64Array,
  knot: number,
  pitch: number,
  by: Float64Array,
  from: number,
  columns: Float64Array,
): void {
  const [a, b, c, d] = [by[from], by[from + 1], by[from + 2], by[from + 3]]
  for (let j = 0, k = knot; j < 8; j++, k++)
    columns[j] = a * knots[k] + b * knots[k + pitch] + c * knots[k + 2 * pitch] + d * knots[k + 3 * pitch]
}

/** So many places across a block. */
function acrossTo(columns: Float64Array, by: Float64Array, count: number, at: number, into: Float64Array): void {
  for (let i = 0, k = 0; i < count; i++, k += 4)
    for (let axis = 0; axis < 2; axis++)
      into[at + 2 * i + axis] =
        by[k] * columns[axis] +
        by[k + 1] * columns[axis + 2] +
        by[k + 2] * columns[axis + 4] +
        by[k + 3] * columns[axis + 6]
}
