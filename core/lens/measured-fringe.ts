/** How much larger or smaller red and blue are than green in a plate, measured on its edges. */

import { medianOf } from '../algebra/median'
import { solved } from '../algebra/solved'

export interface MeasuredFringe {
  /** how much larger than green, as shares; with the standard errors */
  readonly red: number
  readonly blue: number
  readonly redError: number
  readonly blueError: number
  /** parts of the picture that it rests on */
  readonly places: number
}

export interface FringePicture {
  /** RGBA, scene-linear, row by row */
  readonly light: Float32Array
  readonly width: number
  readonly height: number
  /** pixels; a pixel's middle lies at its half */
  readonly centre: readonly [x: number, y: number]
}

/** Looked up once: in the tests' own world of global names each look takes longer than the sum. */
const { abs, floor, max, min, sqrt } = Math

const side = 24
/** A part tells something where its edges stand out from noise by so much. */
const leastShare = 0.02
const fewestPlaces = 12
/** What a channel shows must come from green by so much, or it is other things, or noise. */
const leastAlike = 0.5
/** Each time from where green was found the time before: the first is a straight line through a curve. */
const rounds = 3
/** Deviations beyond which a part is taken for something else: things may be of two colours at their edges. */
const farOff = 3

/**
 * In each part of the picture a channel is taken to be green by a factor and an offset, moved outwards: `R = a + b (G - s (x - c) grad G)`,
 * by least squares, both softened a little alike. Of the parts' shares the mean is taken that their medians allow, weighted by how
 * well each is told.
 *
 * @returns null where fewer than 12 parts have edges that tell it
 */
export function measuredFringe(picture: FringePicture): MeasuredFringe | null {
  const { width, height } = picture
  const [r, g, b] = [0, 1, 2].map((c) => softened(picture, c))
  const green = new Between({ values: g, across: slopes(g, width, 1), down: slopes(g, width, width) }, width, height)
  const parts: { readonly x: number; readonly y: number }[] = []
  for (let y = 2; y + side + 2 <= height; y += side)
    for (let x = 2; x + side + 2 <= width; x += side) parts.push({ x, y })
  const [red, blue] = [r, b].map((own) => {
    let found: ReturnType<typeof joined> = null
    for (let round = 0; round < rounds; round++) {
      const from = found?.share ?? 0
      found = joined(parts.flatMap((part) => shareIn(picture, own, green, part, from) ?? []))
      if (!found) return null
    }
    return found
  })
  if (!red || !blue) return null
  return {
    ...{ red: red.share, redError: red.error, blue: blue.share, blueError: blue.error },
    places: min(red.places, blue.places),
  }
}

interface Told {
  readonly share: number
  readonly error: number
}

/** A channel with its slopes. */
interface Sloped {
  readonly values: Float64Array
  readonly across: Float64Array
  readonly down: Float64Array
}

/** @param step to the next pixel along the slope */
function slopes(values: Float64Array, width: number, step: number): Float64Array {
  const found = new Float64Array(values.length)
  for (let i = width; i < values.length - width; i++) found[i] = (values[i + step] - values[i - step]) / 2
  return found
}

/** Catmull and Rom's cubic over four pixels, for a place between the middle two. */
function writeCubic(weights: Float64Array, share: number): void {
  const other = 1 - share
  weights[0] = -0.5 * share * other * other
  weights[3] = -0.5 * other * share * share
  weights[1] = 1 + share * share * (1.5 * share - 2.5)
  weights[2] = 1 - weights[0] - weights[1] - weights[3]
}

/** A channel and its slopes between pixels, whose middles lie at whole numbers. */
class Between {
  value = 0
  across = 0
  down = 0
  private readonly wx = new Float64Array(4)
  private readonly wy = new Float64Array(4)

  constructor(
    private readonly of: Sloped,
    private readonly width: number,
    private readonly height: number,
  ) {}

  lookAt(x: number, y: number): void {
    const left = min(this.width - 3, max(1, floor(x)))
    const top = min(this.height - 3, max(1, floor(y)))
    writeCubic(this.wx, x - left)
    writeCubic(this.wy, y - top)
    this.value = this.across = this.down = 0
    for (let j = 0; j < 4; j++)
      for (let i = 0; i < 4; i++) {
        const at = (top - 1 + j) * this.width + left - 1 + i
        const weight = this.wx[i] * this.wy[j]
        this.value += weight * this.of.values[at]
        this.across += weight * this.of.across[at]
        this.down += weight * this.of.down[at]
      }
  }
}

/** The share by which one part's channel lies farther out. @param from what it is known to be about @returns null where nothing tells it */
function shareIn(
  { width, centre }: FringePicture,
  own: Float64Array,
  green: Between,
  part: { readonly x: number; readonly y: number },
  from: number,
): Told | null {
  // Of 1, green, and what moving it outwards by all of its distance would change.
  const normal = new Float64Array(9)
  const right = new Float64Array(3)
  let squares = 0
  const terms = [1, 0, 0]
  for (let y = part.y; y < part.y + side; y++)
    for (let x = part.x; x < part.x + side; x++) {
      const i = y * width + x
      const [out, below] = [x + 0.5 - centre[0], y + 0.5 - centre[1]]
      green.lookAt(x - from * out, y - from * below)
      terms[1] = green.value
      terms[2] = -(out * green.across + below * green.down)
      for (let j = 0; j < 3; j++) {
        right[j] += terms[j] * own[i]
        for (let k = 0; k < 3; k++) normal[3 * j + k] += terms[j] * terms[k]
      }
      squares += own[i] * own[i]
    }
  const found = solved([...normal], [...right])
  const inverse = found && inverseLast(normal)
  if (!found || !inverse) return null
  const [, factor, moved] = found
  const total = squares - right[0] ** 2 / (side * side)
  const left = max(0, squares - found.reduce((sum, value, j) => sum + value * right[j], 0))
  // Softened pixels are not independent: four of them say as much as one.
  const variance = (left / (side * side - 3)) * 4 * inverse
  if (!(left < leastAlike * total)) return null
  const error = sqrt(variance) / abs(factor)
  return error < leastShare ? { share: from + moved / factor, error } : null
}

/** The last of the diagonal of the inverse of a symmetric 3 by 3. @returns null where there is none */
function inverseLast([a, b, c, , e, f, , , i]: Float64Array): number | null {
  const minor = a * e - b * b
  const determinant = a * (e * i - f * f) - b * (b * i - f * c) + c * (b * f - e * c)
  return determinant > 1e-12 * abs(a * e * i) ? minor / determinant : null
}

function joined(told: readonly Told[]): (Told & { readonly places: number }) | null {
  if (told.length < fewestPlaces) return null
  const middle = medianOf(told.map(({ share }) => share))
  const spread = 1.4826 * medianOf(told.map(({ share, error }) => abs(share - middle) / error))
  const kept = told.filter(({ share, error }) => abs(share - middle) <= farOff * max(1, spread) * error)
  const weight = kept.reduce((sum, { error }) => sum + 1 / (error * error), 0)
  const share = kept.reduce((sum, one) => sum + one.share / (one.error * one.error), 0) / weight
  // What scatters more than its noise says has other errors too.
  const surplus = kept.reduce((sum, one) => sum + ((one.share - share) / one.error) ** 2, 0) / max(1, kept.length - 1)
  return { share, error: sqrt(max(1, surplus) / weight), places: kept.length }
}

/** A channel softened by 1 2 1, each way. */
function softened({ light, width, height }: FringePicture, c: number): Float64Array {
  const across = new Float64Array(width * height)
  const out = new Float64Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x
      const [before, after] = [x > 0 ? i - 1 : i, x + 1 < width ? i + 1 : i]
      across[i] = (light[4 * before + c] + 2 * light[4 * i + c] + light[4 * after + c]) / 4
    }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x
      const [above, below] = [y > 0 ? i - width : i, y + 1 < height ? i + width : i]
      out[i] = (across[above] + 2 * across[i] + across[below]) / 4
    }
  return out
}
