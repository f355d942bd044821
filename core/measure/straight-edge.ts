/**
 * A matte that stops along a straight line inside the frame: the plane that caught the shadow was too small, or its render
 * was cut. Soft shadows fade into nothing, so a pixel that still does something beside one that does exactly nothing is rare
 * but where something was cut off.
 */

import type { Window } from '../image/window'

export interface StraightEdge {
  /** ends of the line, in the matte's own pixels */
  readonly from: { readonly x: number; readonly y: number }
  readonly to: { readonly x: number; readonly y: number }
  readonly pixels: number
}

const leastStep = 0.03
const nothing = 1e-4
const angles = 180
/** The line must be at least this long, and this share of the picture's width: shorter ones lie on any round outline. */
const leastLength = 30
const leastShare = 0.12
/** Most of it must be cut pixels. */
const leastFilled = 0.6

/**
 * @param value the matte, by pixel of the window
 * @param neutral what the matte is where it does nothing
 */
export function straightEdge(
  value: (pixel: number) => number,
  { x, y, width, height }: Window,
  neutral: 0 | 1,
): StraightEdge | null {
  const points: [number, number][] = []
  const away = (i: number) => Math.abs(value(i) - neutral)
  for (let row = 1; row < height - 1; row++)
    for (let column = 1; column < width - 1; column++) {
      const i = row * width + column
      if (away(i) < leastStep) continue
      if (away(i - 1) < nothing || away(i + 1) < nothing || away(i - width) < nothing || away(i + width) < nothing)
        points.push([column, row])
    }
  const line = strongestLine(points, width, height)
  return (
    line && { ...line, from: { x: x + line.from.x, y: y + line.from.y }, to: { x: x + line.to.x, y: y + line.to.y } }
  )
}

/** The line with most points on it (Hough, 1962; normal form of Duda and Hart, 1972). */
function strongestLine(
  points: readonly (readonly [number, number])[],
  width: number,
  height: number,
): StraightEdge | null {
  const least = Math.max(leastLength, leastShare * width)
  if (points.length < least) return null
  const far = Math.ceil(Math.hypot(width, height))
  const votes = new Uint16Array(angles * (2 * far + 1))
  const turns = Array.from({ length: angles }, (_, t) => [
    Math.cos((Math.PI * t) / angles),
    Math.sin((Math.PI * t) / angles),
  ])
  const distance = (t: number, [px, py]: readonly [number, number]) => Math.round(px * turns[t][0] + py * turns[t][1])
  for (const point of points) for (let t = 0; t < angles; t++) votes[t * (2 * far + 1) + distance(t, point) + far]++
  let best = 0
  for (let i = 1; i < votes.length; i++) if (votes[i] > votes[best]) best = i
  const t = Math.floor(best / (2 * far + 1))
  const d = best - t * (2 * far + 1) - far
  const along = ([px, py]: readonly [number, number]) => -px * turns[t][1] + py * turns[t][0]
  const on = points.filter((point) => Math.abs(distance(t, point) - d) <= 1).sort((p, q) => along(p) - along(q))
  if (on.length === 0) return null
  const [first, last] = [on[0], on[on.length - 1]]
  const length = along(last) - along(first)
  if (length < least || on.length < leastFilled * length) return null
  return { from: { x: first[0], y: first[1] }, to: { x: last[0], y: last[1] }, pixels: on.length }
}
