/** Reads the pixels of one part of an EXR file: only the channels asked for, and only the blocks that the window meets. */

import { allocateSamples, bytesPerSample, type Planes, type Plane } from '../../core/image/planes'
import { intersect, isEmpty, type Window } from '../../core/image/window'
import { unpackB44 } from './b44'
import { plainReordering, type ByteReordering } from './byte-planes'
import { DamagedExrError, NotInExrError, UnsupportedExrError } from './errors'
import { readExrHeader, type ByteSource, type ExrHeader } from './header'
import {
  BadBlock,
  blockBytes,
  linesPerBlock,
  type BlockShape,
  type ExrChannel,
  type ExrPart,
  type Inflate,
} from './layout'
import { unpackPiz } from './piz'
import { pxr24Bytes, unpackPxr24 } from './pxr24'
import { unpackRuns } from './rle'

export interface ReadExrOptions {
  /** a part's name or index; default the first */
  readonly part?: string | number
  /** full channel names; default all of the part */
  readonly channels?: readonly string[]
  /** in frame coordinates, cut to the data window; default all of it */
  readonly window?: Window
  readonly inflate: Inflate
  /** default without kernels */
  readonly reordering?: ByteReordering
  /** saves a second look at the header */
  readonly header?: ExrHeader
  /** refuse more samples than this; default 2^29 */
  readonly mostSamples?: number
  /** what was read and unpacked is added here */
  readonly cost?: ReadCost
}

/** What reading a picture took. */
export interface ReadCost {
  bytesRead: number
  /** blocks (of lines, or tiles) that were unpacked, and their bytes after unpacking */
  blocks: number
  bytesUnpacked: number
  /** samples that were handed out */
  samples: number
}

/** No codec of the format packs better than this; a file that claims more than its bytes can hold is damaged. */
const bestRatio = 3000
const largestRead = 8 << 20
const blocksInFlight = 4
/** Writers store a block raw when packing does not help, so a packed block is never much longer than its pixels. */
const slackBytes = 4096

/**
 * @returns planes in the order asked for; `dataWindow` is the part's, cut to the window asked for
 * @throws DamagedExrError, UnsupportedExrError (deep, DWA, subsampled channels), NotInExrError (part, channel or window absent)
 */
export async function readExr(source: ByteSource, options: ReadExrOptions): Promise<Planes> {
  const header = options.header ?? (await readExrHeader(source))
  const part = findPart(header, options.part, source.name)
  const wanted = findChannels(part, options.channels, source.name)
  const window = findWindow(part, options.window, source.name)
  checkSize(part, window, wanted, source, options.mostSamples ?? 2 ** 29)

  const planes = wanted.map((channel) => ({
    name: channel.name,
    type: channel.type,
    samples: allocateSamples(channel.type, window.width * window.height),
  }))
  const offsets = await readOffsets(source, header, part)
  const blocks = blocksFor(part, window, offsets)
  const targets = part.channels.map((channel) => planes.find((plane) => plane.name === channel.name) ?? null)
  const { inflate, reordering = plainReordering } = options
  const cost = options.cost ?? { bytesRead: 0, blocks: 0, bytesUnpacked: 0, samples: 0 }
  const context: BlockContext = { source, header, part, window, targets, inflate, reordering, cost }
  cost.samples += window.width * window.height * wanted.length

  let pending: Promise<void>[] = []
  for (const group of groupReads(blocks, offsets, source.size, part)) {
    const bytes = await source.read(group.start, group.end - group.start)
    cost.bytesRead += bytes.length
    if (bytes.length !== group.end - group.start)
      throw new DamagedExrError(source.name, 'the file became shorter while it was read')
    for (const block of group.blocks) {
      pending.push(readBlock(bytes.subarray(block.offset - group.start), block, context))
      if (pending.length === blocksInFlight) {
        await settle(pending)
        pending = []
      }
    }
  }
  await settle(pending)
  return { dataWindow: window, displayWindow: part.displayWindow, planes }
}

/** Waits for all, so that no block is still being unpacked when an error is reported. */
async function settle(pending: readonly Promise<void>[]): Promise<void> {
  for (const result of await Promise.allSettled(pending)) if (result.status === 'rejected') throw result.reason
}

function findPart(header: ExrHeader, wanted: string | number | undefined, file: string): ExrPart {
  if (wanted === undefined) return header.parts[0]
  const part = header.parts.find((p) => (typeof wanted === 'number' ? p.index === wanted : p.name === wanted))
  if (part) return part
  const names = header.parts.map((p) => p.name || `number ${p.index}`).join(', ')
  throw new NotInExrError(file, `it has no part "${wanted}"`, `Its parts are: ${names}.`)
}

function findChannels(part: ExrPart, names: readonly string[] | undefined, file: string): ExrChannel[] {
  const wanted = names
    ? names.map((name) => {
        const channel = part.channels.find((c) => c.name === name)
        if (channel) return channel
        const has = part.channels.map((c) => c.name).join(', ')
        throw new NotInExrError(
          file,
          `its part "${part.name || part.index}" has no channel "${name}"`,
          `It has: ${has}.`,
        )
      })
    : [...part.channels]
  const subsampled = part.channels.find((c) => c.xSampling !== 1 || c.ySampling !== 1)
  if (subsampled) {
    throw new UnsupportedExrError(
      file,
      `its channel "${subsampled.name}" is subsampled (${subsampled.xSampling}x${subsampled.ySampling})`,
      'Write it with every channel at full resolution.',
    )
  }
  return wanted
}

function findWindow(part: ExrPart, wanted: Window | undefined, file: string): Window {
  if (!wanted) return part.dataWindow
  const window = intersect(part.dataWindow, wanted)
  if (!isEmpty(window)) return window
  const corners = ({ x, y, width, height }: Window) => `${x}, ${y} to ${x + width - 1}, ${y + height - 1}`
  throw new NotInExrError(file, `it has no pixels at ${corners(wanted)}`, `Its pixels are ${corners(part.dataWindow)}.`)
}

function checkSize(
  part: ExrPart,
  window: Window,
  wanted: readonly ExrChannel[],
  source: ByteSource,
  most: number,
): void {
  const { width, height } = part.dataWindow
  const bytesPerPixel = part.channels.reduce((sum, channel) => sum + bytesPerSample[channel.type], 0)
  if (width * height * bytesPerPixel > source.size * bestRatio) {
    throw new DamagedExrError(
      source.name,
      `it claims ${width}x${height} pixels, more than its ${source.size} bytes can hold`,
    )
  }
  if (window.width * window.height * Math.max(1, wanted.length) > most) {
    throw new UnsupportedExrError(
      source.name,
      `it claims ${width}x${height} pixels with ${wanted.length} channels, more than is read at once`,
      'Ask for fewer channels or rows.',
    )
  }
}

async function readOffsets(source: ByteSource, header: ExrHeader, part: ExrPart): Promise<Float64Array> {
  const { offset, blocks } = header.tables[part.index]
  const bytes = await source.read(offset, blocks * 8)
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const offsets = new Float64Array(blocks)
  for (let i = 0; i < blocks; i++) offsets[i] = view.getUint32(i * 8, true) + view.getUint32(i * 8 + 4, true) * 2 ** 32
  return offsets
}

interface Block {
  /** where its own header starts in the file */
  readonly offset: number
  /** the pixels it must hold */
  readonly window: Window
  readonly tile: { readonly x: number; readonly y: number } | null
}

function blocksFor(part: ExrPart, wanted: Window, offsets: Float64Array): Block[] {
  const { dataWindow, tiles } = part
  const blocks: Block[] = []
  const bottom = dataWindow.y + dataWindow.height
  const linesEach = tiles ? tiles.height : linesPerBlock[part.compression]
  const widthEach = tiles ? tiles.width : dataWindow.width
  const across = Math.ceil(dataWindow.width / widthEach)
  const firstBand = Math.floor((wanted.y - dataWindow.y) / linesEach)
  const lastBand = Math.floor((wanted.y + wanted.height - 1 - dataWindow.y) / linesEach)
  const firstColumn = Math.floor((wanted.x - dataWindow.x) / widthEach)
  const lastColumn = Math.floor((wanted.x + wanted.width - 1 - dataWindow.x) / widthEach)
  for (let band = firstBand; band <= lastBand; band++) {
    const y = dataWindow.y + band * linesEach
    const height = Math.min(linesEach, bottom - y)
    for (let column = firstColumn; column <= lastColumn; column++) {
      const x = dataWindow.x + column * widthEach
      const width = Math.min(widthEach, dataWindow.x + dataWindow.width - x)
      blocks.push({
        offset: offsets[band * across + column],
        window: { x, y, width, height },
        tile: tiles ? { x: column, y: band } : null,
      })
    }
  }
  return blocks
}

interface ReadGroup {
  readonly start: number
  end: number
  readonly blocks: Block[]
}

/** Joins blocks that stand next to each other in the file into reads of a few megabytes. */
function groupReads(blocks: readonly Block[], offsets: Float64Array, size: number, part: ExrPart): ReadGroup[] {
  const sorted = Float64Array.from(new Set([...offsets, ...blocks.map((b) => b.offset)])).sort()
  const endOf = (offset: number) => {
    let low = 0
    let high = sorted.length
    while (low < high) {
      const middle = (low + high) >> 1
      if (sorted[middle] > offset) high = middle
      else low = middle + 1
    }
    return Math.min(size, sorted[low] ?? size)
  }
  const groups: ReadGroup[] = []
  for (const block of [...blocks].sort((a, b) => a.offset - b.offset)) {
    const start = Math.min(Math.max(0, block.offset), size)
    const { width, height: lines } = block.window
    const longest = blockBytes({ width, lines, channels: part.channels }) + slackBytes
    const end = Math.max(start, Math.min(endOf(block.offset), start + longest))
    const last = groups.at(-1)
    if (last && start === last.end && end - last.start <= largestRead) {
      last.end = end
      last.blocks.push(block)
    } else {
      groups.push({ start, end, blocks: [block] })
    }
  }
  return groups
}

interface BlockContext {
  readonly source: ByteSource
  readonly header: ExrHeader
  readonly part: ExrPart
  readonly window: Window
  /** in the order of the part's channels; null where a channel was not asked for */
  readonly targets: readonly (Plane | null)[]
  readonly inflate: Inflate
  readonly reordering: ByteReordering
  readonly cost: ReadCost
}

async function readBlock(bytes: Uint8Array, block: Block, context: BlockContext): Promise<void> {
  const { source, header, part } = context
  const rows = `rows ${block.window.y} to ${block.window.y + block.window.height - 1}`
  const fail = (what: string): never => {
    throw new DamagedExrError(source.name, `${rows} cannot be read: ${what}`)
  }
  if (block.offset === 0) fail('they were never written (the render did not finish)')
  const headBytes = (header.multiPart ? 4 : 0) + (block.tile ? 20 : 8)
  if (block.offset >= source.size || bytes.length < headBytes) fail('the file ends before them')
  const view = new DataView(bytes.buffer, bytes.byteOffset, headBytes)
  let at = 0
  const next = () => view.getInt32((at += 4) - 4, true)
  if (header.multiPart && next() !== part.index) fail('their block belongs to another part')
  if (block.tile) {
    if (next() !== block.tile.x || next() !== block.tile.y) fail('their block belongs to another place')
    if (next() !== 0 || next() !== 0) fail('their block belongs to a reduced level')
  } else if (next() !== block.window.y) fail('their block belongs to other rows')
  const packedSize = next()
  const shape: BlockShape = { width: block.window.width, lines: block.window.height, channels: part.channels }
  if (packedSize < 0 || packedSize + headBytes > blockBytes(shape) + slackBytes)
    fail(`their block claims ${packedSize} bytes`)
  if (headBytes + packedSize > bytes.length) fail('the file ends inside them, or their block claims too many bytes')
  const packed = bytes.subarray(headBytes, headBytes + packedSize)
  try {
    context.cost.blocks++
    context.cost.bytesUnpacked += blockBytes(shape)
    const stored = await unpack(packed, shape, part, context.inflate)
    // Nothing else runs between these two, so what the reordering returns still stands.
    scatter(isReordered(part, packed, shape) ? context.reordering.gather(stored) : stored, block.window, shape, context)
  } catch (error) {
    if (error instanceof BadBlock) fail(error.message)
    throw error
  }
}

/** @returns the pixels' bytes, of some compressions still in another order */
async function unpack(packed: Uint8Array, shape: BlockShape, part: ExrPart, inflate: Inflate): Promise<Uint8Array> {
  const size = blockBytes(shape)
  const { compression } = part
  if (compression === 'none' || packed.length >= size) {
    if (packed.length !== size) throw new BadBlock(`it has ${packed.length} bytes instead of ${size}`)
    return packed
  }
  switch (compression) {
    case 'rle':
      return unpackRuns(packed, size)
    case 'zips':
    case 'zip':
      return inflateExactly(packed, size, inflate)
    case 'piz':
      return unpackPiz(packed, shape)
    case 'pxr24':
      return unpackPxr24(await inflateExactly(packed, pxr24Bytes(shape), inflate), shape)
    case 'b44':
    case 'b44a':
      return unpackB44(packed, shape)
    default:
      throw new BadBlock('its compression is not read here')
  }
}

function isReordered({ compression }: ExrPart, packed: Uint8Array, shape: BlockShape): boolean {
  return (compression === 'rle' || compression === 'zips' || compression === 'zip') && packed.length < blockBytes(shape)
}

async function inflateExactly(packed: Uint8Array, size: number, inflate: Inflate): Promise<Uint8Array> {
  let out: Uint8Array
  try {
    out = await inflate(packed, size)
  } catch {
    throw new BadBlock('their compressed bytes are broken')
  }
  if (out.length !== size) throw new BadBlock(`they unpack to ${out.length} bytes instead of ${size}`)
  return out
}

/** Hands the lines of a block, cut to the window, to the planes that want them. */
function scatter(lines: Uint8Array, block: Window, shape: BlockShape, context: BlockContext): void {
  const { window, targets } = context
  const aligned = (lines.byteOffset & 3) === 0 ? lines : lines.slice()
  const { buffer } = aligned
  const cut = intersect(block, window)
  let at = aligned.byteOffset
  for (let line = 0; line < shape.lines; line++) {
    const row = block.y + line - window.y
    const inside = row >= 0 && row < window.height
    shape.channels.forEach((channel, c) => {
      const target = targets[c]
      const size = bytesPerSample[channel.type]
      if (target && inside)
        copySamples(target, row * window.width + cut.x - window.x, buffer, at + (cut.x - block.x) * size, cut.width)
      at += shape.width * size
    })
  }
}

function copySamples(target: Plane, to: number, buffer: ArrayBufferLike, at: number, count: number): void {
  const { samples } = target
  if (samples instanceof Uint16Array) samples.set(new Uint16Array(buffer, at, count), to)
  else if ((at & 3) === 0) samples.set(new (samples.constructor as Float32ArrayConstructor)(buffer, at, count), to)
  else new Uint8Array(samples.buffer, samples.byteOffset + to * 4, count * 4).set(new Uint8Array(buffer, at, count * 4))
}
