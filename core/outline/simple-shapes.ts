/** Outlines of ellipses and rectangles, to begin with. */

import type { Outline } from './place'

interface Rectangle {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** Length of a handle beside the radius by which a cubic is nearest to a quarter of a circle. */
const quarter = (4 / 3) * Math.tan(Math.PI / 8)

/** Four points, off the ellipse by 3e-4 of its size at the most. */
export function ellipseIn({ x, y, width, height }: Rectangle): Outline {
  const [rx, ry] = [width / 2, height / 2]
  const [cx, cy] = [x + rx, y + ry]
  const [hx, hy] = [rx * quarter, ry * quarter]
  return [
    { x: cx, y, before: [-hx, 0], after: [hx, 0] },
    { x: x + width, y: cy, before: [0, -hy], after: [0, hy] },
    { x: cx, y: y + height, before: [hx, 0], after: [-hx, 0] },
    { x, y: cy, before: [0, hy], after: [0, -hy] },
  ]
}

/** Its corners, without handles. */
export function rectangleOf({ x, y, width, height }: Rectangle): Outline {
  const corners = [
    [x, y],
    [x + width, y],
    [x + width, y + height],
    [x, y + height],
  ] as const
  return corners.map(([px, py]) => ({ x: px, y: py, before: [0, 0], after: [0, 0] }))
}
