/** What a picture is computed by: phases that follow each other, each made of rows. Plain data, sent to the workers. */

import type {
  BlendKind,
  Carries,
  Combining,
  Draw,
  KeyCut,
  Leading,
  Lines,
  MadePicture,
  ParameterValues,
} from '../graph/steps'
import type { SampleType } from '../image/planes'
import { pixelCount, type Window } from '../image/window'
import type { ColourStep } from '../kernels/colour-program'
import { countWords, type Counting } from '../kernels/counting'
import { pixelBytes, type Resampling, type ViewSettings } from '../kernels/kernels'

export interface ResidentPlane {
  readonly type: SampleType
  /** byte address of `pixelCount(dataWindow)` samples */
  readonly address: number
}

/** A source frame in the engine's memory, with the steps by which it is still to be decoded. */
export interface ResidentFrame {
  /** of the pixels that are in memory */
  readonly dataWindow: Window
  /** of all that the file holds */
  readonly bounds: Window
  readonly takes: Carries
  /** to working light */
  readonly decode: readonly ColourStep[]
  /** red, green, blue and, where there is one, alpha; the one plane of a matte; the two of a map */
  readonly planes: readonly ResidentPlane[]
}

export type ResidentFrames = ReadonlyMap<string, ResidentFrame>

/** Packed pixels of a window, row by row without gaps. */
export interface PackedBuffer {
  readonly address: number
  readonly window: Window
}

/**
 * How any piece of a row is made, as a strip. What is fused is one tree: nothing between its leaves (source planes and
 * buffers) and the strip is ever longer than the strip. Outside `within` a node gives nothing.
 */
export type Rows =
  | { readonly node: 'nothing' }
  | { readonly node: 'frame'; readonly frame: ResidentFrame }
  | { readonly node: 'constant'; readonly pixel: readonly number[]; readonly window: Window }
  | { readonly node: 'made'; readonly picture: MadePicture; readonly window: Window }
  | { readonly node: 'outline'; readonly lines: Lines; readonly window: Window }
  | { readonly node: 'buffer'; readonly buffer: PackedBuffer }
  | { readonly node: 'colour'; readonly input: Rows; readonly steps: readonly ColourStep[] }
  | { readonly node: 'table'; readonly input: Rows; readonly address: number }
  | {
      readonly node: 'point'
      readonly input: Rows
      /** what else its kernel reads at the same place */
      readonly others: readonly Rows[]
      readonly kind: string
      readonly values: ParameterValues
      readonly draw: Draw
    }
  | {
      readonly node: 'combine'
      readonly how: Combining
      readonly inputs: readonly Rows[]
      readonly values: readonly number[]
    }
  | {
      readonly node: 'blend'
      readonly behind: Rows
      readonly element: Rows
      /** where the element can be anything but empty */
      readonly touches: Window
      readonly shown: Rows | null
      readonly kind: BlendKind
      readonly values: ParameterValues
    }
  /** nothing beyond `bounds`, whatever steps on single pixels made of it */
  | { readonly node: 'clip'; readonly input: Rows; readonly bounds: Window }
  /** the outermost pixels of `bounds` go on beyond it, on the sides that are named */
  | { readonly node: 'extend'; readonly input: Rows; readonly bounds: Window; readonly sides: Sides }
  /** the last part of a blur: summed down the buffer's columns, enlarged where it was reduced */
  | {
      readonly node: 'spread'
      readonly buffer: PackedBuffer
      readonly within: Window
      readonly down: { readonly step: number; readonly weights: readonly number[] }
      readonly across: { readonly step: number; readonly weights: readonly number[] }
    }
  /** the largest within a radius, below 0 the smallest */
  | { readonly node: 'grow'; readonly buffer: PackedBuffer; readonly within: Window; readonly radius: number }
  /** what was filmed before a backing, without it */
  | {
      readonly node: 'key'
      readonly within: Window
      readonly of: KeyedPicture
      readonly cut: KeyCut | null
      readonly known: KeyKnown
    }
  | {
      readonly node: 'resample'
      readonly buffer: PackedBuffer
      readonly within: Window
      readonly field: Rows | null
      /** one, or as many as a shutter has: their mean is taken */
      readonly leading: readonly Leading[]
      readonly filter: Resampling
    }

export interface Sides {
  readonly left: boolean
  readonly right: boolean
  readonly top: boolean
  readonly bottom: boolean
}

/** A sum along one axis: a symmetric filter (middle weight first), or a reduction by `step`. */
export type Sum =
  | { readonly sum: 'filter'; readonly weights: readonly number[] }
  | { readonly sum: 'reduce'; readonly step: number; readonly weights: readonly number[] }

export type Output =
  /** premultiplied RGBA floats, packed */
  | { readonly kind: 'light' }
  /** 8-bit RGBA as the eye should see it */
  | { readonly kind: 'view'; readonly view: ViewSettings }
  /** red, then green, then blue: planes of half floats */
  | { readonly kind: 'halves' }
  /** 32-bit counts; while they are made every worker has its own, one after the other */
  | { readonly kind: 'counts'; readonly counting: Counting }

/** What is to be stored of a row, and where. */
export interface Placed {
  readonly output: Output
  readonly address: number
}

interface PhaseBase {
  readonly tileWidth: number
  readonly tileHeight: number
}

/** What stands before a backing. */
export interface KeyedPicture {
  readonly picture: Rows
  /** the backing filmed alone */
  readonly clean: Rows | null
  readonly bounds: Window
  /** which is the backing's: 0, 1 or 2 */
  readonly channel: number
  /** settings of assembly/key-backing.ts */
  readonly backing: readonly number[]
  /** pixels of a cell, each way */
  readonly cell: number
}

/** How coverage is softened, over cells of one pixel or of two by two. Weights are whole numbers of 16 bits; 32768 would be 1. */
export interface SoftCells {
  readonly cell: 1 | 2
  /** along a row of cells, and how many of them lie before the middle one */
  readonly across: readonly number[]
  readonly radius: number
  /** down to a row of pixels, for the first and the second row of a cell; the first tap lies so many rows of cells further */
  readonly down: readonly { readonly weights: readonly number[]; readonly first: number }[]
}

/** What the phases of a key tell. */
export interface KeyKnown {
  /** what is surely in front, softened, over cells: its excess and how surely, the first two of four floats */
  readonly sure: PackedBuffer
  /** coverage softened along its rows: whole numbers of 16 bits, of cells, eight as one pixel */
  readonly across: PackedBuffer
  /** by which coverage is softened */
  readonly soft: SoftCells
  /** for each row of cells of a tile, whether it has light without coverage: a pixel each */
  readonly lit: PackedBuffer
}

/** Phases run one after the other; the tiles of one phase in any order. */
export type Phase = PhaseBase &
  (
    | {
        readonly phase: 'rows'
        readonly rows: Rows
        /** along the row, before it is stored */
        readonly across: Sum | null
        readonly target: PackedBuffer
      }
    | {
        readonly phase: 'columns'
        readonly source: PackedBuffer
        readonly down: Sum | null
        readonly across: Sum | null
        readonly target: PackedBuffer
      }
    | {
        /** what is surely in front, summed over cells: a pixel each */
        readonly phase: 'key-cells'
        readonly of: KeyedPicture
        readonly target: PackedBuffer
      }
    | {
        /** coverage softened along its rows: `known.across` */
        readonly phase: 'key-coverage'
        readonly of: KeyedPicture
        /** where it is computed, pixels; beyond, the outermost go on */
        readonly within: Window
        readonly known: KeyKnown
        readonly target: PackedBuffer
      }
    | {
        readonly phase: 'output'
        readonly rows: Rows
        readonly placed: readonly Placed[]
        readonly window: Window
      }
  )

const bytesPerPixel = { light: 16, view: 4, halves: 6 } as const

/** Bytes of a window's finished output; counts need as many again for every other worker while they are made. */
export function outputBytes(output: Output, window: Window): number {
  return output.kind === 'counts' ? 4 * countWords(output.counting) : pixelCount(window) * bytesPerPixel[output.kind]
}

/** Packed pixels that a worker can hold of one row while it is summed. */
export const rowPixels = 4096
export const tileWidth = 512
export const tileHeight = 16

/**
 * Tiles of rows. Where every leaf is read in order they are wide and low, so that the machine's own reading ahead follows the
 * planes along: several short rows, each from many planes, took a tenth longer. Steps that look around keep to tiles in which
 * what one row reads is read again by the next.
 */
export function tilesFor(rows: Rows, { width }: Window): { readonly tileWidth: number; readonly tileHeight: number } {
  if (!readInOrder(rows)) return { tileWidth, tileHeight }
  const wide = 4 * tileWidth
  // About as many pixels as the others have; a narrow window is not cut into more.
  const rowsOfTile = Math.floor((tileWidth * tileHeight) / Math.min(wide, Math.max(width, 1)))
  return { tileWidth: wide, tileHeight: Math.min(tileHeight, rowsOfTile) }
}

function readInOrder(rows: Rows): boolean {
  switch (rows.node) {
    case 'spread':
    case 'grow':
    case 'resample':
      return false
    case 'colour':
    case 'table':
    case 'clip':
    case 'extend':
      return readInOrder(rows.input)
    case 'point':
      return readInOrder(rows.input) && rows.others.every(readInOrder)
    case 'combine':
      return rows.inputs.every(readInOrder)
    case 'blend':
      return [rows.behind, rows.element, rows.shown].every((one) => one === null || readInOrder(one))
    default:
      return true
  }
}

/** @returns how far into a packed buffer the pixel lies, in bytes */
export function pixelAt(window: Window, x: number, y: number): number {
  return ((y - window.y) * window.width + x - window.x) * pixelBytes
}
