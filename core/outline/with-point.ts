/** A point more on an outline, which leaves the line where it was. */

import { cubicAfter, type Outline, type PointPlace } from './place'

/**
 * De Casteljau's division.
 *
 * @param at the new point comes after this one @param share where on the line to the next, between 0 and 1
 * @returns the outline with the new point in its place
 */
export function withPoint(outline: Outline, at: number, share: number): Outline {
  const [ax, ay, bx, by, cx, cy, dx, dy] = cubicAfter(outline, at)
  const mix = (a: number, b: number) => a + (b - a) * share
  const [px, py, qx, qy, rx, ry] = [mix(ax, bx), mix(ay, by), mix(bx, cx), mix(by, cy), mix(cx, dx), mix(cy, dy)]
  const [ux, uy, vx, vy] = [mix(px, qx), mix(py, qy), mix(qx, rx), mix(qy, ry)]
  const [x, y] = [mix(ux, vx), mix(uy, vy)]
  const next = (at + 1) % outline.length
  const feather = mix(outline[at].feather ?? 0, outline[next].feather ?? 0)
  const point: PointPlace = {
    ...{ x, y, before: [ux - x, uy - y], after: [vx - x, vy - y] },
    ...(feather === 0 ? {} : { feather }),
  }
  const changed = outline.map((place, i): PointPlace => {
    const before = i === next ? ([rx - dx, ry - dy] as const) : place.before
    const after = i === at ? ([px - ax, py - ay] as const) : place.after
    return { ...place, before, after }
  })
  return [...changed.slice(0, at + 1), point, ...changed.slice(at + 1)]
}

/** The place on an outline that lies nearest. @returns after which point, how far on, and how far away in pixels */
export function nearestOn(
  outline: Outline,
  x: number,
  y: number,
): { readonly at: number; readonly share: number; readonly distance: number } {
  let best = { at: 0, share: 0, distance: Infinity }
  outline.forEach((_, at) => {
    const cubic = cubicAfter(outline, at)
    const looks = 24
    let share = 0
    let nearest = Infinity
    for (let i = 0; i <= looks; i++) {
      const distance = distanceAt(cubic, i / looks, x, y)
      if (distance < nearest) [nearest, share] = [distance, i / looks]
    }
    for (let step = 0.5 / looks; step > 1e-6; step /= 2)
      for (const other of [share - step, share + step]) {
        const distance = other < 0 || other > 1 ? Infinity : distanceAt(cubic, other, x, y)
        if (distance < nearest) [nearest, share] = [distance, other]
      }
    if (nearest < best.distance) best = { at, share, distance: nearest }
  })
  return best
}

function distanceAt(cubic: ReturnType<typeof cubicAfter>, t: number, x: number, y: number): number {
  const [ax, ay, bx, by, cx, cy, dx, dy] = cubic
  const left = 1 - t
  const [p, q, r, s] = [left ** 3, 3 * left * left * t, 3 * left * t * t, t ** 3]
  return Math.hypot(p * ax + q * bx + r * cx + s * dx - x, p * ay + q * by + r * cy + s * dy - y)
}
