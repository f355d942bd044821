/** Coverage grown or shrunk by a disc. */

import type { GrowStep } from '../../graph/steps'
import { dilate, intersect, type Window } from '../../image/window'
import { pixelBytes, stripPixels } from '../../kernels/kernels'
import { pixelAt, tilesFor, type Rows } from '../program'
import { around, held } from './beyond'
import type { RunRows, StepKind } from './kind'

const reachOf = ({ radius }: GrowStep) => Math.floor(Math.abs(radius)) + 1

const bufferKey = ({ key }: GrowStep) => `${key}:around`

const rowsOf = (step: GrowStep, within: Window, buffer: Extract<Rows, { node: 'grow' }>['buffer']): Rows => ({
  node: 'grow',
  buffer,
  within,
  radius: step.radius,
})

export const grow: StepKind<GrowStep> = {
  bounds(step, at) {
    const input = at.bounds(step.inputs[0])
    return step.radius > 0 ? dilate(input, reachOf(step), reachOf(step)) : input
  },
  needs(step, window, at) {
    const reach = reachOf(step)
    return [{ input: step.inputs[0], window: held(step, dilate(window, reach, reach), at) }]
  },
  lower(step, window, at) {
    const rows = around(step, at)
    if (rows.node === 'nothing') return rows
    const within = intersect(window, at.bounds(step))
    const buffer = at.make(bufferKey(step), dilate(within, reachOf(step), reachOf(step)))
    at.phase({ phase: 'rows', rows, across: null, target: buffer, ...tilesFor(rows, buffer.window) })
    return rowsOf(step, within, buffer)
  },
  lowerMade(step, window, found) {
    const buffer = found(bufferKey(step), dilate(window, reachOf(step), reachOf(step)))
    return buffer && rowsOf(step, window, buffer)
  },
}

/** A row of the disc: how far above or below the middle, and how far it reaches to each side. */
interface DiscRow {
  readonly down: number
  readonly half: number
}

/** Rows of a disc as close as its outline needs: every pixel's, and of its outline one every few degrees. */
export function discRows(radius: number): readonly DiscRow[] {
  const degrees = radius < 8 ? 15 : radius < 20 ? 7.5 : 4.5
  const whole = Math.floor(radius)
  const downs = new Set<number>()
  for (let down = -whole; down <= whole; down++) downs.add(down)
  for (let angle = -90; angle <= 90; angle += degrees) downs.add(radius * Math.sin((angle * Math.PI) / 180))
  return [...downs]
    .sort((a, b) => a - b)
    .map((down) => ({ down, half: Math.sqrt(Math.max(0, radius * radius - down * down)) }))
}

export const runGrow: RunRows<'grow'> = ({ buffer, within, radius }, maker) => {
  const { kernels } = maker
  const { address, window } = buffer
  const sign = radius > 0 ? 1 : -1
  const rows = discRows(Math.abs(radius))
  const out = maker.packedRow()
  const work = maker.work.take(2 * (stripPixels + 2 * (Math.floor(Math.abs(radius)) + 1)) * pixelBytes)
  return maker.inside(within, (strip, x, y, count) => {
    rows.forEach(({ down, half }, i) => {
      const upper = Math.floor(down)
      const whole = Math.floor(half)
      const above = address + pixelAt(window, x - whole - 1, y + upper)
      const below = upper === down ? above : above + window.width * pixelBytes
      kernels.growRow(out, above, below, down - upper, count, whole, half - whole, work, sign, i === 0 ? 1 : 0)
    })
    if (sign < 0) kernels.turnPacked(out, count)
    kernels.unpack(strip, out, count)
  })
}
