/** Where a field leads, block by block: which places a piece of it names, and which pieces of it name some place. */

import { emptyWindow, intersect, isEmpty, type Window } from '../image/window'
import type { ResidentFrame } from './program'

/** A rectangle of places, in pixels; pixel i reaches from i to i + 1. */
export interface Places {
  readonly left: number
  readonly right: number
  readonly top: number
  readonly bottom: number
}

const side = 16
/** Data windows for which it is remembered where the map names them; there are as many as elements with this map. */
const mostRemembered = 64

export class MapBlocks {
  private readonly columns: number
  private readonly rows: number
  private readonly window: Window
  /** left, right, top, bottom of each block's places, row by row; left above right where a block names no number */
  private readonly places: Float64Array
  private readonly remembered = new Map<string, Window>()

  constructor(memory: ArrayBufferLike, frame: ResidentFrame) {
    this.window = frame.dataWindow
    this.columns = Math.ceil(this.window.width / side)
    this.rows = Math.ceil(this.window.height / side)
    this.places = new Float64Array(this.columns * this.rows * 4)
    const { columns, places } = this
    for (let at = 0; at < places.length; at += 2) {
      places[at] = Infinity
      places[at + 1] = -Infinity
    }
    for (const channel of [0, 1]) gatherExtremes(places, columns, memory, frame, channel)
    for (let at = 0; at < places.length; at += 4)
      if (!(places[at] <= places[at + 1] && places[at + 2] <= places[at + 3]))
        places.set([Infinity, -Infinity, Infinity, -Infinity], at)
  }

  /** @returns places that hold all those that the window's pixels name, or null when they name none */
  namedBy(window: Window): Places | null {
    const inside = intersect(window, this.window)
    if (isEmpty(inside)) return null
    const { places, columns } = this
    const last = (start: number, length: number) => Math.floor((start + length - 1) / side)
    let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity]
    const [x, y] = [inside.x - this.window.x, inside.y - this.window.y]
    for (let row = Math.floor(y / side); row <= last(y, inside.height); row++)
      for (let column = Math.floor(x / side); column <= last(x, inside.width); column++) {
        const at = (row * columns + column) * 4
        left = Math.min(left, places[at])
        right = Math.max(right, places[at + 1])
        top = Math.min(top, places[at + 2])
        bottom = Math.max(bottom, places[at + 3])
      }
    return left <= right ? { left, right, top, bottom } : null
  }

  /** @returns a window that holds every pixel which names a place inside */
  naming(places: Places): Window {
    const name = `${places.left} ${places.right} ${places.top} ${places.bottom}`
    const known = this.remembered.get(name)
    if (known) return known
    if (this.remembered.size >= mostRemembered) this.remembered.clear()
    const found = this.findNaming(places)
    this.remembered.set(name, found)
    return found
  }

  private findNaming({ left, right, top, bottom }: Places): Window {
    const { places, columns, rows } = this
    let [firstColumn, lastColumn, firstRow, lastRow] = [columns, -1, rows, -1]
    for (let i = 0; i < columns * rows; i++) {
      const at = i * 4
      if (!(places[at + 1] >= left && places[at] <= right && places[at + 3] >= top && places[at + 2] <= bottom))
        continue
      const row = Math.floor(i / columns)
      const column = i - row * columns
      if (column < firstColumn) firstColumn = column
      if (column > lastColumn) lastColumn = column
      if (row < firstRow) firstRow = row
      lastRow = row
    }
    if (lastRow < 0) return emptyWindow
    const covered = {
      x: this.window.x + firstColumn * side,
      y: this.window.y + firstRow * side,
      width: (lastColumn - firstColumn + 1) * side,
      height: (lastRow - firstRow + 1) * side,
    }
    return intersect(covered, this.window)
  }
}

/**
 * Least and most of every block along one axis. It is run once, before the first picture, so a block's row is gone through
 * with numbers that stay in registers.
 */
function gatherExtremes(
  places: Float64Array,
  columns: number,
  memory: ArrayBufferLike,
  { dataWindow: { x: left, y: top, width, height }, planes }: ResidentFrame,
  axis: number,
): void {
  const offsets = new Float32Array(memory, planes[axis].address, width * height)
  for (let y = 0; y < height; y++) {
    const row = y * width
    const first = Math.floor(y / side) * columns * 4 + axis * 2
    const [from, step] = axis === 0 ? [left + 0.5, 1] : [top + y + 0.5, 0]
    for (let x = 0, at = first; x < width; at += 4) {
      let [least, most] = [places[at], places[at + 1]]
      for (const end = Math.min(width, x + side); x < end; x++) {
        const value = offsets[row + x] + (from + x * step)
        if (value < least) least = value
        if (value > most) most = value
      }
      places[at] = least
      places[at + 1] = most
    }
  }
}
