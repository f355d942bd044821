/** Where the picture lies in its place on screen: fit, or a zoom about a centre. */

import type { Matrix3, Way } from '../../../../core/graph/steps'
import type { Window } from '../../../../core/image/window'
import { fittedMotion } from '../../../../core/motion/fitted-motion'
import { multiplied } from '../../../../core/motion/mapping'
import { along, wayBack } from '../../../../core/motion/way'

export interface Size {
  readonly width: number
  readonly height: number
}

export interface Placement {
  /** screen pixels per full-scale picture pixel */
  readonly zoom: number
  /** screen position of the picture's upper left corner inside its place */
  readonly left: number
  readonly top: number
  /** from a place of what is shown to one of the plate, where they are not the same */
  readonly output?: Way
}

/** @returns the plate's point (full-scale pixels, may lie outside) at a screen position inside the place */
export function plateAt(placement: Placement, x: number, y: number): { x: number; y: number } {
  const shown = pictureAt(placement, x, y)
  const place = placement.output && along(placement.output)(shown.x, shown.y)
  return place ? { x: place[0], y: place[1] } : shown
}

/** @returns the screen position inside the place of one of the plate's points */
export function screenOf({ left, top, zoom, output }: Placement, { x, y }: { readonly x: number; readonly y: number }) {
  const back = output && wayBack(output)
  const [px, py] = (back && along(back)(x, y)) ?? [x, y]
  return { x: left + px * zoom, y: top + py * zoom }
}

/**
 * How what is drawn at the plate's places is moved on the screen to lie where they are seen; undefined: not at all. Through a lens it is what
 * comes nearest over the part that is in sight: the nearer one looks, the more exactly.
 */
export function drawnMoved(placement: Placement, place: Size): string | undefined {
  const { left, top, zoom, output } = placement
  const back = output && shownFrom(output, placement, place)
  if (!back) return undefined
  const onScreen: Matrix3 = [zoom, 0, left, 0, zoom, top, 0, 0, 1]
  const offScreen: Matrix3 = [1 / zoom, 0, -left / zoom, 0, 1 / zoom, -top / zoom, 0, 0, 1]
  const [a, b, c, d, e, f, g, h, i] = multiplied(onScreen, multiplied(back, offScreen))
  return `matrix3d(${[a, d, 0, g, b, e, 0, h, 0, 0, 1, 0, c, f, 0, i].join(',')})`
}

/** From the plate's places to those of what is shown. */
function shownFrom(output: Way, placement: Placement, { width, height }: Size): Matrix3 | null {
  const thirds = [0, 0.5, 1]
  const through = along(output)
  const seen = thirds
    .flatMap((across) => thirds.map((down) => pictureAt(placement, across * width, down * height)))
    .flatMap(({ x, y }) => {
      const at = through(x, y)
      return at ? [{ at, shown: [x, y] as const }] : []
    })
  return fittedMotion(
    seen.map(({ at }) => at),
    seen.map(({ shown }) => shown),
    'homography',
  )
}

/** @param zoom null fits the whole picture in */
export function placePicture(
  place: Size,
  frame: Size,
  zoom: number | null,
  centre: { readonly x: number; readonly y: number },
): Placement {
  if (zoom === null) {
    const fit = Math.max(0.01, Math.min(place.width / frame.width, place.height / frame.height))
    return { zoom: fit, left: (place.width - frame.width * fit) / 2, top: (place.height - frame.height * fit) / 2 }
  }
  // Whole screen pixels, so that picture pixels are crisp.
  return {
    zoom,
    left: Math.round(place.width / 2 - centre.x * zoom),
    top: Math.round(place.height / 2 - centre.y * zoom),
  }
}

/** @returns the picture point (full-scale pixels, may lie outside) at a screen position inside the place */
export function pictureAt(placement: Placement, x: number, y: number): { x: number; y: number } {
  return { x: (x - placement.left) / placement.zoom, y: (y - placement.top) / placement.zoom }
}

/** @returns what of the picture can be seen, in pixels of the picture as it is made at the scale; may reach beyond it */
export function pictureInSight(place: Size, placement: Placement, scale: number): Window {
  const from = pictureAt(placement, 0, 0)
  const to = pictureAt(placement, place.width, place.height)
  const x = Math.floor(from.x / scale)
  const y = Math.floor(from.y / scale)
  return { x, y, width: Math.ceil(to.x / scale) - x, height: Math.ceil(to.y / scale) - y }
}

/** @returns the centre that keeps the picture point under a screen position where it is when the zoom changes */
export function centreFor(
  place: Size,
  placement: Placement,
  x: number,
  y: number,
  zoom: number,
): { x: number; y: number } {
  const point = pictureAt(placement, x, y)
  return { x: point.x + (place.width / 2 - x) / zoom, y: point.y + (place.height / 2 - y) / zoom }
}

export const leastZoom = 0.05
export const mostZoom = 64

/** How many pictures stand side by side, and how wide each is, so that they are as large as the place allows. */
export function cellsIn(
  place: Size,
  picture: Size,
  count: number,
  { gap, caption }: { readonly gap: number; readonly caption: number },
): { readonly columns: number; readonly width: number } {
  let best = { columns: 1, width: 0 }
  for (let columns = 1; columns <= count; columns++) {
    const rows = Math.ceil(count / columns)
    const across = (place.width - (columns + 1) * gap) / columns
    const down = ((place.height - (rows + 1) * gap) / rows - caption) * (picture.width / picture.height)
    const width = Math.floor(Math.min(across, down))
    if (width > best.width) best = { columns, width }
  }
  return best
}
