/**
 * Files that hold a picture, whatever their format: what they say of themselves, and their channels as planes.
 *
 * The format is told by the file's first bytes, never by its name.
 */

import { LRUCache } from 'lru-cache'
import type { Sharp } from 'sharp'
import type { FormatName, PictureHeader, PicturePart } from '../../core/check'
import { primariesNamed, type EncodingName } from '../../core/colour'
import type { Plane, Planes } from '../../core/image/planes'
import {
  NotInExrError,
  readExr,
  readExrHeader,
  standardAttributes,
  type ReadCost,
  type ByteSource,
  type ExrHeader,
} from '../../formats/exr'
import { croppedPlanes } from '../../core/image/cropped-planes'
import { intersect, pixelCount, type Window } from '../../core/image/window'
import { dpxHeaderBytes, dpxLines, readDpxHeader, readDpxLines, type DpxHeader } from '../../formats/dpx'
import { unpacking } from './exr-blocks'

/** The bytes are no picture that is read here. */
export class UnknownFormatError extends Error {
  override readonly name = 'UnknownFormatError'
}

/** A PNG, TIFF or JPEG cannot be decoded. */
export class DamagedPictureError extends Error {
  override readonly name = 'DamagedPictureError'
}

/** The file changed while it was being read. */
export class ChangedFileError extends Error {
  override readonly name = 'ChangedFileError'
}

/** @throws UnknownFormatError */
export async function formatOf(source: ByteSource): Promise<FormatName> {
  const { name, size } = source
  if (size === 0) throw new UnknownFormatError(`${name} is empty (0 bytes). Copy or render the file again.`)
  const b = await source.read(0, Math.min(8, size))
  const starts = (...bytes: number[]) => bytes.every((value, i) => b[i] === value)
  if (starts(0x76, 0x2f, 0x31, 0x01)) return 'exr'
  if (starts(0x53, 0x44, 0x50, 0x58) || starts(0x58, 0x50, 0x44, 0x53)) return 'dpx'
  if (starts(0x89, 0x50, 0x4e, 0x47)) return 'png'
  if (starts(0x49, 0x49, 42, 0) || starts(0x4d, 0x4d, 0, 42) || starts(0x49, 0x49, 43, 0)) return 'tiff'
  if (starts(0xff, 0xd8, 0xff)) return 'jpeg'
  throw new UnknownFormatError(
    `${name} is not a picture that can be read here: it begins like no EXR, DPX, PNG, TIFF or JPEG. Import it again, or export it in one of these formats.`,
  )
}

/** @throws UnknownFormatError, and what the formats throw */
export async function readPictureHeader(source: ByteSource): Promise<PictureHeader> {
  const format = await formatOf(source)
  if (format === 'exr') return headerOfExr(await readExrHeader(source))
  if (format === 'dpx') return headerOfDpx(await dpxHeader(source))
  return headerOfImage(source, format)
}

/** The windows of a file's part, in its own pixel numbers. */
export interface FileWindows {
  readonly dataWindow: Window
  readonly displayWindow: Window
}

export interface PictureRead extends Planes {
  /** the file's data window, of which the planes may be a part */
  readonly fileWindow: Window
}

export interface HowToRead {
  /** which part of the picture is wanted, once its windows are known; absent: all of it */
  readonly window?: (of: FileWindows) => Window
  /** what was read and unpacked is added here */
  readonly cost?: ReadCost
}

/**
 * @param part name of a part or of a layer; null for the first part's channels without a layer
 * @param choose names of the channels wanted, from those there are; the same name may be wanted more than once
 * @throws what the formats throw, and what `choose` throws
 */
export async function readPicture(
  source: ByteSource,
  part: string | null,
  choose: (available: readonly string[]) => readonly string[],
  how: HowToRead = {},
): Promise<PictureRead> {
  const format = await formatOf(source)
  if (format === 'exr') return readFromExr(source, part, choose, how)
  if (part !== null)
    throw new NotInExrError(
      source.name,
      `it has no part "${part}"`,
      `It is a ${format.toUpperCase()} file and has none.`,
    )
  const read = format === 'dpx' ? await readFromDpx(source, how) : cutTo(await readImage(source, format), how)
  const chosen = choose(read.planes.map(({ name }) => name))
  return { ...read, planes: chosen.map((name) => read.planes.find((p) => p.name === name) as Plane) }
}

/** @param part as for `readPicture` @throws as it does */
export async function readPictureWindows(source: ByteSource, part: string | null): Promise<FileWindows> {
  const format = await formatOf(source)
  if (format === 'exr') return partOf(await exrHeader(source), part, source.name).holder
  if (format !== 'dpx') return (await headerOfImage(source, format)).parts[0]
  const { width, height } = await dpxHeader(source)
  const window = { x: 0, y: 0, width, height }
  return { dataWindow: window, displayWindow: window }
}

/** Only the bytes of the lines that are wanted. */
async function readFromDpx(source: ByteSource, { window: wanted, cost }: HowToRead): Promise<PictureRead> {
  const header = await dpxHeader(source)
  const all = { x: 0, y: 0, width: header.width, height: header.height }
  const window = intersect(all, wanted?.({ dataWindow: all, displayWindow: all }) ?? all)
  const { offset, length } = dpxLines(header, window)
  const bytes = await source.read(offset, Math.min(length, Math.max(0, source.size - offset)))
  const planes = readDpxLines(bytes, header, window, source.name)
  if (cost) {
    cost.bytesRead += bytes.length
    cost.bytesUnpacked += bytes.length
    cost.samples += planes.length * pixelCount(window)
  }
  return { dataWindow: window, displayWindow: all, fileWindow: all, planes }
}

/** Formats that can only be decoded as a whole. */
function cutTo(planes: Planes, { window: wanted, cost }: HowToRead): PictureRead {
  const { dataWindow: all } = planes
  const window = wanted ? intersect(all, wanted(planes)) : all
  if (cost) {
    cost.bytesUnpacked += planes.planes.length * pixelCount(all) * 4
    cost.samples += planes.planes.length * pixelCount(window)
  }
  return { ...planes, dataWindow: window, fileWindow: all, planes: [...croppedPlanes(planes.planes, all, window)] }
}

async function wholeFile(source: ByteSource): Promise<Uint8Array> {
  const bytes = await source.read(0, source.size)
  if (bytes.length !== source.size)
    throw new ChangedFileError(
      `${source.name} became shorter while it was read. Wait until it is written, then reload.`,
    )
  return bytes
}

const byLayer = (channel: string) => channel.slice(0, Math.max(0, channel.lastIndexOf('.')))

function headerOfExr(header: ExrHeader): PictureHeader {
  const parts = header.parts.flatMap(({ name, channels, dataWindow, displayWindow }): PicturePart[] => {
    const layers = [...new Set(channels.map((channel) => byLayer(channel.name)))].sort()
    return layers.map((layer) => ({
      name: layer || name || null,
      channels: channels
        .filter((channel) => byLayer(channel.name) === layer)
        .map(({ name: full, type }) => ({ name: full.slice(layer === '' ? 0 : layer.length + 1), type })),
      dataWindow,
      displayWindow,
    }))
  })
  const { chromaticities, framesPerSecond, pixelAspectRatio } = standardAttributes(header.parts[0])
  const floating = header.parts[0].channels.some(({ type }) => type !== 'uint')
  return {
    format: 'exr',
    parts,
    bits: null,
    says: {
      encoding: floating ? 'linear' : null,
      primaries: chromaticities ? primariesNamed(chromaticities) : null,
      alpha: parts[0].channels.some((channel) => channel.name === 'A') ? 'premultiplied' : 'none',
      rate: framesPerSecond ? framesPerSecond.numerator / framesPerSecond.denominator : null,
      pixelAspect: pixelAspectRatio ?? null,
    },
  }
}

/** Which part a name means: the part itself, or the one with that layer among its channels. @throws NotInExrError */
function partOf(header: ExrHeader, wanted: string | null, file: string) {
  const part = wanted === null ? header.parts[0] : header.parts.find((p) => p.name === wanted)
  const prefix = part ? '' : `${wanted}.`
  const holder = part ?? header.parts.find((p) => p.channels.some((channel) => byLayer(channel.name) === wanted))
  if (!holder) {
    const names = headerOfExr(header).parts.map((p, i) => p.name ?? i)
    throw new NotInExrError(file, `it has no part "${wanted}"`, `Its parts are: ${names.join(', ')}.`)
  }
  return { holder, prefix, part }
}

/** Headers of the files read last: of a frame with many passes each pass is read by itself. */
const headers = new LRUCache<string, ExrHeader>({ max: 64 })

async function exrHeader(source: ByteSource): Promise<ExrHeader> {
  const known = source.state === undefined ? undefined : headers.get(source.state)
  if (known) return known
  const header = await readExrHeader(source)
  if (source.state !== undefined) headers.set(source.state, header)
  return header
}

async function readFromExr(
  source: ByteSource,
  wanted: string | null,
  choose: (available: readonly string[]) => readonly string[],
  { window, cost }: HowToRead,
): Promise<PictureRead> {
  const header = await exrHeader(source)
  const { holder, prefix, part } = partOf(header, wanted, source.name)
  const available = holder.channels
    .filter((channel) => byLayer(channel.name) === prefix.slice(0, -1) || (part && prefix === ''))
    .map((channel) => channel.name.slice(prefix.length))
  const chosen = choose(available)
  const unique = [...new Set(chosen)]
  const read = await readExr(source, {
    part: holder.index,
    channels: unique.map((name) => prefix + name),
    ...unpacking,
    header,
    ...(window ? { window: window(holder) } : {}),
    ...(cost ? { cost } : {}),
  })
  return {
    ...read,
    fileWindow: holder.dataWindow,
    planes: chosen.map((name) => ({ ...read.planes[unique.indexOf(name)], name })),
  }
}

async function dpxHeader(source: ByteSource): Promise<DpxHeader> {
  return readDpxHeader(await source.read(0, Math.min(source.size, dpxHeaderBytes)), source.name)
}

const encodingOfTransfer: Readonly<Record<string, EncodingName>> = {
  density: 'cineon',
  log: 'cineon',
  linear: 'linear',
  rec709: 'bt1886',
  'smpte-274m': 'bt1886',
}

function headerOfDpx({ width, height, channels, bits, transfer, rate, pixelAspect }: DpxHeader): PictureHeader {
  const window = { x: 0, y: 0, width, height }
  const part = {
    name: null,
    channels: channels.map((name) => ({ name, type: 'float' as const })),
    dataWindow: window,
    displayWindow: window,
  }
  return {
    format: 'dpx',
    parts: [part],
    bits,
    says: {
      encoding: (transfer && encodingOfTransfer[transfer]) ?? null,
      primaries: null,
      alpha: channels.includes('A') ? 'straight' : 'none',
      rate,
      pixelAspect,
    },
  }
}

/** Files' own colour profiles are left alone: what the code values mean is a claim, said and seen. */
async function open(bytes: Uint8Array): Promise<Sharp> {
  // Loaded when it is needed: most frames are EXR or DPX.
  const { default: sharp } = await import('sharp')
  return sharp(bytes, { ignoreIcc: true, limitInputPixels: 2 ** 29, failOn: 'error' })
}

const namesOf = (channels: number): readonly string[] =>
  [[], ['Y'], ['Y', 'A'], ['R', 'G', 'B'], ['R', 'G', 'B', 'A']][channels]

async function headerOfImage(source: ByteSource, format: FormatName): Promise<PictureHeader> {
  const { width, height, channels, depth, hasAlpha } = await decoded(source, async (image) => {
    const { width, height, channels, depth, hasAlpha } = await image.metadata()
    return { width, height, channels, depth, hasAlpha }
  })
  const window = { x: 0, y: 0, width, height }
  const names = namesOf(channels) ?? namesOf(3)
  return {
    format,
    parts: [
      {
        name: null,
        channels: names.map((name) => ({ name, type: 'float' as const })),
        dataWindow: window,
        displayWindow: window,
      },
    ],
    bits: depth === 'ushort' ? 16 : 8,
    says: {
      // PNG and JPEG are sRGB where they say nothing else; a TIFF may hold anything.
      encoding: format === 'tiff' ? null : 'srgb',
      primaries: format === 'tiff' ? null : 'rec709',
      alpha: hasAlpha ? 'straight' : 'none',
      rate: null,
      pixelAspect: null,
    },
  }
}

async function decoded<T>(source: ByteSource, use: (image: Sharp) => Promise<T>): Promise<T> {
  const bytes = await wholeFile(source)
  try {
    return await use(await open(bytes))
  } catch (error) {
    const why = error instanceof Error ? error.message.trim().replace(/\s+/g, ' ') : String(error)
    throw new DamagedPictureError(
      `Reading ${source.name}: it cannot be decoded (${why}). Copy or export the file again.`,
    )
  }
}

async function readImage(source: ByteSource, format: FormatName): Promise<Planes> {
  return decoded(source, async (image) => {
    const { depth, channels: stored, space } = await image.metadata()
    if (depth !== 'uchar' && depth !== 'ushort')
      throw new Error(
        `its ${format.toUpperCase()} samples are of type ${depth}; only 8 and 16 bits are read, floats in EXR`,
      )
    const deep = depth === 'ushort'
    const grey = stored < 3
    const placed = space === 'cmyk' || deep || grey ? image.toColourspace(`${grey ? 'b-w' : 'srgb'}`) : image
    const wide = deep ? image.toColourspace(grey ? 'grey16' : 'rgb16') : placed
    const { data, info } = await wide.raw({ depth: deep ? 'ushort' : 'uchar' }).toBuffer({ resolveWithObject: true })
    const { width, height, channels } = info
    const codes = deep ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2) : data
    const most = deep ? 65535 : 255
    const window = { x: 0, y: 0, width, height }
    const planes = namesOf(channels).map((name, c): Plane => {
      const samples = new Float32Array(width * height)
      for (let i = 0, at = c; i < samples.length; i++, at += channels) samples[i] = codes[at] / most
      return { name, type: 'float', samples }
    })
    return { dataWindow: window, displayWindow: window, planes }
  })
}
