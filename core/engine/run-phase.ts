/** Computes tiles of one phase. Tiles know nothing of each other: any layout and any order give the same bits. */

import { pixelCount, tilesOf, type Window } from '../image/window'
import { reach, reduceBlocks } from '../kernels/gaussian'
import {
  kernelScratchBytes,
  kernelsOn,
  pixelBytes,
  planeBytes,
  stripBytes,
  stripPixels,
  type Kernels,
} from '../kernels/kernels'
import { outputBytes, pixelAt, type Phase, type Placed, type Sum } from './program'
import { runKeyCells, runKeyCoverage } from './kinds'
import type { FillStrip } from './kinds/kind'
import { RowMaker, WorkMemory } from './row-maker'
import { workBytes } from './worker-messages'

/** Computes one tile of the phase's window. */
export type RunTile = (tile: Window) => void

/** The window whose tiles the phase is made of. */
export function windowOf(phase: Phase): Window {
  return phase.phase === 'output' ? phase.window : phase.target.window
}

/** A thread's kernels and its own memory. */
export class PhaseRunner {
  private readonly kernels: Kernels
  private readonly work: WorkMemory

  /**
   * @param address `workBytes` bytes that no other thread uses
   * @param worker whose counts it adds to
   */
  constructor(
    module: WebAssembly.Module,
    memory: WebAssembly.Memory,
    address: number,
    private readonly worker = 0,
  ) {
    this.kernels = kernelsOn(module, memory, address)
    this.work = new WorkMemory(address + kernelScratchBytes, workBytes - kernelScratchBytes)
  }

  prepare(phase: Phase): RunTile {
    return prepare(phase, this.kernels, this.work, this.worker)
  }

  /** All tiles of all phases, one after the other. */
  run(phases: readonly Phase[]): void {
    for (const phase of phases) {
      const run = this.prepare(phase)
      for (const tile of tilesOfPhase(phase)) run(tile)
    }
  }
}

export function tilesOfPhase(phase: Phase): Window[] {
  return tilesOf(windowOf(phase), phase.tileWidth, phase.tileHeight)
}

/** Lays out what the phase needs in the worker's memory. */
function prepare(phase: Phase, kernels: Kernels, work: WorkMemory, worker: number): RunTile {
  work.reset()
  const maker = new RowMaker(kernels, work)
  switch (phase.phase) {
    case 'rows':
      return rowsPhase(phase, kernels, work, maker)
    case 'columns':
      return columnsPhase(phase, kernels, maker)
    case 'key-cells':
      return runKeyCells(phase, maker)
    case 'key-coverage':
      return runKeyCoverage(phase, maker)
    case 'output':
      return outputPhase(phase, kernels, work, maker, worker)
  }
}

/** Sums a packed row that starts `before` pixels to the left of what is wanted. */
interface AcrossSum {
  /** the pixels to make ready for `count` results from x on */
  span(x: number, count: number): readonly [first: number, length: number]
  run(to: number, row: number, count: number): void
}

function acrossSum(sum: Sum, kernels: Kernels, maker: RowMaker): AcrossSum {
  const weights = maker.weights(sum.weights)
  if (sum.sum === 'filter') {
    const radius = sum.weights.length - 1
    return {
      span: (x, count) => [x - radius, count + 2 * radius],
      run: (to, row, count) => kernels.filterRow(to, row + radius * pixelBytes, count, weights, radius),
    }
  }
  const { step } = sum
  return {
    span: (x, count) => [(x - reach) * step, (count + 2 * reach) * step],
    run: (to, row, count) => kernels.reduceRow(to, row, count, step, weights, reduceBlocks * step),
  }
}

/** Fills a packed row of any length, strip by strip. */
function packRow(kernels: Kernels, fill: FillStrip, strip: number) {
  return (to: number, x: number, y: number, count: number) => {
    for (let done = 0; done < count; done += stripPixels) {
      const some = Math.min(stripPixels, count - done)
      fill(strip, x + done, y, some)
      kernels.pack(to + done * pixelBytes, strip, some)
    }
  }
}

function rowsPhase(
  { rows, across, target }: Extract<Phase, { phase: 'rows' }>,
  kernels: Kernels,
  work: WorkMemory,
  maker: RowMaker,
): RunTile {
  const pack = packRow(kernels, maker.fill(rows), work.take(stripBytes))
  if (!across) {
    return ({ x, y, width, height }) => {
      for (let row = y; row < y + height; row++) pack(target.address + pixelAt(target.window, x, row), x, row, width)
    }
  }
  const sum = acrossSum(across, kernels, maker)
  const packed = maker.packedRow()
  return ({ x, y, width, height }) => {
    const [first, length] = sum.span(x, width)
    for (let row = y; row < y + height; row++) {
      pack(packed, first, row, length)
      sum.run(target.address + pixelAt(target.window, x, row), packed, width)
    }
  }
}

function columnsPhase(
  { source, down, across, target }: Extract<Phase, { phase: 'columns' }>,
  kernels: Kernels,
  maker: RowMaker,
): RunTile {
  const stride = source.window.width * pixelBytes
  const weights = down ? maker.weights(down.weights) : 0
  const sumDown = (to: number, x: number, y: number, count: number) => {
    const at = (row: number) => source.address + pixelAt(source.window, x, row)
    if (!down) kernels.copy(to, at(y), count * pixelBytes)
    else if (down.sum === 'filter') kernels.filterColumn(to, at(y), count, stride, weights, down.weights.length - 1)
    else kernels.sumRows(to, at((y - reach) * down.step), count, stride, weights, reduceBlocks * down.step)
  }
  const sum = across && acrossSum(across, kernels, maker)
  const packed = sum ? maker.packedRow() : 0
  return ({ x, y, width, height }) => {
    for (let row = y; row < y + height; row++) {
      const to = target.address + pixelAt(target.window, x, row)
      if (!sum) sumDown(to, x, row, width)
      else {
        const [first, length] = sum.span(x, width)
        sumDown(packed, first, row, length)
        sum.run(to, packed, width)
      }
    }
  }
}

function outputPhase(
  { rows, placed, window }: Extract<Phase, { phase: 'output' }>,
  kernels: Kernels,
  work: WorkMemory,
  maker: RowMaker,
  worker: number,
): RunTile {
  const fill = maker.fill(rows)
  const strip = work.take(stripBytes)
  const plane = work.take(planeBytes)
  const stores = placed.map((one) => storing(one, window, kernels, strip, plane, worker))
  return ({ x, y, width, height }) => {
    for (let row = y; row < y + height; row++) {
      for (let done = 0; done < width; done += stripPixels) {
        const some = Math.min(stripPixels, width - done)
        fill(strip, x + done, row, some)
        for (const store of stores) store(x + done, row, some)
      }
    }
  }
}

/** @returns stores the strip's first `count` pixels, which lie at x and y */
function storing(
  { output, address }: Placed,
  window: Window,
  kernels: Kernels,
  strip: number,
  plane: number,
  worker: number,
): (x: number, y: number, count: number) => void {
  const at = (x: number, y: number) => (y - window.y) * window.width + x - window.x
  switch (output.kind) {
    case 'light':
      return (x, y, count) => kernels.pack(address + at(x, y) * pixelBytes, strip, count)
    case 'view':
      return (x, y, count) => kernels.view(address + at(x, y) * 4, strip, count, output.view, plane, x, y)
    case 'halves': {
      const planeOfHalves = pixelCount(window) * 2
      return (x, y, count) => {
        for (let c = 0; c < 3; c++)
          kernels.toHalves(address + c * planeOfHalves + at(x, y) * 2, strip + c * planeBytes, count)
      }
    }
    case 'counts': {
      const counts = address + worker * outputBytes(output, window)
      const { counting } = output
      const alpha = strip + 3 * planeBytes
      if (counting.counts === 'colours')
        return (_x, _y, count) => kernels.countColours(counts, strip, count, counting.size)
      const { columns } = counting
      const levels = (to: number, of: number, x: number, count: number) =>
        kernels.countLevels(to, of, alpha, count, x - window.x, window.width, columns)
      if (counting.counts === 'luma')
        return (x, _y, count) => {
          kernels.luma(plane, strip, count, ...counting.weights)
          levels(counts, plane, x, count)
        }
      const bytes = outputBytes(output, window) / 3
      return (x, _y, count) => {
        for (let c = 0; c < 3; c++) levels(counts + c * bytes, strip + c * planeBytes, x, count)
      }
    }
  }
}
