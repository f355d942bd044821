/** What an outline is made of: points in order round a closed line, each with a handle on either side. */

/** How far a handle's end lies from its point, across and down. */
export type Handle = readonly [across: number, down: number]

/** Where a point of an outline lies on a frame, in full-scale pixels; a pixel's middle lies at its half. */
export interface PointPlace {
  readonly x: number
  readonly y: number
  /** towards the point before; the line between two points is the cubic of their places and these ends (Bezier) */
  readonly before: Handle
  /** towards the next one */
  readonly after: Handle
  /** pixels of feather outside, more than the shape's; absent: none */
  readonly feather?: number
}

/** Closed: after the last point comes the first. */
export type Outline = readonly PointPlace[]

/** The cubic from one point to the next, as its four control points. */
export function cubicAfter(
  outline: Outline,
  at: number,
): readonly [number, number, number, number, number, number, number, number] {
  const from = outline[at]
  const to = outline[(at + 1) % outline.length]
  return [
    from.x,
    from.y,
    from.x + from.after[0],
    from.y + from.after[1],
    to.x + to.before[0],
    to.y + to.before[1],
    to.x,
    to.y,
  ]
}

/** Holds all of the outline: its points and the ends of their handles. */
export function boxOfOutline(outline: Outline): { x: number; y: number; width: number; height: number } {
  const xs = outline.flatMap(({ x, before, after }) => [x, x + before[0], x + after[0]])
  const ys = outline.flatMap(({ y, before, after }) => [y, y + before[1], y + after[1]])
  const [left, top] = [Math.min(...xs), Math.min(...ys)]
  return { x: left, y: top, width: Math.max(...xs) - left, height: Math.max(...ys) - top }
}

/** A place on the cubic after a point. @param share 0 at the point, 1 at the next */
export function spotAfter(outline: Outline, at: number, share: number): readonly [number, number] {
  const [ax, ay, bx, by, cx, cy, dx, dy] = cubicAfter(outline, at)
  const left = 1 - share
  const [p, q, r, s] = [left * left * left, 3 * left * left * share, 3 * left * share * share, share * share * share]
  return [p * ax + q * bx + r * cx + s * dx, p * ay + q * by + r * cy + s * dy]
}
