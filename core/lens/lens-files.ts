/** What of a lens goes into files: maps that others bend by, and its numbers as calibrations write them. */

import type { Planes } from '../image/planes'
import type { Window } from '../image/window'
import { straightener, type Lens, type LensLeads } from '../motion/lens'
import { placesOver } from '../motion/way'

interface Size {
  readonly width: number
  readonly height: number
}

/**
 * The window in which the straight picture holds every pixel of the plate: so far must CG be rendered.
 *
 * @returns whole pixels; null where the lens folds inside the frame, so that there is no such window
 */
export function overscanOf(lens: Lens, { width, height }: Size): Window | null {
  const back = straightener(lens)
  let [left, top, right, bottom] = [0, 0, width, height]
  const look = (x: number, y: number): boolean => {
    const place = back(x, y)
    if (!place) return false
    ;[left, right] = [Math.min(left, place[0]), Math.max(right, place[0])]
    ;[top, bottom] = [Math.min(top, place[1]), Math.max(bottom, place[1])]
    return true
  }
  for (let x = 0; x <= width; x++) if (!look(x, 0) || !look(x, height)) return null
  for (let y = 0; y <= height; y++) if (!look(0, y) || !look(width, y)) return null
  const [x, y] = [Math.floor(left), Math.floor(top)]
  return { x, y, width: Math.ceil(right) - x, height: Math.ceil(bottom) - y }
}

/**
 * A map in shares of the frame: red to the right, green down, pixel centres at (i + 0.5) / n.
 *
 * @param leads to-straight: at each pixel of the plate, where it lies in the straight picture, over the frame; to-bent: at each
 *   pixel of the straight picture, where it lies in the plate, over the overscan
 * @returns two channels of 32 bits; no number where the lens shows nothing
 */
export function mapOf(lens: Lens, frame: Size, leads: LensLeads): Planes {
  const display = { x: 0, y: 0, width: frame.width, height: frame.height }
  const window = leads === 'to-bent' ? (overscanOf(lens, frame) ?? display) : display
  const places = placesOver({ way: [{ lens, leads }], window })
  const shareOf = (axis: 0 | 1, whole: number) =>
    Float32Array.from({ length: places.length / 2 }, (_, i) => places[2 * i + axis] / whole)
  return {
    displayWindow: display,
    dataWindow: window,
    planes: [
      { name: 'R', type: 'float', samples: shareOf(0, frame.width) },
      { name: 'G', type: 'float', samples: shareOf(1, frame.height) },
    ],
  }
}

/** The lens's numbers as JSON, with the focal length that makes 1 of its unit; pixels. */
export function numbersOf(lens: Lens, frame: Size) {
  const { unit, centre, squeeze, k1, k2, k3, p1, p2 } = lens
  return {
    model: 'opencv',
    focalPx: unit,
    centrePx: centre,
    squeeze,
    ...{ k1, k2, k3, p1, p2 },
    frameSize: { width: frame.width, height: frame.height },
    overscan: overscanOf(lens, frame),
  }
}
