/** A picture between its pixels: cubic B-splines through them. */

export interface Plane {
  readonly values: Float64Array
  readonly width: number
  readonly height: number
}

const pole = Math.sqrt(3) - 2
/** The filter's answer has faded to 1e-9 by then. */
const horizon = 16

/**
 * Coefficients whose spline goes through the pixels (Unser, "Splines: a perfect fit for signal and image processing", 1999).
 * Beyond the edges the picture is mirrored.
 */
export function splineOf({ values, width, height }: Plane): Plane {
  const out = Float64Array.from(values)
  for (let y = 0; y < height; y++) prefilter(out, y * width, 1, width)
  for (let x = 0; x < width; x++) prefilter(out, x, width, height)
  return { values: out, width, height }
}

function prefilter(values: Float64Array, from: number, stride: number, count: number): void {
  if (count < 2) return
  const at = (i: number) => from + i * stride
  let sum = values[at(0)]
  let power = pole
  for (let i = 1; i < Math.min(count, horizon); i++) {
    sum += power * values[at(i)]
    power *= pole
  }
  values[at(0)] = sum
  for (let i = 1; i < count; i++) values[at(i)] += pole * values[at(i - 1)]
  const last = count - 1
  values[at(last)] = (pole / (pole * pole - 1)) * (pole * values[at(last - 1)] + values[at(last)])
  for (let i = last - 1; i >= 0; i--) values[at(i)] = pole * (values[at(i + 1)] - values[at(i)])
  for (let i = 0; i < count; i++) values[at(i)] *= 6
}

/** Value, and slopes across and down, at a place given in pixels from the first one's middle. */
export interface Sampled {
  value: number
  across: number
  down: number
}

/** @returns false where the place is not inside by so much that four by four coefficients lie around it */
export function sampleSpline({ values, width, height }: Plane, x: number, y: number, into: Sampled): boolean {
  const [left, top] = [Math.floor(x), Math.floor(y)]
  if (left < 1 || top < 1 || left + 2 >= width || top + 2 >= height) return false
  const [u, v] = [x - left, y - top]
  const [a0, a1, a2, a3] = weights(u)
  const [b0, b1, b2, b3] = slopes(u)
  const down = weights(v)
  const steep = slopes(v)
  let [value, across, along] = [0, 0, 0]
  for (let j = 0; j < 4; j++) {
    const i = (top + j - 1) * width + left - 1
    const [p, q, r, s] = [values[i], values[i + 1], values[i + 2], values[i + 3]]
    const row = a0 * p + a1 * q + a2 * r + a3 * s
    value += down[j] * row
    along += steep[j] * row
    across += down[j] * (b0 * p + b1 * q + b2 * r + b3 * s)
  }
  into.value = value
  into.across = across
  into.down = along
  return true
}

/** Values and slopes of a square of places a pixel apart, row by row. */
export interface SampledSquare {
  readonly value: Float64Array
  readonly across: Float64Array
  readonly down: Float64Array
}

/** Sums along rows, reused: as long as the largest square that was asked for needs. */
let alongRows = { value: new Float64Array(0), across: new Float64Array(0) }

/**
 * As `sampleSpline` for each place of a square. All lie alike between pixels, so that rows and columns can be summed by turns with
 * the same weights: a third of the time.
 *
 * @param x of the first place, upper left @param side places each way
 * @returns false where they are not all inside
 */
export function sampleSquare(
  { values, width, height }: Plane,
  x: number,
  y: number,
  side: number,
  into: SampledSquare,
): boolean {
  const [left, top] = [Math.floor(x), Math.floor(y)]
  if (!(left >= 1 && top >= 1 && left + side + 1 < width && top + side + 1 < height)) return false
  const [a0, a1, a2, a3] = weights(x - left)
  const [b0, b1, b2, b3] = slopes(x - left)
  const [c0, c1, c2, c3] = weights(y - top)
  const [d0, d1, d2, d3] = slopes(y - top)
  const needed = side * (side + 3)
  if (alongRows.value.length < needed) alongRows = { value: new Float64Array(needed), across: new Float64Array(needed) }
  const { value: rowValue, across: rowAcross } = alongRows
  for (let v = 0; v < side + 3; v++) {
    let i = (top + v - 1) * width + left - 1
    let p = values[i]
    let q = values[i + 1]
    let r = values[i + 2]
    for (let u = 0, at = v * side; u < side; u++, at++, i++) {
      const s = values[i + 3]
      rowValue[at] = a0 * p + a1 * q + a2 * r + a3 * s
      rowAcross[at] = b0 * p + b1 * q + b2 * r + b3 * s
      p = q
      q = r
      r = s
    }
  }
  const { value, across, down } = into
  for (let at = 0; at < side * side; at++) {
    const second = at + side
    const third = second + side
    const fourth = third + side
    const e = rowValue[at]
    const f = rowValue[second]
    const g = rowValue[third]
    const h = rowValue[fourth]
    value[at] = c0 * e + c1 * f + c2 * g + c3 * h
    down[at] = d0 * e + d1 * f + d2 * g + d3 * h
    across[at] = c0 * rowAcross[at] + c1 * rowAcross[second] + c2 * rowAcross[third] + c3 * rowAcross[fourth]
  }
  return true
}

type Four = readonly [number, number, number, number]

function weights(t: number): Four {
  const [s, t2] = [1 - t, t * t]
  const t3 = t2 * t
  return [(s * s * s) / 6, (4 - 6 * t2 + 3 * t3) / 6, (1 + 3 * t + 3 * t2 - 3 * t3) / 6, t3 / 6]
}

function slopes(t: number): Four {
  const [s, t2] = [1 - t, t * t]
  return [(-s * s) / 2, (-4 * t + 3 * t2) / 2, (1 + 2 * t - 3 * t2) / 2, t2 / 2]
}
