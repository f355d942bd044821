/** Whole DPX pictures: bytes to code values as shares of the largest, and back without losing one. */

import type { Plane, Planes } from '../../core/image/planes'
import type { Window } from '../../core/image/window'
import { lineBytes, packLine, unpackLine } from './code-values'
import { DamagedDpxError } from './errors'
import {
  elementOffsets,
  headerBytes,
  magic,
  offsets,
  readDpxHeader,
  transferCharacteristics,
  undefinedWord,
  type Bits,
  type DpxHeader,
  type Packing,
  type Transfer,
} from './header'

/**
 * @param wanted names of the channels to give; all when absent
 * @returns float planes: code values over the largest code value, so that 1 is the largest
 * @throws DamagedDpxError, UnsupportedDpxError
 */
export function readDpx(bytes: Uint8Array, file: string, wanted?: readonly string[]): Planes {
  const header = readDpxHeader(bytes, file)
  const window = { x: 0, y: 0, width: header.width, height: header.height }
  const { offset } = dpxLines(header, window)
  const planes = readDpxLines(bytes.subarray(offset), header, window, file)
  const given = wanted
    ? wanted.map((name) => planes.find((p) => p.name === name)).filter((p) => p !== undefined)
    : planes
  return { dataWindow: window, displayWindow: window, planes: given }
}

const bytesPerLine = ({ width, channels, bits, packing, linePadding }: DpxHeader) =>
  lineBytes(width * channels.length, bits, packing) + linePadding

/** @returns which bytes of the file hold the window's lines */
export function dpxLines(
  header: DpxHeader,
  { y, height }: Pick<Window, 'y' | 'height'>,
): { readonly offset: number; readonly length: number } {
  const perLine = bytesPerLine(header)
  return { offset: header.dataOffset + y * perLine, length: Math.max(0, height * perLine - header.linePadding) }
}

/**
 * @param bytes from the window's first line on
 * @param window inside the picture
 * @returns all channels as shares of the largest code value, cut to the window
 * @throws DamagedDpxError when the bytes end before the lines do
 */
export function readDpxLines(
  bytes: Uint8Array,
  header: DpxHeader,
  window: Window,
  file: string,
): (Plane & { readonly samples: Float32Array })[] {
  const { width, channels, bits } = header
  const perLine = bytesPerLine(header)
  if (bytes.length < dpxLines(header, window).length)
    throw new DamagedDpxError(
      file,
      `it ends after ${window.y + Math.floor(bytes.length / perLine)} of its ${header.height} lines`,
    )
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const planes = channels.map((name) => ({
    name,
    type: 'float' as const,
    samples: new Float32Array(window.width * window.height),
  }))
  const line = new Uint16Array(width * channels.length)
  const shares = Float32Array.from({ length: 2 ** bits }, (_, code) => code / (2 ** bits - 1))
  for (let y = 0; y < window.height; y++) {
    unpackLine(view, y * perLine, line, header)
    planes.forEach(({ samples }, c) => {
      const end = (y + 1) * window.width
      for (let o = y * window.width, i = window.x * channels.length + c; o < end; i += channels.length, o++)
        samples[o] = shares[line[i]]
    })
  }
  return planes
}

export interface WriteDpxOptions {
  readonly bits: Bits
  readonly packing?: Packing
  readonly littleEndian?: boolean
  readonly transfer?: Transfer
  readonly rate?: number
  readonly pixelAspect?: number
}

const descriptors = { 1: 6, 3: 50, 4: 51 } as const

/**
 * @param planes one, three or four planes of shares 0..1 of the largest code value; what lies outside is held to it
 * @throws RangeError for any other number of planes
 */
export function writeDpx(
  { width, height }: { readonly width: number; readonly height: number },
  planes: readonly Float32Array[],
  options: WriteDpxOptions,
): Uint8Array {
  const { bits, packing = 'filled-a', littleEndian = false, transfer = 'user', rate, pixelAspect = 1 } = options
  const channels = planes.length
  if (channels !== 1 && channels !== 3 && channels !== 4)
    throw new RangeError(`A DPX file takes one, three or four channels, not ${channels}.`)
  const perLine = lineBytes(width * channels, bits, packing)
  const bytes = new Uint8Array(headerBytes + perLine * height)
  const view = new DataView(bytes.buffer)
  writeHeader(view, { width, height, bits, packing, littleEndian, transfer, rate, pixelAspect, channels })
  const most = 2 ** bits - 1
  const line = new Uint16Array(width * channels)
  for (let y = 0; y < height; y++) {
    planes.forEach((plane, c) => {
      for (let x = 0, i = c, o = y * width; x < width; x++, i += channels, o++)
        line[i] = Math.round(Math.min(1, Math.max(0, plane[o])) * most)
    })
    packLine(view, headerBytes + y * perLine, line, { bits, packing, littleEndian })
  }
  return bytes
}

function writeHeader(
  view: DataView,
  given: Required<Omit<WriteDpxOptions, 'rate'>> & {
    rate?: number
    width: number
    height: number
    channels: 1 | 3 | 4
  },
): void {
  const { littleEndian, width, height, bits, packing, channels } = given
  const word = (at: number, value: number) => view.setUint32(at, value, littleEndian)
  const text = (at: number, value: string) => [...value].forEach((c, i) => view.setUint8(at + i, c.charCodeAt(0)))
  // What is not said below is undefined, and numbers say so by having all bits set.
  for (let at = offsets.element; at < 1408; at += 4) word(at, undefinedWord)
  for (let at = 1408; at < 1432; at += 4) word(at, undefinedWord)
  for (let at = 1712; at < 1732; at += 4) word(at, undefinedWord)
  for (let at = 1920; at < 1972; at += 4) word(at, undefinedWord)
  word(0, magic)
  word(offsets.imageData, headerBytes)
  text(offsets.version, 'V2.0')
  word(offsets.fileSize, view.byteLength)
  word(offsets.ditto, 1)
  word(offsets.genericSize, 1664)
  word(offsets.industrySize, 384)
  word(offsets.userSize, 0)
  text(offsets.creator, 'Enkrasis')
  word(offsets.encryption, undefinedWord)
  view.setUint16(offsets.orientation, 0, littleEndian)
  view.setUint16(offsets.elements, 1, littleEndian)
  word(offsets.width, width)
  word(offsets.lines, height)
  const at = (field: keyof typeof elementOffsets) => offsets.element + elementOffsets[field]
  word(at('sign'), 0)
  const log = given.transfer === 'density' || given.transfer === 'log'
  word(at('lowData'), log && bits === 10 ? 95 : 0)
  word(at('highData'), log && bits === 10 ? 685 : 2 ** bits - 1)
  view.setUint8(at('descriptor'), descriptors[channels])
  view.setUint8(at('transfer'), transferCharacteristics[given.transfer])
  view.setUint8(at('colorimetric'), transferCharacteristics[given.transfer])
  view.setUint8(at('bits'), bits)
  view.setUint16(at('packing'), ['packed', 'filled-a', 'filled-b'].indexOf(packing), littleEndian)
  view.setUint16(at('encoding'), 0, littleEndian)
  word(at('data'), headerBytes)
  word(at('endOfLinePadding'), 0)
  word(offsets.originalWidth, width)
  word(offsets.originalHeight, height)
  const aspect = Math.round(given.pixelAspect * 1000)
  word(offsets.pixelAspect, aspect === 1000 ? 1 : aspect)
  word(offsets.pixelAspect + 4, aspect === 1000 ? 1 : 1000)
  if (given.rate !== undefined) {
    view.setFloat32(offsets.filmRate, given.rate, littleEndian)
    view.setFloat32(offsets.televisionRate, given.rate, littleEndian)
  }
}
