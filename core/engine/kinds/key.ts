/**
 * What was filmed before a backing, without it. What is surely in front is summed over cells of pixels, since it is softened over
 * several. Whether a pixel is next to nothing or to all is told from coverage softened, in whole numbers of 16 bits. Coverage itself is
 * computed only where that is more than nothing: most of such a picture is backing alone, and is not even read again.
 */

import type { KeyCut, KeyStep } from '../../graph/steps'
import { dilate, intersect, type Window } from '../../image/window'
import { gaussianAxis } from '../../kernels/gaussian'
import { pixelBytes, planeBytes, shortOne, stripBytes, stripPixels } from '../../kernels/kernels'
import {
  pixelAt,
  tileHeight,
  tileWidth,
  type KeyedPicture,
  type KeyKnown,
  type PackedBuffer,
  type Phase,
  type SoftCells,
} from '../program'
import type { FillStrip, Lowering, RowMaking, RunRows, StepKind } from './kind'

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

/** Weights in whole numbers that sum to all, so that what is the same everywhere stays what it is. */
function shortWeights(weights: readonly number[]): readonly number[] {
  const rounded = weights.map((weight) => Math.round(weight * shortOne))
  const largest = rounded.indexOf(Math.max(...rounded))
  rounded[largest] += shortOne - rounded.reduce((sum, weight) => sum + weight, 0)
  // 32768 is one more than 16 bits hold.
  return rounded.map((weight) => Math.min(weight * 4, 32767))
}

/** Both sides of a symmetric filter of which the middle and one are given. */
const bothSides = ([middle, ...side]: readonly number[]) => [...side.toReversed(), middle, ...side]

/** Coverage is softened over cells of two by two pixels where that is wide enough not to show the grid. */
export function softFor(sigma: number): SoftCells {
  const left = sigma ** 2 - spreadByCells * 4
  if (left < 1) {
    const across = bothSides(shortened(sigma))
    const radius = (across.length - 1) / 2
    const weights = shortWeights(across)
    return { cell: 1, across: weights, radius, down: [{ weights, first: -radius }] }
  }
  const across = bothSides(shortened(Math.sqrt(left) / 2))
  const radius = (across.length - 1) / 2
  // A row of pixels lies a quarter of the way from its own row of cells to the next on its side.
  const before = [...across, 0].map((weight, i) => (weight * 1 + (across[i - 1] ?? 0) * 3) / 4)
  const after = [...across, 0].map((weight, i) => (weight * 3 + (across[i - 1] ?? 0) * 1) / 4)
  return {
    ...{ cell: 2, across: shortWeights(across), radius },
    down: [
      { weights: shortWeights(before), first: -radius - 1 },
      { weights: shortWeights(after), first: -radius },
    ],
  }
}

/** Where coverage must be known, since it is softened; beyond the picture its outermost pixels go on. */
const coveredIn = ({ cell, radius }: SoftCells, window: Window, bounds: Window) => {
  const reach = (radius + 2) * cell
  return intersect(dilate(window, reach, reach), bounds)
}

/** Cells that the pixels of a window lie between. */
function cellsOf({ x, y, width, height }: Window, cell: number): Window {
  const [left, top] = [Math.floor(x / cell) - 1, Math.floor(y / cell) - 1]
  const [right, bottom] = [Math.floor((x + width - 1) / cell) + 2, Math.floor((y + height - 1) / cell) + 2]
  return { x: left, y: top, width: right - left, height: bottom - top }
}

/** Eight cells across as one, of those that the pixels of a window are softened from; one more, since the last may be read beyond. */
function eights({ x, y, width, height }: Window, { cell, radius }: SoftCells): Window {
  const left = Math.floor((x / cell - 1) / 8)
  const [top, bottom] = [Math.floor(y / cell) - radius - 1, Math.floor((y + height - 1) / cell) + radius + 2]
  return { x: left, y: top, width: Math.ceil(((x + width) / cell + 1) / 8) - left + 1, height: bottom - top }
}

/** Pixels of a tile; so wide and low, since the picture is read in order (see `tilesFor`). */
const coverageTiles = (cell: number) => ({ tileWidth: (4 * stripPixels) / (8 * cell) - 2, tileHeight: 4 / cell })

/** Rows of those tiles, a pixel each. */
const litOf = ({ y, width, height }: Window, cell: number): Window => ({
  ...{ x: 0, y, height },
  width: Math.ceil(width / coverageTiles(cell).tileWidth),
})

export const key: StepKind<KeyStep> = {
  bounds: ({ inputs }, at) => at.bounds(inputs[0]),
  needs(step, window, at) {
    const { cell, weights } = cellsFor(step.around)
    const covered = coveredIn(softFor(step.softened), window, at.bounds(step.inputs[0]))
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
    const of = { picture, clean: clean ?? null, bounds, channel: step.channel, backing: step.backing, cell }
    const soft = softFor(step.softened)
    const within = coveredIn(soft, window, bounds)
    const sure = sureIn(step, cellsOf(within, cell), weights, of, at)
    const planes = eights(window, soft)
    const across = at.make(`${step.key}:across`, planes)
    const lit = at.make(`${step.key}:lit`, litOf(planes, soft.cell))
    const known = { sure, across, soft, lit }
    at.phase({ phase: 'key-coverage', of, within, known, target: across, ...coverageTiles(soft.cell) })
    return { node: 'key', within: window, of, cut: step.cut, known }
  },
}

/** What is surely in front, over cells, softened. */
function sureIn(
  step: KeyStep,
  cells: Window,
  weights: readonly number[],
  of: KeyedPicture,
  at: Lowering,
): PackedBuffer {
  const radius = weights.length - 1
  const middle = dilate(cells, 0, radius)
  const first = at.make(`${step.key}:cells`, dilate(middle, radius, 0))
  const small = { tileWidth, tileHeight }
  at.phase({ phase: 'key-cells', of, target: first, tileWidth: tileWidth / of.cell, tileHeight })
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

/** Fills a strip with a picture and, where it was filmed alone, another with the backing. */
function stripsOf({ picture, clean, channel, backing }: KeyedPicture, maker: RowMaking) {
  const { kernels, work } = maker
  const fill = maker.fill(picture)
  const fillClean = clean && maker.fill(clean)
  const alone = clean ? work.take(stripBytes) : 0
  const settings = maker.doubles(backing)
  return {
    ...{ alone, settings },
    fill(strip: number, x: number, y: number, count: number) {
      fill(strip, x, y, count)
      fillClean?.(alone, x, y, count)
    },
    /** by how much the backing stands out, as a plane; `y` of the middle of the row. Of a backing filmed alone after `fill` */
    stands: (to: number, x: number, y: number, count: number) =>
      kernels.keyStands(to, count, x, y, channel, settings, alone),
  }
}

export function runKeyCells(
  { of, target }: Extract<Phase, { phase: 'key-cells' }>,
  maker: RowMaking,
): (tile: Window) => void {
  const { kernels } = maker
  const { cell, channel, bounds } = of
  const { stands, fill } = stripsOf(of, maker)
  const [strip, sums, added] = [1, 2, 3].map(() => maker.work.take(stripBytes))
  const plane = maker.work.take(planeBytes)
  const rows = rowsOfCell(cell)
  const most = stripPixels / cell
  const within = maker.inside(bounds, (to, x, y, count) => {
    fill(strip, x, y, count)
    stands(plane, x, y + 0.5, count)
    kernels.keySure(to, strip, count, channel, plane)
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

/**
 * Makes the planes of what is surely in front from the row of cells above a row of pixels and the next.
 *
 * @returns whether anything is near
 */
function betweenCells({ address, window }: PackedBuffer, cell: number, maker: RowMaking) {
  const { kernels } = maker
  const work = maker.work.take((stripPixels + 4) * pixelBytes)
  const middle = middleOfRows(cell)
  return (to: number, x: number, y: number, count: number): boolean => {
    const place = (y + 0.5 - middle) / cell
    const row = Math.floor(place)
    const upper = address + pixelAt(window, Math.floor(x / cell) - 1, row)
    const lower = upper + window.width * pixelBytes
    return kernels.keyBetween(to, upper, lower, place - row, count, x, cell, work) !== 0
  }
}

/** Address of a cell in a plane of whole numbers of 16 bits. */
const shortAt = ({ address, window }: PackedBuffer, x: number, y: number) =>
  address + pixelAt(window, window.x, y) + (x - 8 * window.x) * 2

/** Address of what is told of the row of the tile in which a cell lies. */
const litAt = ({ lit, across, soft }: KeyKnown, x: number, y: number) =>
  lit.address +
  pixelAt(lit.window, Math.floor((Math.floor(x / 8) - across.window.x) / coverageTiles(soft.cell).tileWidth), y)

function shorts(values: readonly number[], maker: RowMaking): number {
  const address = maker.work.take(values.length * 2)
  new Int16Array(maker.kernels.memory, address, values.length).set(values)
  return address
}

export function runKeyCoverage(
  { of, within, known, tileWidth: widest }: Extract<Phase, { phase: 'key-coverage' }>,
  maker: RowMaking,
): (tile: Window) => void {
  const { kernels, work } = maker
  const { bounds, channel, cell } = of
  const { alone, stands, fill } = stripsOf(of, maker)
  const strip = work.take(stripBytes)
  const { cell: size, radius, across } = known.soft
  const weights = shorts(across, maker)
  const pad = 8 * Math.ceil(radius / 8)
  const cells = work.take((8 * widest + 2 * pad + 8) * 2)
  const lines = Array.from({ length: size }, () => work.take((8 * widest + 2 * pad + 8) * size * 2))
  const plane = work.take((8 * widest + 2 * pad + 8) * size * 4)
  const sure = work.take(stripBytes)
  const between = betweenCells(known.sure, cell, maker)
  const numbers = new Int16Array(kernels.memory)
  const words = new Int32Array(kernels.memory)

  const limitTo = (y: number) => Math.min(Math.max(y, bounds.y), bounds.y + bounds.height - 1)

  /** Coverage of a row of cells' pixels from `start` to `end`. @returns not 0 where there may be light without it */
  const coverRow = (start: number, end: number, y: number): number => {
    const from = Math.max(start, within.x)
    const to = Math.min(end, within.x + within.width)
    if (from >= to) return 0
    // A surface, and what is softened over cells no smaller, hardly change from a row to the next: all take those of their middle.
    const middle = limitTo((y + 0.5) * size - 0.5)
    if (alone === 0) stands(plane, start, middle + 0.5, end - start)
    let lit = 0
    for (let x = from; x < to;) {
      // From a whole cell on, where that is quicker.
      const count = Math.min(stripPixels - (x & 3), to - x)
      const at = x - start
      let near = cell < size || !between(sure, x, middle, count) ? 0 : sure
      for (let j = 0; j < size; j++) {
        const row = limitTo(y * size + j)
        if (cell < size) near = between(sure, x, row, count) ? sure : 0
        fill(strip, x, row, count)
        if (alone !== 0) stands(plane + at * 4, x, row, count)
        lit |= kernels.keyCoverage(lines[j] + at * 2, strip, count, channel, plane + at * 4, near)
      }
      x += count
    }
    for (let j = 0; j < size; j++) {
      const first = lines[j] >> 1
      if (from > start) numbers.fill(numbers[first + from - start], first, first + from - start)
      if (to < end) numbers.fill(numbers[first + to - start - 1], first + to - start, first + end - start)
    }
    return lit
  }

  return (tile) => {
    const left = tile.x * 8 - pad
    const count = tile.width * 8 + 2 * pad
    for (let y = tile.y; y < tile.y + tile.height; y++) {
      words[litAt(known, tile.x * 8, y) >> 2] = coverRow(left * size, (left + count) * size, y)
      if (size === 2) kernels.meanShorts(cells, lines[0], lines[1], count)
      const from = (size === 2 ? cells : lines[0]) + (pad - radius) * 2
      kernels.sumShorts(shortAt(known.across, tile.x * 8, y), from, tile.width * 8, 2, weights, across.length)
    }
  }
}

/** Pixels of a block that is told to have nothing. */
const block = 64

/** What is known of a piece of a row. */
function knownOf(of: KeyedPicture, known: KeyKnown, maker: RowMaking) {
  const { kernels, work } = maker
  const { cell, down } = known.soft
  const sums = down.map(({ weights, first }) => ({ weights: shorts(weights, maker), taps: weights.length, first }))
  const [cells, wide, sure] = [work.take(planeBytes), work.take(planeBytes), work.take(stripBytes)]
  const stride = known.across.window.width * pixelBytes
  const words = new Int32Array(kernels.memory)
  return {
    sure,
    between: betweenCells(known.sure, of.cell, maker),
    /** softens coverage down its columns */
    soften(x: number, y: number, count: number): void {
      const sum = sums[y & (cell - 1)]
      const from = shortAt(known.across, Math.floor(x / cell) - 1, Math.floor(y / cell) + sum.first)
      const many = Math.floor((x + count - 1) / cell) - Math.floor(x / cell) + 3
      kernels.sumShorts(cells, from, Math.ceil(many / 8) * 8, stride, sum.weights, sum.taps)
    },
    /** after that: the blocks in which it is more than a limit, a bit each */
    above: (x: number, count: number, limit: number) =>
      kernels.blocksAbove(cells, Math.ceil((count + (x & (cell - 1))) / block), block / cell, limit),
    /** after that: softened coverage of each pixel @returns its address */
    around(x: number, count: number): number {
      if (cell === 1) return cells + 2
      kernels.widenShorts(wide, cells + 2, count + (x & 1))
      return wide + 2 * (x & 1)
    },
    /** whether there may be light without coverage */
    lit(x: number, y: number, count: number): boolean {
      const row = Math.floor(y / cell)
      const from = litAt(known, Math.floor(x / cell), row)
      const to = litAt(known, Math.floor((x + count - 1) / cell), row)
      return words[from >> 2] !== 0 || words[to >> 2] !== 0
    },
  }
}

export const runKey: RunRows<'key'> = ({ within, of, cut, known }, maker) =>
  maker.inside(within, cut ? cutPiece(cut, of, known, maker) : knownPiece(of, known, maker))

function knownPiece(of: KeyedPicture, known: KeyKnown, maker: RowMaking): FillStrip {
  const { kernels } = maker
  const { around, soften, between } = knownOf(of, known, maker)
  return (strip, x, y, count) => {
    soften(x, y, count)
    kernels.clearStrip(strip, count)
    between(strip + planeBytes, x, y, count)
    kernels.fromShorts(strip, around(x, count), count)
  }
}

function cutPiece(
  { clear, solid, spill, toMean, shows }: KeyCut,
  of: KeyedPicture,
  known: KeyKnown,
  maker: RowMaking,
): FillStrip {
  const { kernels } = maker
  const { around, sure, soften, above, between, lit } = knownOf(of, known, maker)
  const { alone, settings, fill } = stripsOf(of, maker)
  const { channel } = of
  const limit = Math.floor(Math.fround(clear) * shortOne)
  const [overClear, overSolid] = [1 / Math.max(clear, 1e-6), 1 / Math.max(solid, 1e-6)]
  const [mean, shown] = [toMean ? 1 : 0, ['all', 'figure', 'shadow'].indexOf(shows)]

  const cutOut = (strip: number, x: number, y: number, count: number, soft: number, some: number) => {
    fill(strip, x, y, count)
    const near = between(sure, x, y, count) ? sure : 0
    // prettier-ignore
    kernels.keyOut(
      strip, count, x, y, channel, settings, alone, soft, near,
      clear, overClear, solid, overSolid, spill, mean, shown, some,
    )
  }

  return (strip, x, y, count) => {
    soften(x, y, count)
    if (lit(x, y, count)) return cutOut(strip, x, y, count, around(x, count), 1)
    const found = above(x, count, limit)
    if (found === 0) return kernels.clearStrip(strip, count)
    const soft = around(x, count)
    const before = x & (known.soft.cell - 1)
    // Runs of blocks of which all are more than nothing, or none; blocks begin at a whole cell.
    for (let from = 0, b = 0; from < count;) {
      const some = (found >> b) & 1
      while (((found >> b) & 1) === some && b * block - before < count) b++
      const to = Math.min(b * block - before, count)
      if (some) cutOut(strip + from * 4, x + from, y, to - from, soft + from * 2, 0)
      else kernels.clearStrip(strip + from * 4, to - from)
      from = to
    }
  }
}
