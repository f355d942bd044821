/** A Gaussian blur, in up to four passes; what lies around its input goes on where it is said to. */

import type { BlurStep } from '../../graph/steps'
import { dilate, type Window } from '../../image/window'
import { axisReach, enlargeTaps, gaussianAxis, reach, type AxisFilter } from '../../kernels/gaussian'
import { pixelBytes } from '../../kernels/kernels'
import { pixelAt, rowPixels, tileHeight, tileWidth, type PackedBuffer, type Rows, type Sum } from '../program'
import { around, held } from './beyond'
import type { Lowering, RunRows, StepKind } from './kind'

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
