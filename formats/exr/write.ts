/** Writes EXR files: scan lines, one part or several, any mix of channels. */

import { bytesPerSample, type Plane } from '../../core/image/planes'
import { pixelCount, type Window } from '../../core/image/window'
import { box, encodeStandardAttributes, floats, text, words, type StandardAttributes } from './attributes'
import { plainReordering, type ByteReordering } from './byte-planes'
import {
  blockBytes,
  compressions,
  flagLongNames,
  flagMultiPart,
  linesPerBlock,
  magicNumber,
  sampleTypes,
  type BlockShape,
  type Compression,
  type Deflate,
  type RawAttribute,
} from './layout'
import { packPiz } from './piz'
import { packRuns } from './rle'

export type WritableCompression = Extract<Compression, 'none' | 'rle' | 'zips' | 'zip' | 'piz'>

export interface ExrPartToWrite {
  /** required when there is more than one part, and then different for each */
  readonly name?: string
  readonly dataWindow: Window
  readonly displayWindow: Window
  /** channel names as they should stand in the file, for example `diffuse.R` */
  readonly planes: readonly Plane[]
  readonly standard?: StandardAttributes
  /** further attributes, as stored */
  readonly attributes?: ReadonlyMap<string, RawAttribute>
}

export interface WriteExrOptions {
  readonly compression: WritableCompression
  readonly deflate: Deflate
  /** default without kernels */
  readonly reordering?: ByteReordering
}

/**
 * @returns the bytes of the file; samples go in untouched, so what is read back is bit for bit what came
 * @throws RangeError when a plane does not fill its data window, or parts are not named apart
 */
export async function writeExr(parts: readonly ExrPartToWrite[], options: WriteExrOptions): Promise<Uint8Array> {
  checkParts(parts)
  const { compression } = options
  const several = parts.length > 1
  const sorted = parts.map((part) => ({ ...part, planes: [...part.planes].sort((a, b) => byName(a.name, b.name)) }))
  const names = sorted.flatMap((part) => [
    part.name ?? '',
    ...part.planes.map((p) => p.name),
    ...(part.attributes?.keys() ?? []),
  ])
  const longNames = names.some((name) => new TextEncoder().encode(name).length > 31)

  const out = new ByteWriter()
  out.word(magicNumber)
  out.word(2 | (several ? flagMultiPart : 0) | (longNames ? flagLongNames : 0))
  for (const part of sorted) writeHeader(out, part, compression, several)
  if (several) out.byte(0)

  const tableAt: number[] = []
  for (const part of sorted) {
    tableAt.push(out.length)
    out.skip(8 * Math.ceil(part.dataWindow.height / linesPerBlock[compression]))
  }
  for (const [index, part] of sorted.entries()) {
    let entry = tableAt[index]
    for await (const { y, packed } of packedBlocks(part, options)) {
      out.offsetAt(entry, out.length)
      entry += 8
      if (several) out.word(index)
      out.word(y)
      out.word(packed.length)
      out.bytes(packed)
    }
  }
  return out.finish()
}

/** The order of channels in the file is by the bytes of their names. */
function byName(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0
}

function checkParts(parts: readonly ExrPartToWrite[]): void {
  if (parts.length === 0) throw new RangeError('An EXR file needs at least one part.')
  const names = new Set(parts.map((part) => part.name))
  if (parts.length > 1 && (names.size !== parts.length || names.has(undefined))) {
    throw new RangeError('The parts of an EXR file need names, each a different one.')
  }
  for (const part of parts) {
    for (const plane of part.planes) {
      if (plane.samples.length !== pixelCount(part.dataWindow)) {
        throw new RangeError(
          `Channel "${plane.name}" has ${plane.samples.length} samples; its data window has ${pixelCount(part.dataWindow)}.`,
        )
      }
    }
    if (new Set(part.planes.map((plane) => plane.name)).size !== part.planes.length || part.planes.length === 0) {
      throw new RangeError('A part of an EXR file needs channels, each with a name of its own.')
    }
  }
}

class ByteWriter {
  private buffer = new Uint8Array(1 << 20)
  private view = new DataView(this.buffer.buffer)
  length = 0
  private room(count: number): void {
    if (this.length + count <= this.buffer.length) return
    const larger = new Uint8Array(Math.max(this.buffer.length * 2, this.length + count))
    larger.set(this.buffer.subarray(0, this.length))
    this.buffer = larger
    this.view = new DataView(larger.buffer)
  }
  byte(value: number): void {
    this.room(1)
    this.buffer[this.length++] = value
  }
  word(value: number): void {
    this.room(4)
    this.view.setInt32(this.length, value, true)
    this.length += 4
  }
  name(value: string): void {
    this.bytes(new TextEncoder().encode(value))
    this.byte(0)
  }
  bytes(value: Uint8Array): void {
    this.room(value.length)
    this.buffer.set(value, this.length)
    this.length += value.length
  }
  skip(count: number): void {
    this.room(count)
    this.length += count
  }
  attribute(name: string, { type, bytes }: RawAttribute): void {
    this.name(name)
    this.name(type)
    this.word(bytes.length)
    this.bytes(bytes)
  }
  offsetAt(at: number, offset: number): void {
    this.view.setUint32(at, offset >>> 0, true)
    this.view.setUint32(at + 4, Math.floor(offset / 2 ** 32), true)
  }
  finish(): Uint8Array {
    return this.buffer.subarray(0, this.length)
  }
}

function writeHeader(out: ByteWriter, part: ExrPartToWrite, compression: Compression, several: boolean): void {
  const attributes = new Map<string, RawAttribute>(part.attributes ?? [])
  for (const [name, value] of encodeStandardAttributes(part.standard ?? {})) attributes.set(name, value)
  attributes.set('channels', channelList(part.planes))
  attributes.set('compression', { type: 'compression', bytes: Uint8Array.of(compressions.indexOf(compression)) })
  attributes.set('dataWindow', box(part.dataWindow))
  attributes.set('displayWindow', box(part.displayWindow))
  attributes.set('lineOrder', { type: 'lineOrder', bytes: Uint8Array.of(0) })
  attributes.set('pixelAspectRatio', floats('float', [part.standard?.pixelAspectRatio ?? 1]))
  attributes.set('screenWindowCenter', floats('v2f', [0, 0]))
  attributes.set('screenWindowWidth', floats('float', [1]))
  attributes.delete('tiles')
  attributes.delete('chunkCount')
  if (part.name !== undefined) attributes.set('name', text(part.name))
  if (several) {
    attributes.set('type', text('scanlineimage'))
    attributes.set('chunkCount', words('int', [Math.ceil(part.dataWindow.height / linesPerBlock[compression])]))
  }
  for (const name of [...attributes.keys()].sort(byName)) {
    const attribute = attributes.get(name)
    if (attribute) out.attribute(name, attribute)
  }
  out.byte(0)
}

function channelList(planes: readonly Plane[]): RawAttribute {
  const out = new ByteWriter()
  for (const plane of planes) {
    out.name(plane.name)
    out.word(sampleTypes.indexOf(plane.type))
    out.word(0)
    out.word(1)
    out.word(1)
  }
  out.byte(0)
  return { type: 'chlist', bytes: out.finish().slice() }
}

function* blocksOf(
  part: ExrPartToWrite,
  compression: Compression,
): Generator<{ y: number; bytes: Uint8Array; shape: BlockShape }> {
  const { dataWindow, planes } = part
  const channels = planes.map(({ name, type }) => ({
    name,
    type,
    xSampling: 1,
    ySampling: 1,
    perceptuallyLinear: false,
  }))
  const linesEach = linesPerBlock[compression]
  for (let row = 0; row < dataWindow.height; row += linesEach) {
    const lines = Math.min(linesEach, dataWindow.height - row)
    const shape: BlockShape = { width: dataWindow.width, lines, channels }
    const bytes = new Uint8Array(blockBytes(shape))
    let at = 0
    for (let line = row; line < row + lines; line++) {
      for (const { samples, type } of planes) {
        const length = dataWindow.width * bytesPerSample[type]
        bytes.set(new Uint8Array(samples.buffer, samples.byteOffset + line * length, length), at)
        at += length
      }
    }
    yield { y: dataWindow.y + row, bytes, shape }
  }
}

/** So many are packed at the same time, where the platform packs on threads of its own. */
const blocksAtOnce = 4

/** In their order. */
async function* packedBlocks(
  part: ExrPartToWrite,
  options: WriteExrOptions,
): AsyncGenerator<{ readonly y: number; readonly packed: Uint8Array }> {
  const underWay: Promise<{ readonly y: number; readonly packed: Uint8Array }>[] = []
  for (const { y, bytes, shape } of blocksOf(part, options.compression)) {
    underWay.push(pack(bytes, shape, options).then((packed) => ({ y, packed })))
    const [first] = underWay
    if (underWay.length === blocksAtOnce) {
      underWay.shift()
      yield await first
    }
  }
  for (const one of underWay) yield await one
}

/** A block that does not become smaller is stored as it is; readers know by its length. */
async function pack(
  raw: Uint8Array,
  shape: BlockShape,
  { compression, deflate, reordering = plainReordering }: WriteExrOptions,
): Promise<Uint8Array> {
  if (compression === 'none') return raw
  const packed =
    compression === 'piz'
      ? packPiz(raw, shape)
      : compression === 'rle'
        ? packRuns(reordering.spread(raw))
        : await deflate(reordering.spread(raw))
  return packed.length < raw.length ? packed : raw
}
