/** A Gaussian blur, in up to four passes; what lies around its input goes on where it is said to. */

import type { BlurStep } from '../../graph/steps'
import { dilate, intersect, isEmpty, type Window } from '../../image/window'
import { axisReach, enlargeTaps, gaussianAxis, reach, type AxisFilter } from '../../kernels/gaussian'
import { pixelBytes, planeBytes } from '../../kernels/kernels'
import {
  pixelAt,
  rowPixels,
  tileHeight,
  tileWidth,
  type PackedBuffer,
  type Rows,
  type Sides,
  type Sum,
} from '../program'
import type { Bounding, Lowering, RunRows, StepKind } from './kind'

const axesOf = ({ sigmaX, sigmaY }: BlurStep) => ({ x: gaussianAxis(sigmaX), y: gaussianAxis(sigmaY) })

export const blur: StepKind<BlurStep> = {
  bounds(step, at) {
    const { x, y } = axesOf(step)
    return dilate(at.bounds(step.inputs[0]), axisReach(x), axisReach(y))
  },
  needs(step, window, at) {
    const { x, y } = axesOf(step)
    return [{ input: step.inputs[0], window: held(step, dilate(window, axisReach(x), axisReach(y)), at) }]
  },
  lower(step, window, at) {
    const { x, y } = axesOf(step)
    const final = spreadWindow(step, window)
    const rows = around(step, at)
    if (rows.node === 'nothing') return rows
    const filterX: Sum = { sum: 'filter', weights: x.weights }
    if (x.step === 1 && y.step === 1) {
      const buffer = at.make(`${step.key}:spread`, final)
      rowsPhase(at, rows, filterX, buffer)
      return spreadRows(step, window, buffer)
    }
    const radiusX = x.step === 1 ? 0 : x.weights.length - 1
    const radiusY = y.weights.length - 1
    const middle = dilate(final, 0, radiusY)
    const [top, height] = fullSpan(middle.y, middle.height, y)
    const first = { x: middle.x - radiusX, y: top, width: middle.width + 2 * radiusX, height }
    const reduced = at.make(`${step.key}:first`, first)
    rowsPhase(at, rows, x.step === 1 ? filterX : { sum: 'reduce', step: x.step, weights: x.reduce }, reduced)
    const across = at.make(`${step.key}:middle`, middle)
    columnsPhase(
      at,
      reduced,
      y.step === 1 ? null : { sum: 'reduce', step: y.step, weights: y.reduce },
      x.step === 1 ? null : filterX,
      across,
    )
    const buffer = at.make(`${step.key}:spread`, final)
    columnsPhase(at, across, { sum: 'filter', weights: y.weights }, null, buffer)
    return spreadRows(step, window, buffer)
  },
  lowerMade(step, window, found) {
    const buffer = found(`${step.key}:spread`, spreadWindow(step, window))
    return buffer && spreadRows(step, window, buffer)
  },
}

/** The part of the input's window that has pixels; for extended ones at least the pixel that is repeated. */
function held({ inputs: [input], beyond }: BlurStep, window: Window, at: Bounding): Window {
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
function sidesOf(beyond: BlurStep['beyond'], bounds: Window): Sides | null {
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
function around({ inputs: [step], beyond }: BlurStep, at: Lowering): Rows {
  const input = at.rows(step)
  if (input.node === 'nothing') return input
  const bounds = at.bounds(step)
  const sides = sidesOf(beyond, bounds)
  return sides ? { node: 'extend', input, bounds, sides } : { node: 'clip', input, bounds }
}

/** The reduced pixels that an enlargement of the window reads along one axis. */
function reducedSpan(first: number, length: number, { step }: AxisFilter): [number, number] {
  if (step === 1) return [first, length]
  const start = Math.floor(first / step) - reach
  return [start, Math.floor((first + length - 1) / step) + reach - start + 1]
}

/** The pixels that a reduction to `length` reduced pixels reads along one axis. */
function fullSpan(first: number, length: number, { step }: AxisFilter): [number, number] {
  return step === 1 ? [first, length] : [(first - reach) * step, (length + 2 * reach) * step]
}

/** The buffer that the last part of a blur reads, in reduced pixels along reduced axes. */
function spreadWindow(step: BlurStep, window: Window): Window {
  const { x, y } = axesOf(step)
  const [left, width] = reducedSpan(window.x, window.width, x)
  const [top, height] = reducedSpan(window.y, window.height, y)
  // Where nothing is reduced the last part is the filter down the columns itself.
  const radius = x.step === 1 && y.step === 1 ? y.weights.length - 1 : 0
  return { x: left, y: top - radius, width, height: height + 2 * radius }
}

function spreadRows(step: BlurStep, within: Window, buffer: PackedBuffer): Rows {
  const { x, y } = axesOf(step)
  const last = x.step === 1 && y.step === 1 ? y.weights : [1]
  return {
    node: 'spread',
    buffer,
    within,
    down: y.step === 1 ? { step: 1, weights: last } : { step: y.step, weights: y.enlarge },
    across: { step: x.step, weights: x.step === 1 ? [1] : x.enlarge },
  }
}

function rowsPhase(at: Lowering, rows: Rows, across: Sum, target: PackedBuffer): void {
  at.phase({ phase: 'rows', rows, across, target, tileWidth: tileWidthFor(across), tileHeight })
}

function columnsPhase(
  at: Lowering,
  source: PackedBuffer,
  down: Sum | null,
  across: Sum | null,
  target: PackedBuffer,
): void {
  const width = across ? tileWidthFor(across) : tileWidth
  at.phase({ phase: 'columns', source, down, across, target, tileWidth: width, tileHeight })
}

/** As wide as the worker's row has room for. */
function tileWidthFor(across: Sum): number {
  const most =
    across.sum === 'filter'
      ? rowPixels - 2 * (across.weights.length - 1)
      : Math.floor(rowPixels / across.step) - 2 * reach
  return Math.max(1, Math.min(tileWidth, most))
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

export const runSpread: RunRows<'spread'> = ({ buffer, within, down, across }, maker) => {
  const { kernels } = maker
  const { address, window } = buffer
  const stride = window.width * pixelBytes
  const downWeights = maker.weights(down.weights)
  const acrossWeights = maker.weights(across.weights)
  const radius = down.step === 1 ? down.weights.length - 1 : 0
  const summed = maker.packedRow()
  const enlarged = across.step === 1 ? summed : maker.packedRow()
  return maker.inside(within, (strip, x, y, count) => {
    const left = across.step === 1 ? x : Math.floor(x / across.step) - reach
    const width = across.step === 1 ? count : Math.floor((x + count - 1) / across.step) + reach - left + 1
    if (down.step === 1) {
      kernels.filterColumn(summed, address + pixelAt(window, left, y), width, stride, downWeights, radius)
    } else {
      const block = Math.floor(y / down.step)
      const weights = downWeights + (y - block * down.step) * enlargeTaps * 4
      kernels.sumRows(summed, address + pixelAt(window, left, block - reach), width, stride, weights, enlargeTaps)
    }
    if (across.step > 1) {
      const phase = x - (left + reach) * across.step
      kernels.enlargeRow(enlarged, summed, count, across.step, phase, acrossWeights, enlargeTaps)
    }
    kernels.unpack(strip, enlarged, count)
  })
}
