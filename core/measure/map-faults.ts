/** What a lens map can have wrong: places that it does not name, and the wrong way up. */

import type { Planes } from '../image/planes'
import { valuesOf } from './sample'

export interface Holes {
  readonly count: number
  /** of the first, row by row, in the file's own pixels */
  readonly x: number
  readonly y: number
}

/** Turned over it must bend less than half as much. */
const muchLess = 0.5

const { abs } = Math

/** @returns pixels of the display window without a place: no numbers there, or outside the data window; null: none */
export function holesIn({ dataWindow: data, displayWindow: display, planes }: Planes): Holes | null {
  const [across, down] = planes.map(valuesOf)
  let count = 0
  let first = { x: 0, y: 0 }
  for (let y = display.y; y < display.y + display.height; y++)
    for (let x = display.x; x < display.x + display.width; x++) {
      const [column, row] = [x - data.x, y - data.y]
      const at = row * data.width + column
      const inside = column >= 0 && column < data.width && row >= 0 && row < data.height
      if (inside && Number.isFinite(across(at)) && Number.isFinite(down(at))) continue
      if (count === 0) first = { x, y }
      count++
    }
  return count === 0 ? null : { count, ...first }
}

/** Found by trying: turned over, the map would leave things much nearer to where they are. */
export function isUpsideDown({ dataWindow: data, displayWindow: display, planes }: Planes): boolean {
  const share = valuesOf(planes[1])
  let [asIs, turned] = [0, 0]
  for (let row = 0, i = 0; row < data.height; row++) {
    const unbent = (data.y + row + 0.5 - display.y) / display.height
    for (let column = 0; column < data.width; column++, i++) {
      const v = share(i)
      if (!Number.isFinite(v)) continue
      asIs += abs(v - unbent)
      turned += abs(1 - v - unbent)
    }
  }
  return turned < muchLess * asIs
}
