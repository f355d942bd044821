/** Reads the headers of an EXR file: its parts, their channels and windows, and where their blocks stand. */

import type { Window } from '../../core/image/window'
import { DamagedExrError, UnsupportedExrError } from './errors'
import {
  compressions,
  flagDeep,
  flagMultiPart,
  flagTiled,
  linesPerBlock,
  magicNumber,
  sampleTypes,
  type ExrChannel,
  type ExrPart,
  type RawAttribute,
  type TileDescription,
} from './layout'

/** Bytes of a file, read where they are needed. */
export interface ByteSource {
  /** the file's name as it should stand in messages */
  readonly name: string
  readonly size: number
  /** @returns exactly `length` bytes from `offset`, both inside the file */
  read(offset: number, length: number): Promise<Uint8Array>
  /** the same as long as the bytes are: what was found out about them need not be looked for again */
  readonly state?: string
}

export interface ExrHeader {
  readonly parts: readonly ExrPart[]
  readonly multiPart: boolean
  /** for each part: file offset of its table of block offsets, and how many blocks it lists */
  readonly tables: readonly { readonly offset: number; readonly blocks: number }[]
}

/** A header larger than this is taken for damage. */
const largestHeader = 16 << 20
const firstRead = 16 << 10

class HeaderCut extends Error {}

class Reader {
  at = 0
  private readonly view: DataView
  constructor(
    private readonly bytes: Uint8Array,
    private readonly file: string,
  ) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  }
  fail(what: string): never {
    throw new DamagedExrError(this.file, what)
  }
  take(length: number): Uint8Array {
    if (this.at + length > this.bytes.length) throw new HeaderCut()
    this.at += length
    return this.bytes.subarray(this.at - length, this.at)
  }
  word(): number {
    this.take(4)
    return this.view.getInt32(this.at - 4, true)
  }
  peek(): number {
    if (this.at >= this.bytes.length) throw new HeaderCut()
    return this.bytes[this.at]
  }
  name(): string {
    const end = this.bytes.indexOf(0, this.at)
    if (end < 0) {
      if (this.bytes.length - this.at > 256) this.fail('a name in its header has no end')
      throw new HeaderCut()
    }
    if (end - this.at > 255) this.fail('a name in its header is longer than 255 characters')
    const value = new TextDecoder().decode(this.bytes.subarray(this.at, end))
    this.at = end + 1
    return value
  }
}

function readAttributes(reader: Reader): Map<string, RawAttribute> {
  const attributes = new Map<string, RawAttribute>()
  while (reader.peek() !== 0) {
    const name = reader.name()
    const type = reader.name()
    const length = reader.word()
    if (length < 0 || length > largestHeader) reader.fail(`its attribute "${name}" claims ${length} bytes`)
    attributes.set(name, { type, bytes: reader.take(length).slice() })
  }
  reader.take(1)
  return attributes
}

function readChannels(bytes: Uint8Array, reader: Reader): ExrChannel[] {
  const list = new Reader(bytes, '')
  const channels: ExrChannel[] = []
  try {
    while (list.peek() !== 0) {
      const name = list.name()
      const type = sampleTypes[list.word()]
      const flags = list.take(4)
      const perceptuallyLinear = flags[0] !== 0
      const xSampling = list.word()
      const ySampling = list.word()
      if (type === undefined) reader.fail(`its channel "${name}" has an unknown sample type`)
      if (xSampling < 1 || ySampling < 1) reader.fail(`its channel "${name}" has an impossible sampling`)
      channels.push({ name, type, xSampling, ySampling, perceptuallyLinear })
    }
  } catch (error) {
    if (error instanceof HeaderCut || error instanceof DamagedExrError) reader.fail('its list of channels is damaged')
    throw error
  }
  return channels
}

function readWindow(attribute: RawAttribute | undefined, name: string, reader: Reader): Window {
  if (!attribute || attribute.type !== 'box2i' || attribute.bytes.length !== 16) reader.fail(`its ${name} is missing`)
  const view = new DataView(attribute.bytes.buffer, attribute.bytes.byteOffset, 16)
  const [x, y, right, bottom] = [0, 4, 8, 12].map((i) => view.getInt32(i, true))
  const limit = 1 << 30
  if (right < x || bottom < y || [x, y, right, bottom].some((n) => Math.abs(n) > limit)) {
    reader.fail(`its ${name} is impossible (${x} ${y} to ${right} ${bottom})`)
  }
  return { x, y, width: right - x + 1, height: bottom - y + 1 }
}

function readTiles(attribute: RawAttribute | undefined, reader: Reader): TileDescription {
  if (!attribute || attribute.type !== 'tiledesc' || attribute.bytes.length !== 9)
    reader.fail('its tile sizes are missing')
  const view = new DataView(attribute.bytes.buffer, attribute.bytes.byteOffset, 9)
  const width = view.getUint32(0, true)
  const height = view.getUint32(4, true)
  const mode = view.getUint8(8)
  const levels = (['one', 'mipmap', 'ripmap'] as const)[mode & 15]
  if (width < 1 || height < 1 || width > 65536 || height > 65536 || !levels)
    reader.fail('its tile sizes are impossible')
  return { width, height, levels, rounding: mode >> 4 === 1 ? 'up' : 'down' }
}

function levelSizes(size: number, rounding: 'down' | 'up'): number[] {
  const sizes = [size]
  let now = size
  while (now > 1) {
    now = rounding === 'up' ? (now + 1) >> 1 : now >> 1
    sizes.push(now)
  }
  return sizes
}

function blockCount(window: Window, linesEach: number, tiles: TileDescription | null): number {
  if (!tiles) return Math.ceil(window.height / linesEach)
  const across = (width: number) => Math.ceil(width / tiles.width)
  const down = (height: number) => Math.ceil(height / tiles.height)
  if (tiles.levels === 'one') return across(window.width) * down(window.height)
  const widths = levelSizes(window.width, tiles.rounding)
  const heights = levelSizes(window.height, tiles.rounding)
  let blocks = 0
  if (tiles.levels === 'mipmap') {
    for (let level = 0; level < Math.max(widths.length, heights.length); level++) {
      blocks += across(widths[level] ?? 1) * down(heights[level] ?? 1)
    }
  } else {
    for (const width of widths) for (const height of heights) blocks += across(width) * down(height)
  }
  return blocks
}

function readPart(reader: Reader, file: string, index: number, singleTiled: boolean, multiPart: boolean): ExrPart {
  const attributes = readAttributes(reader)
  const string = (name: string) => {
    const attribute = attributes.get(name)
    return attribute?.type === 'string' ? new TextDecoder().decode(attribute.bytes) : undefined
  }
  const kind = string('type')
  if (kind?.startsWith('deep')) {
    throw new UnsupportedExrError(file, 'it holds deep data (several samples per pixel)', 'Render it flattened.')
  }
  if (multiPart && kind !== 'scanlineimage' && kind !== 'tiledimage') reader.fail(`part ${index} is of no known type`)
  const compressionByte = attributes.get('compression')?.bytes[0]
  const compression = compressions[compressionByte ?? -1]
  if (!compression) reader.fail('its compression is unknown')
  if (compression === 'dwaa' || compression === 'dwab') {
    throw new UnsupportedExrError(
      file,
      `it is compressed with ${compression.toUpperCase()}, which loses detail and is not read here`,
      'Write it with ZIP or PIZ.',
    )
  }
  const channelList = attributes.get('channels')
  if (channelList?.type !== 'chlist') reader.fail('its list of channels is missing')
  const channels = readChannels(channelList.bytes, reader)
  const tiled = multiPart ? kind === 'tiledimage' : singleTiled
  return {
    index,
    name: string('name') ?? '',
    compression,
    channels,
    dataWindow: readWindow(attributes.get('dataWindow'), 'data window', reader),
    displayWindow: readWindow(attributes.get('displayWindow'), 'display window', reader),
    tiles: tiled ? readTiles(attributes.get('tiles'), reader) : null,
    attributes,
  }
}

function parseHeader(bytes: Uint8Array, source: ByteSource): ExrHeader {
  const reader = new Reader(bytes, source.name)
  if (reader.word() !== magicNumber) reader.fail('it is not an EXR file (its first four bytes are not the EXR mark)')
  const version = reader.word()
  if ((version & 255) !== 2) reader.fail(`its format version is ${version & 255}, not 2`)
  if (version & flagDeep) {
    throw new UnsupportedExrError(source.name, 'it holds deep data (several samples per pixel)', 'Render it flattened.')
  }
  const multiPart = (version & flagMultiPart) !== 0
  const parts: ExrPart[] = []
  do {
    parts.push(readPart(reader, source.name, parts.length, (version & flagTiled) !== 0, multiPart))
  } while (multiPart && reader.peek() !== 0)
  if (multiPart) reader.take(1)
  let offset = reader.at
  const tables = parts.map((part) => {
    const blocks = blockCount(part.dataWindow, linesPerBlock[part.compression], part.tiles)
    const stored = part.attributes.get('chunkCount')
    if (multiPart && stored?.type === 'int' && stored.bytes.length === 4) {
      const claimed = new DataView(stored.bytes.buffer, stored.bytes.byteOffset, 4).getInt32(0, true)
      if (claimed !== blocks)
        reader.fail(`part "${part.name}" claims ${claimed} blocks where its window needs ${blocks}`)
    }
    const table = { offset, blocks }
    offset += blocks * 8
    if (offset > source.size) {
      reader.fail(
        `it claims ${part.dataWindow.width}x${part.dataWindow.height} pixels, but the file ends before its table of blocks (${source.size} bytes)`,
      )
    }
    return table
  })
  return { parts, multiPart, tables }
}

/**
 * Reads the header only; costs a few kilobytes of the file.
 *
 * @throws DamagedExrError, UnsupportedExrError (deep data, DWA)
 */
export async function readExrHeader(source: ByteSource): Promise<ExrHeader> {
  if (source.size === 0) throw new DamagedExrError(source.name, 'the file is empty (0 bytes)')
  for (let length = Math.min(firstRead, source.size); ; length = Math.min(length * 4, source.size)) {
    try {
      return parseHeader(await source.read(0, length), source)
    } catch (error) {
      if (!(error instanceof HeaderCut)) throw error
      if (length === source.size || length > largestHeader) {
        throw new DamagedExrError(source.name, `the file ends inside its header (${source.size} bytes)`)
      }
    }
  }
}

/** A source over bytes already in memory. */
export function bytesSource(bytes: Uint8Array, name: string): ByteSource {
  return { name, size: bytes.length, read: async (offset, length) => bytes.subarray(offset, offset + length) }
}
