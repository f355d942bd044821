/**
 * The matting Laplacian (Levin, Lischinski and Weiss 2008): in every window of 3 x 3 pixels coverage is taken to be a linear function
 * of colour, and what is off from the best such function is summed up. It is never built: only what it makes of a picture is needed.
 */

/** One channel a plane, scene-linear. */
export interface ColourPlanes {
  readonly width: number
  readonly height: number
  readonly planes: readonly [Float32Array, Float32Array, Float32Array]
}

const around = 9
/** Numbers kept of a window: the middle pixel's mean of three channels, and six of the inverse of its covariance. */
const each = 9

/** @returns of each pixel whether its coverage is looked for, as places in the picture */
export interface ColourLines {
  /** pixels whose coverage is looked for */
  readonly unknown: Int32Array
  /** adds to `out` what the windows make of coverage, wherever they lie; `out` must be 0 around the unknown pixels */
  apply(coverage: Float64Array, out: Float64Array): void
  /** what each unknown pixel's own coverage gives to its own place */
  readonly diagonal: Float64Array
}

/**
 * @param isUnknown by pixel, 1 where coverage is looked for
 * @param least variance of colour below which a window tells nothing: the camera's noise
 */
export function colourLines(
  { width, height, planes }: ColourPlanes,
  isUnknown: Uint8Array,
  least: number,
): ColourLines {
  const [red, green, blue] = planes
  const inside = new Uint8Array(width * height)
  let [count, many] = [0, 0]
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (isUnknown[i]) many++
      if (x === 0 || y === 0 || x === width - 1 || y === height - 1) continue
      if (touches(isUnknown, i, width)) count += inside[i] = 1
    }
  const unknown = new Int32Array(many)
  const places = new Int32Array(count)
  for (let i = 0, u = 0, p = 0; i < isUnknown.length; i++) {
    if (isUnknown[i]) unknown[u++] = i
    if (inside[i]) places[p++] = i
  }
  const near = Int32Array.of(-width - 1, -width, -width + 1, -1, 0, 1, width - 1, width, width + 1)
  const windows = new Float64Array(count * each)
  const diagonal = new Float64Array(width * height)
  for (let n = 0, w = 0; n < count; n++, w += each) {
    const middle = places[n]
    let mr = 0
    let mg = 0
    let mb = 0
    for (let i = 0; i < around; i++) {
      const at = middle + near[i]
      mr += red[at] / around
      mg += green[at] / around
      mb += blue[at] / around
    }
    let rr = around * least
    let rg = 0
    let rb = 0
    let gg = around * least
    let gb = 0
    let bb = around * least
    for (let i = 0; i < around; i++) {
      const at = middle + near[i]
      const r = red[at] - mr
      const g = green[at] - mg
      const b = blue[at] - mb
      rr += r * r
      rg += r * g
      rb += r * b
      gg += g * g
      gb += g * b
      bb += b * b
    }
    const c0 = gg * bb - gb * gb
    const c1 = gb * rb - rg * bb
    const c2 = rg * gb - gg * rb
    const over = 1 / (rr * c0 + rg * c1 + rb * c2)
    windows[w] = mr
    windows[w + 1] = mg
    windows[w + 2] = mb
    windows[w + 3] = c0 * over
    windows[w + 4] = c1 * over
    windows[w + 5] = c2 * over
    windows[w + 6] = (rr * bb - rb * rb) * over
    windows[w + 7] = (rb * rg - rr * gb) * over
    windows[w + 8] = (rr * gg - rg * rg) * over
    for (let i = 0; i < around; i++) {
      const at = middle + near[i]
      const r = red[at] - mr
      const g = green[at] - mg
      const b = blue[at] - mb
      const led =
        r * (windows[w + 3] * r + 2 * (windows[w + 4] * g + windows[w + 5] * b)) +
        g * (windows[w + 6] * g + 2 * windows[w + 7] * b) +
        b * windows[w + 8] * b
      diagonal[at] += 1 - 1 / around - led
    }
  }
  // A window's nine pixels one after the other, without the mean: read over and over, in order.
  const colours = new Float32Array(count * around * 3)
  for (let n = 0, o = 0, w = 0; n < count; n++, w += each)
    for (let i = 0; i < around; i++) {
      const at = places[n] + near[i]
      colours[o++] = red[at] - windows[w]
      colours[o++] = green[at] - windows[w + 1]
      colours[o++] = blue[at] - windows[w + 2]
    }
  const values = new Float64Array(around)
  const apply = (coverage: Float64Array, out: Float64Array): void => {
    for (let n = 0, w = 0, o = 0; n < count; n++, w += each, o += around * 3) {
      const middle = places[n]
      const above = middle - width
      const below = middle + width
      values[0] = coverage[above - 1]
      values[1] = coverage[above]
      values[2] = coverage[above + 1]
      values[3] = coverage[middle - 1]
      values[4] = coverage[middle]
      values[5] = coverage[middle + 1]
      values[6] = coverage[below - 1]
      values[7] = coverage[below]
      values[8] = coverage[below + 1]
      let sum = 0
      let sr = 0
      let sg = 0
      let sb = 0
      for (let i = 0, c = o; i < around; i++, c += 3) {
        const value = values[i]
        sum += value
        sr += value * colours[c]
        sg += value * colours[c + 1]
        sb += value * colours[c + 2]
      }
      const ar = windows[w + 3] * sr + windows[w + 4] * sg + windows[w + 5] * sb
      const ag = windows[w + 4] * sr + windows[w + 6] * sg + windows[w + 7] * sb
      const ab = windows[w + 5] * sr + windows[w + 7] * sg + windows[w + 8] * sb
      const mean = sum / around
      for (let i = 0, c = o; i < around; i++, c += 3)
        values[i] -= mean + ar * colours[c] + ag * colours[c + 1] + ab * colours[c + 2]
      out[above - 1] += values[0]
      out[above] += values[1]
      out[above + 1] += values[2]
      out[middle - 1] += values[3]
      out[middle] += values[4]
      out[middle + 1] += values[5]
      out[below - 1] += values[6]
      out[below] += values[7]
      out[below + 1] += values[8]
    }
  }
  return { unknown, apply, diagonal }
}

/** Whether a pixel or one of its eight neighbours is marked. */
function touches(marked: Uint8Array, middle: number, width: number): boolean {
  for (let row = middle - width; row <= middle + width; row += width)
    if (marked[row - 1] || marked[row] || marked[row + 1]) return true
  return false
}
