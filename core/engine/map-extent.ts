/** How far the places reach that a map names: what of a picture a warp can see. */

import { intersect, isEmpty, type Window } from '../image/window'
import { halfTable } from '../kernels/half'
import type { MapExtent } from './compile'
import type { ResidentFrame } from './program'

/** @returns least and most shares of the frame named by the map's pixels in the window, or null when none is a number */
export function mapExtentOf(memory: ArrayBufferLike, frame: ResidentFrame, window: Window): MapExtent | null {
  const inside = intersect(window, frame.dataWindow)
  if (isEmpty(inside) || frame.planes.length < 2) return null
  const [across, down] = [0, 1].map((c) => extremes(memory, frame, c, inside))
  if (!across || !down) return null
  return { left: across[0], right: across[1], top: down[0], bottom: down[1] }
}

function extremes(
  memory: ArrayBufferLike,
  { dataWindow, planes }: ResidentFrame,
  channel: number,
  window: Window,
): [number, number] | null {
  const { type, address } = planes[channel]
  const halves = new Uint16Array(memory, address, type === 'half' ? dataWindow.width * dataWindow.height : 0)
  const floats = new Float32Array(memory, address, type === 'float' ? dataWindow.width * dataWindow.height : 0)
  let least = Infinity
  let most = -Infinity
  for (let row = 0; row < window.height; row++) {
    const start = (window.y + row - dataWindow.y) * dataWindow.width + window.x - dataWindow.x
    for (let i = start; i < start + window.width; i++) {
      const value = type === 'half' ? halfTable[halves[i]] : floats[i]
      if (value < least) least = value
      if (value > most) most = value
    }
  }
  return Number.isFinite(least) && Number.isFinite(most) ? [least, most] : null
}
