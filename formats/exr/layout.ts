/** The words of the OpenEXR file layout (openexr.com, "OpenEXR File Layout"), shared by reader and writer. */

import type { SampleType } from '../../core/image/planes'
import type { Window } from '../../core/image/window'

export const magicNumber = 20000630
export const flagTiled = 0x200
export const flagLongNames = 0x400
export const flagDeep = 0x800
export const flagMultiPart = 0x1000

/** In the order of the numbers stored in the file. */
export const compressions = ['none', 'rle', 'zips', 'zip', 'piz', 'pxr24', 'b44', 'b44a', 'dwaa', 'dwab'] as const
export type Compression = (typeof compressions)[number]

/** Scan lines that share one compressed block. */
export const linesPerBlock: Readonly<Record<Compression, number>> = {
  none: 1,
  rle: 1,
  zips: 1,
  zip: 16,
  piz: 32,
  pxr24: 16,
  b44: 32,
  b44a: 32,
  dwaa: 32,
  dwab: 256,
}

/** In the order of the numbers stored in the file. */
export const sampleTypes: readonly SampleType[] = ['uint', 'half', 'float']

export interface ExrChannel {
  readonly name: string
  readonly type: SampleType
  readonly xSampling: number
  readonly ySampling: number
  /** the file's pLinear: B44 may store the channel's logarithm */
  readonly perceptuallyLinear: boolean
}

export interface TileDescription {
  readonly width: number
  readonly height: number
  readonly levels: 'one' | 'mipmap' | 'ripmap'
  readonly rounding: 'down' | 'up'
}

/** An attribute as stored: its type name and its bytes, little endian. */
export interface RawAttribute {
  readonly type: string
  readonly bytes: Uint8Array
}

export interface ExrPart {
  readonly index: number
  readonly name: string
  readonly compression: Compression
  readonly channels: readonly ExrChannel[]
  readonly dataWindow: Window
  readonly displayWindow: Window
  readonly tiles: TileDescription | null
  /** every attribute of the header, the required ones included */
  readonly attributes: ReadonlyMap<string, RawAttribute>
}

/** Where the bytes of one block go: `lines` scan lines of `width` samples of every channel. */
export interface BlockShape {
  readonly width: number
  readonly lines: number
  readonly channels: readonly ExrChannel[]
}

export function bytesPerLine(shape: BlockShape): number {
  let bytes = 0
  for (const channel of shape.channels) bytes += shape.width * (channel.type === 'half' ? 2 : 4)
  return bytes
}

export function blockBytes(shape: BlockShape): number {
  return bytesPerLine(shape) * shape.lines
}

/** Thrown inside a codec; the reader turns it into a DamagedExrError that names file and rows. */
export class BadBlock extends Error {}

/**
 * Inflates a zlib stream (RFC 1950). The platform brings it: node:zlib, or DecompressionStream in a browser.
 * @throws when the stream is broken or would give more than `size` bytes
 */
export type Inflate = (bytes: Uint8Array, size: number) => Promise<Uint8Array> | Uint8Array

/** Deflates to a zlib stream (RFC 1950). */
export type Deflate = (bytes: Uint8Array) => Promise<Uint8Array> | Uint8Array
