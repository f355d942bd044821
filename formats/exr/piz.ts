/** PIZ: the words that occur renumbered, a wavelet over every channel, then Huffman codes. */

import { decodeHuffman, encodeHuffman } from './huffman'
import { BadBlock, blockBytes, type BlockShape } from './layout'
import { decodeWavelet, encodeWavelet } from './wavelet'

const bitmapBytes = 8192

/** Each channel's words lie together inside PIZ, but line by line in the block. */
function forEachRun(shape: BlockShape, visit: (planar: number, inLines: number, words: number) => void): void {
  const perChannel = shape.channels.map((channel) => shape.width * (channel.type === 'half' ? 1 : 2))
  let inLines = 0
  const starts: number[] = []
  let start = 0
  for (const words of perChannel) {
    starts.push(start)
    start += words * shape.lines
  }
  for (let line = 0; line < shape.lines; line++) {
    perChannel.forEach((words, c) => {
      visit(starts[c] + line * words, inLines, words)
      inLines += words
    })
  }
}

function forEachPlane(shape: BlockShape, visit: (start: number, step: number) => void): void {
  let start = 0
  for (const channel of shape.channels) {
    const step = channel.type === 'half' ? 1 : 2
    for (let part = 0; part < step; part++) visit(start + part, step)
    start += shape.width * shape.lines * step
  }
}

export function unpackPiz(packed: Uint8Array, shape: BlockShape): Uint8Array {
  if (packed.length < 8) throw new BadBlock('its table of used values is cut')
  const view = new DataView(packed.buffer, packed.byteOffset, packed.byteLength)
  const firstByte = view.getUint16(0, true)
  const lastByte = view.getUint16(2, true)
  if (lastByte >= bitmapBytes) throw new BadBlock('its table of used values is impossible')
  const bitmap = new Uint8Array(bitmapBytes)
  let at = 4
  if (firstByte <= lastByte) {
    const length = lastByte - firstByte + 1
    if (at + length + 4 > packed.length) throw new BadBlock('its table of used values is cut')
    bitmap.set(packed.subarray(at, at + length), firstByte)
    at += length
  }
  const table = new Uint16Array(65536)
  let used = 0
  for (let value = 0; value < 65536; value++) {
    if (value === 0 || bitmap[value >> 3] & (1 << (value & 7))) table[used++] = value
  }
  const length = view.getInt32(at, true)
  at += 4
  if (length < 0 || at + length > packed.length) throw new BadBlock('its codes are cut')
  const count = blockBytes(shape) >> 1
  const planar = decodeHuffman(packed.subarray(at, at + length), count)
  forEachPlane(shape, (start, step) =>
    decodeWavelet(planar, { start, width: shape.width, height: shape.lines, step, largest: used - 1 }),
  )
  const words = new Uint16Array(count)
  forEachRun(shape, (from, to, n) => {
    for (let i = 0; i < n; i++) words[to + i] = table[planar[from + i]]
  })
  return new Uint8Array(words.buffer)
}

export function packPiz(raw: Uint8Array, shape: BlockShape): Uint8Array {
  const words = new Uint16Array(raw.slice().buffer)
  const bitmap = new Uint8Array(bitmapBytes)
  for (const word of words) bitmap[word >> 3] |= 1 << (word & 7)
  bitmap[0] &= 254
  const index = new Uint16Array(65536)
  let used = 0
  for (let value = 0; value < 65536; value++) {
    if (value === 0 || bitmap[value >> 3] & (1 << (value & 7))) index[value] = used++
  }
  const planar = new Uint16Array(words.length)
  forEachRun(shape, (to, from, n) => {
    for (let i = 0; i < n; i++) planar[to + i] = index[words[from + i]]
  })
  forEachPlane(shape, (start, step) =>
    encodeWavelet(planar, { start, width: shape.width, height: shape.lines, step, largest: used - 1 }),
  )
  let firstByte = 0
  while (firstByte < bitmapBytes && bitmap[firstByte] === 0) firstByte++
  let lastByte = bitmapBytes - 1
  while (lastByte > 0 && bitmap[lastByte] === 0) lastByte--
  const anyUsed = firstByte < bitmapBytes
  const table = anyUsed ? bitmap.subarray(firstByte, lastByte + 1) : new Uint8Array(0)
  const codes = encodeHuffman(planar)
  const out = new Uint8Array(8 + table.length + codes.length)
  const view = new DataView(out.buffer)
  view.setUint16(0, anyUsed ? firstByte : bitmapBytes - 1, true)
  view.setUint16(2, anyUsed ? lastByte : 0, true)
  out.set(table, 4)
  view.setUint32(4 + table.length, codes.length, true)
  out.set(codes, 8 + table.length)
  return out
}
