/** An outline between two keyframes. */

import { fittedMotion } from '../motion/fitted-motion'
import type { Handle, Outline, PointPlace } from './place'

/**
 * The motion that leads the points of one as near as can be to those of the other is taken apart into shift, angle and the
 * logarithm of the scale, and goes on evenly; what it leaves goes on evenly inside it. So an outline that turns keeps its
 * size, which straight lines from place to place would not.
 *
 * @param share 0: the first, 1: the second; beyond them it goes on likewise
 * @param to the same points, in the same order
 */
export function outlineBetween(from: Outline, to: Outline, share: number): Outline {
  if (share === 0) return from
  if (share === 1) return to
  const spots = (outline: Outline) => outline.map(({ x, y }) => [x, y] as const)
  const [here, there] = [middleOf(from), middleOf(to)]
  const fitted = fittedMotion(spots(from), spots(to), 'similarity')
  const [cos, sin] = fitted ? [fitted[0], fitted[3]] : [1, 0]
  const angle = Math.atan2(sin, cos)
  const scale = Math.log(Math.hypot(cos, sin))
  const back = turned(-angle, Math.exp(-scale))
  const forth = turned(angle * share, Math.exp(scale * share))
  const middle = [here[0] + (there[0] - here[0]) * share, here[1] + (there[1] - here[1]) * share] as const
  const mixed = (a: Handle, b: Handle): Handle => {
    const [x, y] = back(b)
    return forth([a[0] + (x - a[0]) * share, a[1] + (y - a[1]) * share])
  }
  return from.map((a, i): PointPlace => {
    const b = to[i]
    const [x, y] = mixed([a.x - here[0], a.y - here[1]], [b.x - there[0], b.y - there[1]])
    const feather = (a.feather ?? 0) + ((b.feather ?? 0) - (a.feather ?? 0)) * share
    return {
      x: middle[0] + x,
      y: middle[1] + y,
      before: mixed(a.before, b.before),
      after: mixed(a.after, b.after),
      ...(feather === 0 ? {} : { feather }),
    }
  })
}

function middleOf(outline: Outline): Handle {
  const count = outline.length
  return [outline.reduce((sum, { x }) => sum + x / count, 0), outline.reduce((sum, { y }) => sum + y / count, 0)]
}

function turned(angle: number, scale: number): (of: Handle) => Handle {
  const [cos, sin] = [Math.cos(angle) * scale, Math.sin(angle) * scale]
  return ([x, y]) => [cos * x - sin * y, sin * x + cos * y]
}
