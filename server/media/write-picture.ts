/** Planes to a file's bytes, in the format of its extension. */

import { extname } from 'node:path'
import type { EncodingName } from '../../core/colour'
import { floatToHalf, halfTable } from '../../core/image/half'
import type { Plane, Planes } from '../../core/image/planes'
import { writeDpx, type Transfer } from '../../formats/dpx'
import { writeExr, type StandardAttributes } from '../../formats/exr'
import { packing } from './exr-blocks'

export type WritableFormat = 'exr' | 'dpx' | 'png' | 'tiff' | 'jpeg'

const byExtension: Readonly<Record<string, WritableFormat>> = {
  '.exr': 'exr',
  '.dpx': 'dpx',
  '.png': 'png',
  '.tif': 'tiff',
  '.tiff': 'tiff',
  '.jpg': 'jpeg',
  '.jpeg': 'jpeg',
}

/** Bits of a sample that each format can hold, the usual one first. EXR: 16 is half, 32 float. */
const depths: Readonly<Record<WritableFormat, readonly number[]>> = {
  exr: [16, 32],
  dpx: [10, 8, 12, 16],
  png: [16, 8],
  tiff: [16, 8],
  jpeg: [8],
}

/** No format has that extension, or the format cannot hold what is asked for. */
export class UnwritableError extends Error {
  override readonly name = 'UnwritableError'
}

/** @throws UnwritableError */
export function writableFormat(path: string): WritableFormat {
  const found = byExtension[extname(path).toLowerCase()]
  if (!found)
    throw new UnwritableError(
      `${path} has no extension that can be written. Use one of ${Object.keys(byExtension).join(', ')}.`,
    )
  return found
}

export interface PictureToWrite extends Planes {
  readonly standard?: StandardAttributes
  /** what its code values are encoded in; written where the format has a field for it */
  readonly encoding: EncodingName
  /** frames a second */
  readonly rate?: number
}

const transferOf = (encoding: EncodingName): Transfer => {
  if (encoding === 'cineon') return 'density'
  if (encoding === 'linear') return 'linear'
  return encoding === 'bt1886' ? 'rec709' : 'user'
}

/**
 * @param bits of a sample; the format's usual ones when absent. EXR keeps its planes' own type then.
 * @throws UnwritableError
 */
export async function encodePicture(path: string, picture: PictureToWrite, bits?: number): Promise<Uint8Array> {
  const format = writableFormat(path)
  if (bits !== undefined && !depths[format].includes(bits))
    throw new UnwritableError(`${path} cannot have ${bits} bits a sample. Use one of ${depths[format].join(', ')}.`)
  if (format === 'exr') return encodeExr(picture, bits)
  const { width, height } = picture.displayWindow
  const planes = picture.planes.map((plane) => overDisplayWindow(plane, picture))
  if (format === 'dpx') {
    const { encoding, rate, standard } = picture
    const depth = (bits ?? 10) as 8 | 10 | 12 | 16
    const pixelAspect = standard?.pixelAspectRatio
    return writeDpx({ width, height }, planes, { bits: depth, transfer: transferOf(encoding), rate, pixelAspect })
  }
  return encodeImage(format, width, height, planes, bits ?? depths[format][0])
}

function encodeExr(
  { dataWindow, displayWindow, planes, standard }: PictureToWrite,
  bits?: number,
): Promise<Uint8Array> {
  const typed = planes.map((plane): Plane => {
    if (bits === 32) return { ...plane, type: 'float', samples: floatsOf(plane) }
    if (bits === 16 && plane.type !== 'half')
      return { ...plane, type: 'half', samples: Uint16Array.from(plane.samples, floatToHalf) }
    return plane
  })
  return writeExr([{ dataWindow, displayWindow, planes: typed, standard }], { compression: 'zip', ...packing })
}

function floatsOf({ type, samples }: Plane): Float32Array {
  return type === 'half' ? Float32Array.from(samples, (bits) => halfTable[bits]) : Float32Array.from(samples)
}

/** Formats without a data window hold the display window: what lies outside is left out, what is not there is 0. */
function overDisplayWindow(plane: Plane, { dataWindow: data, displayWindow: display }: Planes): Float32Array {
  const floats = floatsOf(plane)
  const out = new Float32Array(display.width * display.height)
  const left = Math.max(data.x, display.x)
  const right = Math.min(data.x + data.width, display.x + display.width)
  for (let y = Math.max(data.y, display.y); y < Math.min(data.y + data.height, display.y + display.height); y++) {
    if (right <= left) break
    const from = (y - data.y) * data.width + left - data.x
    out.set(floats.subarray(from, from + right - left), (y - display.y) * display.width + left - display.x)
  }
  return out
}

async function encodeImage(
  format: 'png' | 'tiff' | 'jpeg',
  width: number,
  height: number,
  given: readonly Float32Array[],
  bits: number,
): Promise<Uint8Array> {
  const planes = format === 'jpeg' ? given.slice(0, given.length < 3 ? 1 : 3) : given
  const channels = planes.length as 1 | 2 | 3 | 4
  const most = 2 ** bits - 1
  const codes = bits === 16 ? new Uint16Array(width * height * channels) : new Uint8Array(width * height * channels)
  planes.forEach((plane, c) => {
    for (let i = 0, at = c; i < plane.length; i++, at += channels)
      codes[at] = Math.round(Math.min(1, Math.max(0, plane[i])) * most)
  })
  const raw = { width, height, channels, premultiplied: false } as const
  const { default: sharp } = await import('sharp')
  const image = sharp(codes, { raw: raw })
  const placed = bits === 16 ? image.toColourspace(channels < 3 ? 'grey16' : 'rgb16') : image
  if (format === 'png') return placed.png({ compressionLevel: 6 }).toBuffer()
  if (format === 'jpeg') return placed.jpeg({ quality: 95, chromaSubsampling: '4:4:4' }).toBuffer()
  return placed.tiff({ compression: 'deflate' }).toBuffer()
}
