/** The header of a DPX file (SMPTE ST 268-1): what the picture is, and where each field lies. */

import { DamagedDpxError, UnsupportedDpxError } from './errors'

/** Byte offsets of the fields used here. */
export const offsets = {
  imageData: 4,
  version: 8,
  fileSize: 16,
  ditto: 20,
  genericSize: 24,
  industrySize: 28,
  userSize: 32,
  creator: 160,
  encryption: 660,
  orientation: 768,
  elements: 770,
  width: 772,
  lines: 776,
  element: 780,
  originalWidth: 1424,
  originalHeight: 1428,
  pixelAspect: 1628,
  filmRate: 1724,
  televisionRate: 1940,
} as const

/** Offsets inside the description of the first picture element. */
export const elementOffsets = {
  sign: 0,
  lowData: 4,
  highData: 12,
  descriptor: 20,
  transfer: 21,
  colorimetric: 22,
  bits: 23,
  packing: 24,
  encoding: 26,
  data: 28,
  endOfLinePadding: 32,
} as const

export const headerBytes = 2048
export const magic = 0x53445058
/** Fields that say nothing have all bits set. */
export const undefinedWord = 0xffffffff

export const transferCharacteristics = {
  user: 0,
  density: 1,
  linear: 2,
  log: 3,
  video: 4,
  'smpte-274m': 5,
  rec709: 6,
  'rec601-625': 7,
  'rec601-525': 8,
} as const
export type Transfer = keyof typeof transferCharacteristics

export type Bits = 8 | 10 | 12 | 16
/** How code values lie in 32-bit words (16-bit ones for 12 bits): padding below them, above them, or none. */
export type Packing = 'packed' | 'filled-a' | 'filled-b'

export interface DpxHeader {
  readonly width: number
  readonly height: number
  readonly channels: readonly ('R' | 'G' | 'B' | 'A' | 'Y')[]
  readonly bits: Bits
  readonly packing: Packing
  readonly littleEndian: boolean
  readonly transfer: Transfer | null
  /** code values of black and white, where the file says so */
  readonly low: number | null
  readonly high: number | null
  /** frames a second, where the file says so */
  readonly rate: number | null
  readonly pixelAspect: number | null
  readonly dataOffset: number
  /** bytes after each line */
  readonly linePadding: number
}

const channelsByDescriptor: Readonly<Record<number, DpxHeader['channels']>> = {
  6: ['Y'],
  50: ['R', 'G', 'B'],
  51: ['R', 'G', 'B', 'A'],
  52: ['A', 'B', 'G', 'R'],
}
const packings: readonly Packing[] = ['packed', 'filled-a', 'filled-b']
const largestSide = 65536

/**
 * @param bytes at least the first 2048 of the file
 * @throws DamagedDpxError, UnsupportedDpxError
 */
export function readDpxHeader(bytes: Uint8Array, file: string): DpxHeader {
  if (bytes.length < headerBytes) throw new DamagedDpxError(file, 'it ends inside its header')
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const littleEndian = view.getUint32(0, true) === magic
  if (!littleEndian && view.getUint32(0, false) !== magic)
    throw new DamagedDpxError(file, 'it does not begin as a DPX file does')
  const word = (at: number) => view.getUint32(at, littleEndian)
  const short = (at: number) => view.getUint16(at, littleEndian)
  const defined = (at: number) => (word(at) === undefinedWord ? null : word(at))
  const positive = (at: number) => {
    const value = view.getFloat32(at, littleEndian)
    return word(at) !== undefinedWord && value > 0 && Number.isFinite(value) ? value : null
  }
  const at = (field: keyof typeof elementOffsets) => offsets.element + elementOffsets[field]
  const [width, height] = [word(offsets.width), word(offsets.lines)]
  if (width < 1 || height < 1 || width > largestSide || height > largestSide)
    throw new DamagedDpxError(file, `its header says ${width} x ${height} pixels`)
  const descriptor = bytes[at('descriptor')]
  const channels = channelsByDescriptor[descriptor]
  if (!channels) throw new UnsupportedDpxError(file, `its picture element is of kind ${descriptor}`)
  const bits = bytes[at('bits')]
  if (bits !== 8 && bits !== 10 && bits !== 12 && bits !== 16)
    throw new UnsupportedDpxError(file, `its code values have ${bits} bits`)
  const packing = packings[short(at('packing'))]
  if (!packing) throw new UnsupportedDpxError(file, `its code values are packed in way ${short(at('packing'))}`)
  if (short(at('encoding')) === 1) throw new UnsupportedDpxError(file, 'it is run-length encoded')
  if (short(offsets.orientation) !== 0)
    throw new UnsupportedDpxError(file, 'its lines do not run from the upper left to the lower right')
  const transfer = (Object.keys(transferCharacteristics) as Transfer[]).find(
    (name) => transferCharacteristics[name] === bytes[at('transfer')],
  )
  const [across, down] = [defined(offsets.pixelAspect), defined(offsets.pixelAspect + 4)]
  return {
    width,
    height,
    channels,
    bits,
    packing,
    littleEndian,
    transfer: transfer ?? null,
    low: defined(at('lowData')),
    high: defined(at('highData')),
    rate: positive(offsets.filmRate) ?? positive(offsets.televisionRate),
    pixelAspect: across && down ? across / down : null,
    dataOffset: defined(at('data')) ?? word(offsets.imageData),
    linePadding: defined(at('endOfLinePadding')) ?? 0,
  }
}
