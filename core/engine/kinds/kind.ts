/** What the engine must know of a kind of step: where it can be anything, what it needs, how it is lowered and run. */

import type { FrameStep, Step } from '../../graph/steps'
import type { Window } from '../../image/window'
import type { MapBlocks } from '../map-blocks'
import type { PackedBuffer, Phase, ResidentFrame, Rows } from '../program'
import type { ColourStep } from '../../kernels/colour-program'
import type { Kernels } from '../../kernels/kernels'

/** A part of an input's pixels that a step needs. */
export interface Need {
  readonly input: Step
  readonly window: Window
  /** in a buffer, since it is not read in order */
  readonly buffered?: boolean
}

export interface Bounding {
  /** where a step can differ from empty: no more than that */
  bounds(step: Step): Window
  /** of all that the file holds: its pixels may not have been read yet, or only a part of them */
  frameBounds(step: FrameStep): Window
  blocks(field: FrameStep): MapBlocks
}

export interface Lowering extends Bounding {
  frame(step: FrameStep): ResidentFrame
  /** how an input is made */
  rows(input: Step): Rows
  /** room for pixels that a phase fills */
  make(key: string, window: Window): PackedBuffer
  phase(phase: Phase): void
}

export interface StepKind<S extends Step> {
  bounds(step: S, at: Bounding): Window
  needs(step: S, window: Window, at: Bounding): readonly Need[]
  /** may add phases that fill buffers first */
  lower(step: S, window: Window, at: Lowering): Rows
  /** its result is kept for the next picture, which mostly differs by something else */
  readonly kept?: boolean
  /** from a buffer inside it that an earlier picture made; null where there is none */
  lowerMade?(step: S, window: Window, found: (key: string, window: Window) => PackedBuffer | null): Rows | null
}

/** Fills `count` pixels (at most `stripPixels`) of a strip from (x, y) on. */
export type FillStrip = (strip: number, x: number, y: number, count: number) => void

/** What a worker has to make rows with. */
export interface RowMaking {
  readonly kernels: Kernels
  readonly work: { take(bytes: number): number }
  fill(rows: Rows): FillStrip
  /** floats in the worker's own memory @returns their address */
  weights(values: ArrayLike<number>): number
  /** unsigned integers, likewise */
  words(values: readonly number[]): number
  /** the same as doubles */
  doubles(values: readonly number[]): number
  /** room for a row of packed pixels */
  packedRow(): number
  clear(strip: number, count: number): void
  /** runs `fill` for the part of the piece inside the window; the rest is cleared */
  inside(window: Window, fill: FillStrip): FillStrip
  coloured(input: FillStrip, steps: readonly ColourStep[]): FillStrip
}

/** How a node of rows is run by a worker. */
export type RunRows<N extends Rows['node']> = (rows: Extract<Rows, { readonly node: N }>, maker: RowMaking) => FillStrip
