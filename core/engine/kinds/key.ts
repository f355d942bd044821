/**
 * What is known for keying: how far a backing is covered. What is surely in front is summed over cells of pixels, since it is softened
 * over several; coverage is one plane, not four. Buffers of planes hold four pixels where others hold one of four channels.
 */

import type { KeyStep } from '../../graph/steps'
import { dilate, intersect, type Window } from '../../image/window'
import { gaussianAxis } from '../../kernels/gaussian'
import { pixelBytes, planeBytes, stripBytes, stripPixels } from '../../kernels/kernels'
import { pixelAt, tileHeight, tileWidth, type Phase, type PackedBuffer } from '../program'
import type { Lowering, RowMaking, RunRows, StepKind } from './kind'

/** Fewer cells to a sigma would show the grid. */
const leastCells = 1.5
const mostCell = 128
/** What summing over a cell and going evenly from one to the next spread, in cells squared. */
const spreadByCells = 1 / 4

/** Pixels that are summed along each axis, and what is left to be softened then. */
export function cellsFor(sigma: number): { readonly cell: number; readonly weights: readonly number[] } {
  let cell = 1
  while (cell < mostCell && sigma / (cell * 2) >= leastCells) cell *= 2
  const left = cell === 1 ? sigma : Math.sqrt((sigma / cell) ** 2 - spreadByCells)
  // Less than three cells of sigma are left, which is one filter: nothing is reduced once more.
  return { cell, weights: shortened(left) }
}

/** Tails of a Gaussian that hardly count: what it tells is only whether something is near. */
const tail = 0.003

function shortened(sigma: number): readonly number[] {
  const { weights } = gaussianAxis(sigma)
  const kept = weights.filter((weight) => weight >= tail)
  const sum = kept.reduce((total, weight, k) => total + (k === 0 ? weight : 2 * weight), 0)
  return kept.map((weight) => weight / sum)
}

const softWeights = ({ softened }: KeyStep) => shortened(softened)

/** Where coverage must be known, since it is softened; beyond the picture its outermost pixels go on. */
const coveredIn = (step: KeyStep, window: Window, bounds: Window) => {
  const reach = softWeights(step).length - 1
  return intersect(dilate(window, reach, reach), bounds)
}

/** Cells that the pixels of a window lie between. */
function cellsOf({ x, y, width, height }: Window, cell: number): Window {
  const [left, top] = [Math.floor(x / cell) - 1, Math.floor(y / cell) - 1]
  const [right, bottom] = [Math.floor((x + width - 1) / cell) + 2, Math.floor((y + height - 1) / cell) + 2]
  return { x: left, y: top, width: right - left, height: bottom - top }
}

/** Four pixels across as one; one more, since the last may be read beyond. */
function fours({ x, y, width, height }: Window): Window {
  const left = Math.floor(x / 4)
  return { x: left, y, width: Math.ceil((x + width) / 4) - left + 1, height }
}

/** Read in order, so wide and low (see `tilesFor`): four strips across, with what they need beyond to be softened. */
const coverageTiles = { tileWidth: stripPixels - 4, tileHeight: 4 }

export const key: StepKind<KeyStep> = {
  bounds: ({ inputs }, at) => at.bounds(inputs[0]),
  needs(step, window, at) {
    const { cell, weights } = cellsFor(step.around)
    const covered = coveredIn(step, window, at.bounds(step.inputs[0]))
    const reach = (weights.length + 1) * cell
    return step.inputs.map((input) => ({
      input,
      window: intersect(dilate(covered, reach, reach), at.bounds(input)),
    }))
  },
  lower(step, window, at) {
    const [picture, clean] = step.inputs.map((one) => at.rows(one))
    if (picture.node === 'nothing') return picture
    const bounds = at.bounds(step.inputs[0])
    const { cell, weights } = cellsFor(step.around)
    const from = { picture, clean: clean ?? null, bounds, channel: step.channel, backing: step.backing, cell }
    const within = coveredIn(step, window, bounds)
    const sure = sureIn(step, cellsOf(within, cell), weights, from, at)
    const soft = softWeights(step)
    const planes = fours(dilate(window, 0, soft.length - 1))
    const covered = at.make(`${step.key}:covered`, planes)
    const across = at.make(`${step.key}:across`, planes)
    at.phase({ phase: 'key-coverage', ...from, within, sure, soft, across, target: covered, ...coverageTiles })
    return { node: 'key', within: window, covered, across, soft, sure, cell }
  },
}

type From = Pick<
  Extract<Phase, { phase: 'key-cells' }>,
  'picture' | 'clean' | 'bounds' | 'channel' | 'backing' | 'cell'
>

/** What is surely in front, over cells, softened. */
function sureIn(step: KeyStep, cells: Window, weights: readonly number[], from: From, at: Lowering): PackedBuffer {
  const radius = weights.length - 1
  const middle = dilate(cells, 0, radius)
  const first = at.make(`${step.key}:cells`, dilate(middle, radius, 0))
  const small = { tileWidth, tileHeight }
  at.phase({ phase: 'key-cells', ...from, target: first, tileWidth: tileWidth / from.cell, tileHeight })
  const across = at.make(`${step.key}:cells-across`, middle)
  const filter = { sum: 'filter', weights } as const
  at.phase({ phase: 'rows', rows: { node: 'buffer', buffer: first }, across: filter, target: across, ...small })
  const sure = at.make(`${step.key}:sure`, cells)
  at.phase({ phase: 'columns', source: across, down: filter, across: null, target: sure, ...small })
  return sure
}

/** Rows of a cell that are looked at: two of them, as far from each other as from those of the next, tell as much as all. */
const rowsOfCell = (cell: number) => (cell === 1 ? [0] : cell === 2 ? [0, 1] : [cell / 4 - 1, (cell * 3) / 4 - 1])

/** How far below a cell's first row the middle of those rows lies. */
const middleOfRows = (cell: number) => rowsOfCell(cell).reduce((sum, row, _, all) => sum + (row + 0.5) / all.length, 0)

/** A picture, as a strip, and by how much its backing stands out, as a plane. */
function stripsOf({ picture, clean, channel, backing }: From, maker: RowMaking) {
  const { kernels, work } = maker
  const fill = maker.fill(picture)
  const fillClean = clean && maker.fill(clean)
  const [strip, stands, alone] = [work.take(stripBytes), work.take(planeBytes), clean ? work.take(stripBytes) : 0]
  const settings = maker.doubles(backing)
  return {
    ...{ strip, stands },
    fill(x: number, y: number, count: number) {
      fill(strip, x, y, count)
      if (!fillClean) return kernels.keyStands(stands, count, x, y, channel, settings)
      fillClean(alone, x, y, count)
      kernels.keyStandsIn(stands, alone, count, channel)
    },
  }
}

export function runKeyCells(phase: Extract<Phase, { phase: 'key-cells' }>, maker: RowMaking): (tile: Window) => void {
  const { kernels } = maker
  const { cell, channel, target, bounds } = phase
  const { strip, stands, fill } = stripsOf(phase, maker)
  const [sums, added] = [maker.work.take(stripBytes), maker.work.take(stripBytes)]
  const rows = rowsOfCell(cell)
  const most = stripPixels / cell
  const within = maker.inside(bounds, (to, x, y, count) => {
    fill(x, y, count)
    kernels.keySure(to, strip, count, channel, stands)
  })
  return ({ x, y, width, height }) => {
    for (let row = y; row < y + height; row++)
      for (let done = 0; done < width; done += most) {
        const cells = Math.min(most, width - done)
        const left = (x + done) * cell
        within(sums, left, row * cell + rows[0], cells * cell)
        if (rows.length > 1) {
          within(added, left, row * cell + rows[1], cells * cell)
          for (const plane of [0, planeBytes])
            kernels.addPacked(sums + plane, added + plane, Math.ceil((cells * cell) / 4))
        }
        const to = target.address + pixelAt(target.window, x + done, row)
        kernels.keyCells(to, sums, cells, cell, 1 / (cell * rows.length))
      }
  }
}

/** Where the planes of what is surely in front are made from: the row of cells above a row of pixels, and how far it lies below. */
function betweenCells({ address, window }: PackedBuffer, cell: number, maker: RowMaking) {
  const { kernels } = maker
  const work = maker.work.take((stripPixels + 4) * pixelBytes)
  const middle = middleOfRows(cell)
  return (to: number, x: number, y: number, count: number) => {
    const place = (y + 0.5 - middle) / cell
    const row = Math.floor(place)
    const upper = address + pixelAt(window, Math.floor(x / cell) - 1, row)
    const lower = upper + window.width * pixelBytes
    kernels.keyBetween(to, upper, lower, place - row, count, x, cell, work)
  }
}

/** Address of a pixel in a plane. */
const planeAt = ({ address, window }: PackedBuffer, x: number, y: number) =>
  address + pixelAt(window, window.x, y) + (x - 4 * window.x) * 4

export function runKeyCoverage(
  phase: Extract<Phase, { phase: 'key-coverage' }>,
  maker: RowMaking,
): (tile: Window) => void {
  const { kernels } = maker
  const { bounds, channel, within, across, target, tileWidth: widest } = phase
  const { strip, stands, fill } = stripsOf(phase, maker)
  const soft = maker.weights(phase.soft)
  const radius = phase.soft.length - 1
  const pad = Math.ceil(radius / 4) * 4
  const line = maker.work.take((4 * widest + 2 * pad + 4) * 4)
  const sure = maker.work.take(stripBytes)
  const between = betweenCells(phase.sure, phase.cell, maker)
  const floats = new Float32Array(kernels.memory)
  const bottom = bounds.y + bounds.height - 1
  return (tile) => {
    const start = tile.x * 4 - pad
    const end = start + tile.width * 4 + 2 * pad
    const [from, to] = [Math.max(start, within.x), Math.min(end, within.x + within.width)]
    if (from >= to) return
    for (let y = tile.y; y < tile.y + tile.height; y++) {
      const row = Math.min(Math.max(y, bounds.y), bottom)
      for (let x = from; x < to;) {
        // From a whole cell on, where that is quicker.
        const count = Math.min(stripPixels - (x & 3), to - x)
        fill(x, row, count)
        between(sure, x, row, count)
        kernels.keyCoverage(line + (x - start) * 4, strip, count, channel, stands, sure)
        x += count
      }
      const first = line >> 2
      if (from > start) floats.fill(floats[first + from - start], first, first + from - start)
      if (to < end) floats.fill(floats[first + to - start - 1], first + to - start, first + end - start)
      const at = planeAt(target, tile.x * 4, y)
      kernels.copy(at, line + pad * 4, tile.width * pixelBytes)
      kernels.filterColumn(planeAt(across, tile.x * 4, y), line + pad * 4, tile.width, 4, soft, radius)
    }
  }
}

/** Coverage, the same softened, what is surely in front, and how surely. */
export const runKey: RunRows<'key'> = ({ within, covered, across, soft, sure, cell }, maker) => {
  const { kernels } = maker
  const weights = maker.weights(soft)
  const between = betweenCells(sure, cell, maker)
  const stride = across.window.width * pixelBytes
  return maker.inside(within, (strip, x, y, count) => {
    const vectors = Math.ceil(count / 4)
    kernels.copy(strip, planeAt(covered, x, y), vectors * pixelBytes)
    kernels.filterColumn(strip + planeBytes, planeAt(across, x, y), vectors, stride, weights, soft.length - 1)
    between(strip + 2 * planeBytes, x, y, count)
  })
}
