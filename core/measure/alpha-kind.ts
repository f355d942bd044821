/** Whether colour was multiplied by alpha, told from edges: half covered pixels beside fully covered ones. */

import type { Planes } from '../image/planes'
import { valuesOf } from './sample'

export interface AlphaKind {
  /** null when too few pixels can tell */
  readonly kind: 'premultiplied' | 'straight' | null
  /** pixels that were asked */
  readonly pixels: number
  /** share of them that fit the kind better than the other */
  readonly agree: number
}

const [thin, thick] = [0.15, 0.85]
const leastPixels = 40
/** Colour darker than this tells nothing. */
const leastColour = 0.01
const reach = 2

/**
 * At an edge the object's own colour goes on: it is what alpha divides out of a premultiplied pixel, and what a straight
 * pixel holds as it stands. Whichever is nearer to the colour of the nearest full pixel counts.
 *
 * @param planes red, green, blue, alpha
 */
export function alphaKind({ dataWindow: { width, height }, planes }: Planes): AlphaKind {
  if (planes.length < 4) return { kind: null, pixels: 0, agree: 0 }
  const [r, g, b, a] = planes.map(valuesOf)
  const colour = (i: number) => r(i) + g(i) + b(i)
  let [premultiplied, straight] = [0, 0]
  for (let y = reach; y < height - reach; y++)
    for (let x = reach; x < width - reach; x++) {
      const i = y * width + x
      const alpha = a(i)
      if (!(alpha > thin && alpha < thick)) continue
      const full = nearestFull(i, width, a)
      if (full < 0) continue
      const own = colour(full)
      const seen = colour(i)
      if (!(own > leastColour) || !(seen > 0)) continue
      const [ifPremultiplied, ifStraight] = [Math.abs(Math.log(seen / alpha / own)), Math.abs(Math.log(seen / own))]
      if (ifPremultiplied < ifStraight) premultiplied++
      else straight++
    }
  const pixels = premultiplied + straight
  if (pixels < leastPixels) return { kind: null, pixels, agree: 0 }
  const most = Math.max(premultiplied, straight)
  const agree = most / pixels
  if (agree < 0.6) return { kind: null, pixels, agree }
  return { kind: premultiplied > straight ? 'premultiplied' : 'straight', pixels, agree }
}

function nearestFull(i: number, width: number, alpha: (index: number) => number): number {
  for (let far = 1; far <= reach; far++)
    for (const step of [far, -far, far * width, -far * width]) if (alpha(i + step) > 0.99) return i + step
  return -1
}
