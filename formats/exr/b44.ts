/** B44 and B44A: halves in blocks of 4x4 samples, 14 bytes each, 3 where a block is flat; other types as they are. */

import { floatToHalf, halfToFloat } from '../../core/image/half'
import { BadBlock, blockBytes, bytesPerLine, type BlockShape } from './layout'

const block = new Uint16Array(16)
const flatMark = 13 << 2
let logarithms: Uint16Array | null = null

/** For channels stored as `exp(x / 8)`: back to `8 * ln(x)`, rounded to half. */
function logarithmTable(): Uint16Array {
  if (logarithms) return logarithms
  logarithms = new Uint16Array(65536)
  for (let h = 0; h < 65536; h++) {
    const value = halfToFloat(h)
    logarithms[h] = !Number.isFinite(value) || value < 0 ? 0 : floatToHalf(8 * Math.log(value))
  }
  return logarithms
}

/** Sign and magnitude were stored so that they order like unsigned integers. */
function restoreSign(word: number): number {
  return word & 0x8000 ? word & 0x7fff : ~word & 0xffff
}

function unpackBlock(b: Uint8Array, at: number): number {
  if (at + 3 > b.length) throw new BadBlock('a 4x4 block is cut')
  const first = (b[at] << 8) | b[at + 1]
  if (b[at + 2] >= flatMark) {
    block.fill(restoreSign(first))
    return 3
  }
  if (at + 14 > b.length) throw new BadBlock('a 4x4 block is cut')
  const shift = b[at + 2] >> 2
  const bias = 0x20 << shift
  // 15 differences of 6 bits follow the shift, most significant bit first: down the first column, then along the rows.
  let bit = at * 8 + 22
  const difference = () => {
    const byte = bit >> 3
    const word = (b[byte] << 8) | (b[byte + 1] ?? 0)
    const six = (word >> (10 - (bit & 7))) & 63
    bit += 6
    return (six << shift) - bias
  }
  block[0] = first
  for (let y = 1; y < 4; y++) block[4 * y] = block[4 * y - 4] + difference()
  for (let x = 1; x < 4; x++) for (let y = 0; y < 4; y++) block[4 * y + x] = block[4 * y + x - 1] + difference()
  for (let i = 0; i < 16; i++) block[i] = restoreSign(block[i])
  return 14
}

export function unpackB44(packed: Uint8Array, shape: BlockShape): Uint8Array {
  const out = new Uint8Array(blockBytes(shape))
  const view = new DataView(out.buffer)
  const lineBytes = bytesPerLine(shape)
  let at = 0
  let channelStart = 0
  for (const channel of shape.channels) {
    const width = shape.width
    if (channel.type !== 'half') {
      for (let y = 0; y < shape.lines; y++) {
        if (at + width * 4 > packed.length) throw new BadBlock('a channel is cut')
        out.set(packed.subarray(at, at + width * 4), y * lineBytes + channelStart)
        at += width * 4
      }
      channelStart += width * 4
      continue
    }
    const table = channel.perceptuallyLinear ? logarithmTable() : null
    for (let y = 0; y < shape.lines; y += 4) {
      for (let x = 0; x < width; x += 4) {
        at += unpackBlock(packed, at)
        const rows = Math.min(4, shape.lines - y)
        const columns = Math.min(4, width - x)
        for (let j = 0; j < rows; j++) {
          for (let i = 0; i < columns; i++) {
            const word = block[4 * j + i]
            view.setUint16((y + j) * lineBytes + channelStart + (x + i) * 2, table ? table[word] : word, true)
          }
        }
      }
    }
    channelStart += width * 2
  }
  if (at !== packed.length) throw new BadBlock('it has the wrong length')
  return out
}
