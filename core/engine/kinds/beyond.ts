/** What lies beyond the input of a step that looks around. */

import type { Beyond, Step } from '../../graph/steps'
import { intersect, isEmpty, type Window } from '../../image/window'
import { planeBytes } from '../../kernels/kernels'
import type { Rows, Sides } from '../program'
import type { Bounding, Lowering, RunRows } from './kind'

interface LooksAround {
  readonly inputs: readonly Step[]
  readonly beyond: Beyond
}

/** The part of the input's window that has pixels; for extended ones at least the pixel that is repeated. */
export function held({ inputs: [input], beyond }: LooksAround, window: Window, at: Bounding): Window {
  const bounds = at.bounds(input)
  const inside = intersect(window, bounds)
  if (beyond === 'empty' || isEmpty(bounds) || !isEmpty(inside)) return inside
  const x = Math.min(Math.max(window.x, bounds.x), bounds.x + bounds.width - 1)
  const y = Math.min(Math.max(window.y, bounds.y), bounds.y + bounds.height - 1)
  const right = Math.min(Math.max(window.x + window.width, x + 1), bounds.x + bounds.width)
  const bottom = Math.min(Math.max(window.y + window.height, y + 1), bounds.y + bounds.height)
  return { x, y, width: right - x, height: bottom - y }
}

const all: Sides = { left: true, right: true, top: true, bottom: true }

/** On which sides the outermost pixels go on: where the input reaches the frame's edge and no further. */
function sidesOf(beyond: Beyond, bounds: Window): Sides | null {
  if (beyond === 'empty') return null
  if (beyond === 'extend') return all
  const { frame } = beyond
  const sides = {
    left: bounds.x === frame.x,
    right: bounds.x + bounds.width === frame.x + frame.width,
    top: bounds.y === frame.y,
    bottom: bounds.y + bounds.height === frame.y + frame.height,
  }
  return sides.left || sides.right || sides.top || sides.bottom ? sides : null
}

/** The input with what lies beyond it. */
export function around({ inputs: [step], beyond }: LooksAround, at: Lowering): Rows {
  const input = at.rows(step)
  if (input.node === 'nothing') return input
  const bounds = at.bounds(step)
  const sides = sidesOf(beyond, bounds)
  return sides ? { node: 'extend', input, bounds, sides } : { node: 'clip', input, bounds }
}

export const runClip: RunRows<'clip'> = ({ input, bounds }, maker) => maker.inside(bounds, maker.fill(input))

export const runExtend: RunRows<'extend'> = ({ input, bounds, sides }, maker) => {
  const fill = maker.fill(input)
  const right = bounds.x + bounds.width - 1
  const bottom = bounds.y + bounds.height - 1
  const floats = new Float32Array(maker.kernels.memory)
  return (strip, x, y, count) => {
    const row = Math.min(Math.max(y, bounds.y), bottom)
    if ((row > y && !sides.top) || (row < y && !sides.bottom)) return maker.clear(strip, count)
    const from = Math.min(Math.max(x, bounds.x), right)
    const to = Math.max(from, Math.min(x + count - 1, right)) + 1
    // Wholly to the left, the one pixel that is repeated comes to lie at the start.
    const offset = Math.min(Math.max(0, from - x), count - 1)
    fill(strip + offset * 4, from, row, to - from)
    const outsideLeft = x + count <= bounds.x
    const outsideRight = x > right
    for (let c = 0; c < 4; c++) {
      const start = (strip + c * planeBytes) >> 2
      const first = sides.left ? floats[start + offset] : 0
      const last = sides.right ? floats[start + offset + to - from - 1] : 0
      if (outsideLeft) floats.fill(first, start, start + count)
      else if (outsideRight) floats.fill(last, start, start + count)
      else {
        floats.fill(first, start, start + offset)
        floats.fill(last, start + offset + to - from, start + count)
      }
    }
  }
}
