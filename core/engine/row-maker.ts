/** The worker's side of `Rows`: each node becomes a function that fills a strip; what it needs is laid out beforehand. */

import type { Window } from '../image/window'
import { programBytes, writeProgram, type ColourStep } from '../kernels/colour-program'
import { pixelBytes, type Kernels } from '../kernels/kernels'
import { runRows } from './kinds'
import type { FillStrip, RowMaking, RunRows } from './kinds/kind'
import { pixelAt, rowPixels, type PackedBuffer, type Rows } from './program'

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

export class RowMaker implements RowMaking {
  constructor(
    readonly kernels: Kernels,
    readonly work: WorkMemory,
  ) {}

  fill(rows: Rows): FillStrip {
    if (rows.node === 'nothing') return (strip, _x, _y, count) => this.clear(strip, count)
    if (rows.node === 'buffer') return this.buffer(rows.buffer)
    return (runRows[rows.node] as RunRows<typeof rows.node>)(rows as never, this)
  }

  weights(values: ArrayLike<number>): number {
    const address = this.work.take(values.length * 4)
    new Float32Array(this.kernels.memory, address, values.length).set(values)
    return address
  }

  words(values: readonly number[]): number {
    const address = this.work.take(values.length * 4)
    new Uint32Array(this.kernels.memory, address, values.length).set(values)
    return address
  }

  doubles(values: readonly number[]): number {
    const address = this.work.take(values.length * 8)
    new Float64Array(this.kernels.memory, address, values.length).set(values)
    return address
  }

  packedRow(): number {
    return this.work.take(rowPixels * pixelBytes)
  }

  clear(strip: number, count: number): void {
    this.kernels.clearStrip(strip, count)
  }

  /** Runs `fill` for the part of the piece inside the window; the rest is cleared. */
  inside({ x: left, y: top, width, height }: Window, fill: FillStrip): FillStrip {
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

  coloured(input: FillStrip, steps: readonly ColourStep[]): FillStrip {
    const program = this.work.take(programBytes(steps))
    writeProgram(this.kernels.memory, program, steps)
    return (strip, x, y, count) => {
      input(strip, x, y, count)
      this.kernels.colourProgram(strip, count, program)
    }
  }

  private buffer({ address, window }: PackedBuffer): FillStrip {
    return this.inside(window, (strip, x, y, count) =>
      this.kernels.unpack(strip, address + pixelAt(window, x, y), count),
    )
  }
}
