/** The worker's side of `Rows`: each node becomes a function that fills a strip; what it needs is laid out beforehand. */

import type { Window } from '../image/window'
import { programBytes, writeProgram, type ColourStep } from '../kernels/colour-program'
import { enlargeTaps, reach } from '../kernels/gaussian'
import { pixelBytes, planeBytes, resampling, stripBytes, type Kernels } from '../kernels/kernels'
import { tableAt } from '../colour/table'
import { blends } from '../set/blends'
import { treatments } from '../treatments'
import { bytesPerSample } from '../image/planes'
import { rowPixels, type PackedBuffer, type ResidentFrame, type Rows } from './program'

/** Fills `count` pixels (at most `stripPixels`) of a strip from (x, y) on. */
export type FillStrip = (strip: number, x: number, y: number, count: number) => void

/** The worker's own memory is used up; the graph is deeper than anything it is meant for. */
export class WorkFullError extends Error {
  override readonly name = 'WorkFullError'
}

/** Hands out a worker's own memory from the bottom up; all of it comes back at once. */
export class WorkMemory {
  private top: number
  constructor(
    private readonly start: number,
    private readonly bytes: number,
  ) {
    this.top = start
  }

  take(bytes: number): number {
    const address = this.top
    this.top += Math.ceil(bytes / 64) * 64
    if (this.top > this.start + this.bytes)
      throw new WorkFullError(
        'This picture has more steps in a row than a worker has memory for. Remove some treatments.',
      )
    return address
  }

  reset(): void {
    this.top = this.start
  }
}

export class RowMaker {
  constructor(
    private readonly kernels: Kernels,
    private readonly work: WorkMemory,
  ) {}

  fill(rows: Rows): FillStrip {
    switch (rows.node) {
      case 'nothing':
        return (strip, _x, _y, count) => this.clear(strip, count)
      case 'frame':
        return this.frame(rows.frame)
      case 'buffer':
        return this.buffer(rows.buffer)
      case 'colour':
        return this.colour(this.fill(rows.input), rows.steps)
      case 'point':
        return this.point(rows)
      case 'table':
        return this.table(rows)
      case 'blend':
        return this.blend(rows)
      case 'clip':
        return this.inside(rows.bounds, this.fill(rows.input))
      case 'extend':
        return this.extend(rows)
      case 'spread':
        return this.spread(rows)
      case 'disc':
        return this.disc(rows)
      case 'warp':
        return this.warp(rows)
    }
  }

  weights(values: readonly number[]): number {
    const address = this.work.take(values.length * 4)
    new Float32Array(this.kernels.memory, address, values.length).set(values)
    return address
  }

  packedRow(): number {
    return this.work.take(rowPixels * pixelBytes)
  }

  private clear(strip: number, count: number): void {
    for (let c = 0; c < 4; c++) this.kernels.clear(strip + c * planeBytes, count * 4)
  }

  /** Runs `fill` for the part of the piece inside the window; the rest is cleared. */
  private inside({ x: left, y: top, width, height }: Window, fill: FillStrip): FillStrip {
    const right = left + width
    const bottom = top + height
    return (strip, x, y, count) => {
      const from = Math.max(x, left)
      const to = Math.min(x + count, right)
      if (y < top || y >= bottom || from >= to) return this.clear(strip, count)
      fill(strip + (from - x) * 4, from, y, to - from)
      // Afterwards, since colour steps also compute what lies in the last vectors beyond their pixels.
      if (from > x) this.clear(strip, from - x)
      if (to < x + count) this.clear(strip + (to - x) * 4, x + count - to)
    }
  }

  private frame({ dataWindow, planes, takes, decode }: ResidentFrame): FillStrip {
    const { kernels } = this
    const readers = planes.map(({ type, address }) => {
      const size = bytesPerSample[type]
      if (type === 'half')
        return (to: number, at: number, count: number) => kernels.fromHalves(to, address + at * size, count)
      if (type === 'uint')
        return (to: number, at: number, count: number) => kernels.fromUints(to, address + at * size, count)
      return (to: number, at: number, count: number) => kernels.copy(to, address + at * size, count * 4)
    })
    const read: FillStrip = (strip, x, y, count) => {
      const at = (y - dataWindow.y) * dataWindow.width + x - dataWindow.x
      for (let c = 0; c < readers.length; c++) readers[c](strip + c * planeBytes, at, count)
      if (takes === 'matte') for (let c = 1; c < 4; c++) kernels.copy(strip + c * planeBytes, strip, count * 4)
      else if (readers.length === 3) kernels.fill(strip + 3 * planeBytes, 1, count)
      else if (readers.length === 2) for (let c = 2; c < 4; c++) kernels.clear(strip + c * planeBytes, count * 4)
    }
    return this.inside(dataWindow, decode.length === 0 ? read : this.colour(read, decode))
  }

  private buffer({ address, window }: PackedBuffer): FillStrip {
    return this.inside(window, (strip, x, y, count) =>
      this.kernels.unpack(strip, address + pixelAt(window, x, y), count),
    )
  }

  private colour(input: FillStrip, steps: readonly ColourStep[]): FillStrip {
    const program = this.work.take(programBytes(steps))
    writeProgram(this.kernels.memory, program, steps)
    return (strip, x, y, count) => {
      input(strip, x, y, count)
      this.kernels.colourProgram(strip, count, program)
    }
  }

  private table({ input, address }: Extract<Rows, { node: 'table' }>): FillStrip {
    const fill = this.fill(input)
    const run = tableAt(this.kernels, address)
    return (strip, x, y, count) => {
      fill(strip, x, y, count)
      run(strip, count)
    }
  }

  private point({ input, kind, values, place }: Extract<Rows, { node: 'point' }>): FillStrip {
    const run = (treatments as Readonly<Record<string, (typeof treatments)[keyof typeof treatments] | undefined>>)[kind]
      ?.run
    if (!run) throw new Error(`The treatment "${kind}" has no kernel of its own.`)
    const fill = this.fill(input)
    const work = this.work.take(stripBytes)
    return (strip, x, y, count) => {
      fill(strip, x, y, count)
      run(this.kernels, strip, count, values, place, x, y, work)
    }
  }

  private blend({ behind, element, touches, plate, kind, values }: Extract<Rows, { node: 'blend' }>): FillStrip {
    const { kernels } = this
    const blend = blends[kind]
    const fillBehind = this.fill(behind)
    const fillElement = this.fill(element)
    const fillPlate = plate && this.fill(plate)
    const own = this.work.take(stripBytes)
    const plateStrip = fillPlate ? this.work.take(stripBytes) : 0
    const right = touches.x + touches.width
    const bottom = touches.y + touches.height
    return (strip, x, y, count) => {
      fillBehind(strip, x, y, count)
      const from = Math.max(x, touches.x)
      const to = Math.min(x + count, right)
      if (y < touches.y || y >= bottom || from >= to) return
      fillElement(own, from, y, to - from)
      fillPlate?.(plateStrip, from, y, to - from)
      blend.blend(kernels, strip + (from - x) * 4, own, plateStrip, to - from, values)
    }
  }

  private extend({ input, bounds }: Extract<Rows, { node: 'extend' }>): FillStrip {
    const fill = this.fill(input)
    const right = bounds.x + bounds.width - 1
    const bottom = bounds.y + bounds.height - 1
    const floats = new Float32Array(this.kernels.memory)
    return (strip, x, y, count) => {
      const row = Math.min(Math.max(y, bounds.y), bottom)
      const from = Math.min(Math.max(x, bounds.x), right)
      const to = Math.max(from, Math.min(x + count - 1, right)) + 1
      // Wholly to the left, the one pixel that is repeated comes to lie at the start.
      const offset = Math.min(Math.max(0, from - x), count - 1)
      fill(strip + offset * 4, from, row, to - from)
      for (let c = 0; c < 4; c++) {
        const start = (strip + c * planeBytes) >> 2
        const first = floats[start + offset]
        const last = floats[start + offset + to - from - 1]
        floats.fill(first, start, start + offset)
        floats.fill(last, start + offset + to - from, start + count)
      }
    }
  }

  private spread({ buffer, within, down, across }: Extract<Rows, { node: 'spread' }>): FillStrip {
    const { kernels } = this
    const { address, window } = buffer
    const stride = window.width * pixelBytes
    const downWeights = this.weights(down.weights)
    const acrossWeights = this.weights(across.weights)
    const radius = down.step === 1 ? down.weights.length - 1 : 0
    const summed = this.packedRow()
    const enlarged = across.step === 1 ? summed : this.packedRow()
    return this.inside(within, (strip, x, y, count) => {
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

  private disc({ buffer, within, radius, weights }: Extract<Rows, { node: 'disc' }>): FillStrip {
    const { address, window } = buffer
    const at = this.weights(weights)
    const row = this.packedRow()
    return this.inside(within, (strip, x, y, count) => {
      const middle = address + pixelAt(window, x, y)
      this.kernels.convolveRow(row, middle, count, window.width * pixelBytes, at, radius)
      this.kernels.unpack(strip, row, count)
    })
  }

  private warp({ buffer, within, map, frame, filter }: Extract<Rows, { node: 'warp' }>): FillStrip {
    const { kernels } = this
    const { address, window } = buffer
    const fillMap = this.fill(map)
    const places = this.packedRow()
    const out = this.packedRow()
    return this.inside(within, (strip, x, y, count) => {
      fillMap(strip, x, y, count)
      kernels.pack(places, strip, count)
      kernels.resampleMapped(
        out,
        count,
        places,
        frame.width,
        -0.5 - window.x,
        frame.height,
        -0.5 - window.y,
        address,
        window.width,
        window.height,
        resampling[filter],
      )
      kernels.unpack(strip, out, count)
    })
  }
}

/** @returns how far into a packed buffer the pixel lies, in bytes */
export function pixelAt(window: Window, x: number, y: number): number {
  return ((y - window.y) * window.width + x - window.x) * pixelBytes
}
