/** Through a lens and back: where straight places come to lie in the picture, and which place is seen at a pixel. */

import type { Lens } from '../graph/steps'
import type { Spot } from './placing'

export type { Lens, LensLeads } from '../graph/steps'

const { abs, hypot, min, sqrt } = Math

/** Pixels: how near the way back comes. */
const close = 1e-7
const mostSteps = 50

/** @returns where the lens puts a straight place; both in pixels of the frame */
export function bent({ centre: [cx, cy], unit, squeeze, k1, k2, k3, p1, p2 }: Lens, [px, py]: Spot): Spot {
  const across = unit / squeeze
  const [x, y] = [(px - cx) / across, (py - cy) / unit]
  const r2 = x * x + y * y
  const radial = 1 + r2 * (k1 + r2 * (k2 + r2 * k3))
  return [
    cx + across * (x * radial + 2 * p1 * x * y + p2 * (r2 + 2 * x * x)),
    cy + unit * (y * radial + p1 * (r2 + 2 * y * y) + 2 * p2 * x * y),
  ]
}

/** Terms below this bend nothing that anybody sees, and their fold would lie where sums lose all their digits. */
const negligible = 1e-12

/**
 * The largest radius up to which the lens does not fold, in units: beyond it, places farther out come to lie farther in again.
 *
 * @returns Infinity where it never folds
 */
export function foldRadius(lens: Pick<Lens, 'k1' | 'k2' | 'k3'>): number {
  const [k1, k2, k3] = [lens.k1, lens.k2, lens.k3].map((one) => (abs(one) < negligible ? 0 : one))
  // The slope of r (1 + k1 t + k2 t2 + k3 t3) with t = r2; its first zero.
  const slope = (t: number) => 1 + t * (3 * k1 + t * (5 * k2 + t * 7 * k3))
  const least = leastZero(slope, [3 * k1, 10 * k2, 21 * k3])
  return sqrt(least)
}

/** @returns how far out the lens shows anything, in units: where the fold comes to lie; Infinity where it never folds */
export function farthestSeen({ k1, k2, k3 }: Pick<Lens, 'k1' | 'k2' | 'k3'>): number {
  const r = foldRadius({ k1, k2, k3 })
  return r === Infinity ? Infinity : r * (1 + r * r * (k1 + r * r * (k2 + r * r * k3)))
}

/** First zero above 0 of a cubic that begins at 1, found between the places where it turns. @param d of its slope: d0 + d1 t + d2 t2 */
function leastZero(of: (t: number) => number, [d0, d1, d2]: readonly [number, number, number]): number {
  const turns =
    d2 === 0
      ? d1 === 0
        ? []
        : [-d0 / d1]
      : d1 * d1 >= 4 * d2 * d0
        ? [-1, 1].map((sign) => (-d1 + sign * sqrt(d1 * d1 - 4 * d2 * d0)) / (2 * d2))
        : []
  const ends = [...turns.filter((t) => t > 0).sort((a, b) => a - b), Infinity]
  let from = 0
  for (const end of ends) {
    let to = end
    if (end === Infinity) {
      to = from === 0 ? 1 : from * 2
      while (of(to) > 0 && to < 1e12) to *= 2
      if (of(to) > 0) return Infinity
    }
    if (of(to) <= 0) {
      for (let i = 0; i < 200 && to - from > 1e-15 * to; i++) {
        const middle = (from + to) / 2
        if (of(middle) > 0) from = middle
        else to = middle
      }
      return (from + to) / 2
    }
    from = to
  }
  return Infinity
}

/**
 * The way back, by Newton's method: on the radius, kept between 0 and the fold; then, where the lens is not round, on the place.
 *
 * @returns which straight place is seen at a pixel; null beyond the fold, where none is
 */
export function straightener(lens: Lens): (x: number, y: number) => Spot | null {
  const { centre, unit, squeeze, k1, k2, k3, p1, p2 } = lens
  const [cx, cy] = centre
  const across = unit / squeeze
  const fold = foldRadius(lens)
  const farthest = farthestSeen(lens)
  const precise = close / unit
  const round = p1 === 0 && p2 === 0
  return (px, py) => {
    const [x, y] = [(px - cx) / across, (py - cy) / unit]
    const wanted = sqrt(x * x + y * y)
    if (wanted === 0 && round) return [px, py]
    // With tangential terms the radius is a beginning only: it may lie a little beyond.
    if (wanted >= farthest && round) return null
    let [low, high] = [0, fold]
    let r = fold === Infinity ? wanted : min(wanted, fold * 0.999)
    for (let i = 0; i < mostSteps; i++) {
      const t = r * r
      const off = r * (1 + t * (k1 + t * (k2 + t * k3))) - wanted
      // Exactly there, which the bounds below would take for outside.
      if (off === 0) break
      if (off > 0) high = r
      else low = r
      const slope = 1 + t * (3 * k1 + t * (5 * k2 + t * 7 * k3))
      let next = r - off / slope
      if (!(next > low && next < high)) next = high === Infinity ? 2 * r : (low + high) / 2
      const moved = abs(next - r)
      r = next
      if (moved < precise) break
    }
    const k = wanted === 0 ? 1 : r / wanted
    if (round) return [cx + across * x * k, cy + unit * y * k]
    return byPlace(lens, px, py, [x * k, y * k], fold)
  }
}

/** Two by two. */
function byPlace(lens: Lens, px: number, py: number, from: Spot, fold: number): Spot | null {
  const { centre, unit, squeeze, k1, k2, k3, p1, p2 } = lens
  const [cx, cy] = centre
  const across = unit / squeeze
  const [wantedX, wantedY] = [(px - cx) / across, (py - cy) / unit]
  let [x, y] = from
  for (let i = 0; i < mostSteps; i++) {
    const r2 = x * x + y * y
    const radial = 1 + r2 * (k1 + r2 * (k2 + r2 * k3))
    const steep = 2 * (k1 + r2 * (2 * k2 + r2 * 3 * k3))
    const offX = x * radial + 2 * p1 * x * y + p2 * (r2 + 2 * x * x) - wantedX
    const offY = y * radial + p1 * (r2 + 2 * y * y) + 2 * p2 * x * y - wantedY
    const xx = radial + x * x * steep + 2 * p1 * y + 6 * p2 * x
    const xy = x * y * steep + 2 * p1 * x + 2 * p2 * y
    const yy = radial + y * y * steep + 6 * p1 * y + 2 * p2 * x
    const determinant = xx * yy - xy * xy
    if (!(determinant > 0)) return null
    const [dx, dy] = [(yy * offX - xy * offY) / determinant, (xx * offY - xy * offX) / determinant]
    x -= dx
    y -= dy
    if (hypot(x, y) >= fold) return null
    if (abs(dx) + abs(dy) < close / unit) return [cx + across * x, cy + unit * y]
  }
  return null
}

/** Slopes of `bent` at a straight place, row by row: across by across, across by down, down by across, down by down. */
export function slopesOf(lens: Lens, [px, py]: Spot): readonly [number, number, number, number] {
  const { centre, unit, squeeze, k1, k2, k3, p1, p2 } = lens
  const across = unit / squeeze
  const [x, y] = [(px - centre[0]) / across, (py - centre[1]) / unit]
  const r2 = x * x + y * y
  const radial = 1 + r2 * (k1 + r2 * (k2 + r2 * k3))
  const steep = 2 * (k1 + r2 * (2 * k2 + r2 * 3 * k3))
  const both = x * y * steep + 2 * p1 * x + 2 * p2 * y
  return [
    radial + x * x * steep + 2 * p1 * y + 6 * p2 * x,
    both / squeeze,
    both * squeeze,
    radial + y * y * steep + 6 * p1 * y + 2 * p2 * x,
  ]
}
