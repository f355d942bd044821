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

const sideBits = 4
const side = 2 ** sideBits
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

/** Least and most of every block along one axis, in one loop over the pixels: it is run once, before the first picture. */
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
    for (let x = 0; x < width; x++) {
      const value = offsets[row + x] + (axis === 0 ? left + x : top + y) + 0.5
      const at = first + (x >> sideBits) * 4
      if (value < places[at]) places[at] = value
      if (value > places[at + 1]) places[at + 1] = value
    }
  }
}
