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
  /** how much darker edges are for how much less they cover, in logarithms of both: 1 when premultiplied, 0 when straight */
  readonly slope: number
}

const [thin, thick] = [0.15, 0.85]
const leastPixels = 40
/** Colour darker than this tells nothing. */
const leastColour = 0.01
const reach = 2
/** Slopes nearer to the middle than this tell nothing. */
const leastOff = 0.15

/**
 * At an edge the object's own colour goes on: it is what alpha divides out of a premultiplied pixel, and what a straight
 * pixel holds as it stands. Rims are lit otherwise than what lies inside them, so one pixel tells little; all together do, by how
 * their colour beside that of the nearest full pixel goes with alpha.
 *
 * @param planes red, green, blue, alpha
 */
export function alphaKind({ dataWindow: { width, height }, planes }: Planes): AlphaKind {
  if (planes.length < 4) return { kind: null, pixels: 0, agree: 0, slope: NaN }
  const [r, g, b, a] = planes.map(valuesOf)
  const colour = (i: number) => r(i) + g(i) + b(i)
  let [premultiplied, straight] = [0, 0]
  const sums = { x: 0, y: 0, xx: 0, xy: 0 }
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
      const [cover, share] = [Math.log(alpha), Math.log(seen / own)]
      if (Math.abs(share - cover) < Math.abs(share)) premultiplied++
      else straight++
      sums.x += cover
      sums.y += share
      sums.xx += cover * cover
      sums.xy += cover * share
    }
  const pixels = premultiplied + straight
  if (pixels < leastPixels) return { kind: null, pixels, agree: 0, slope: NaN }
  const slope = (pixels * sums.xy - sums.x * sums.y) / (pixels * sums.xx - sums.x ** 2)
  if (!(Math.abs(slope - 0.5) >= leastOff)) return { kind: null, pixels, agree: 0, slope }
  return slope > 0.5
    ? { kind: 'premultiplied', pixels, agree: premultiplied / pixels, slope }
    : { kind: 'straight', pixels, agree: straight / pixels, slope }
}

function nearestFull(i: number, width: number, alpha: (index: number) => number): number {
  for (let far = 1; far <= reach; far++)
    for (const step of [far, -far, far * width, -far * width]) if (alpha(i + step) > 0.99) return i + step
  return -1
}
