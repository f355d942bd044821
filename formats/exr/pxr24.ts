/** PXR24: floats rounded to 24 bits when written; then every line's bytes by significance, as differences, deflated. */

import { BadBlock, blockBytes, type BlockShape } from './layout'

/** @param inflated the block after zlib, see {@link pxr24Bytes} for its length */
export function unpackPxr24(inflated: Uint8Array, shape: BlockShape): Uint8Array {
  if (inflated.length !== pxr24Bytes(shape)) throw new BadBlock('it has the wrong length')
  const out = new Uint8Array(blockBytes(shape))
  const view = new DataView(out.buffer)
  const n = shape.width
  let at = 0
  let to = 0
  for (let line = 0; line < shape.lines; line++) {
    for (const channel of shape.channels) {
      let value = 0
      if (channel.type === 'half') {
        for (let i = 0; i < n; i++, to += 2) {
          value = (value + ((inflated[at + i] << 8) | inflated[at + n + i])) & 0xffff
          view.setUint16(to, value, true)
        }
        at += 2 * n
      } else if (channel.type === 'float') {
        for (let i = 0; i < n; i++, to += 4) {
          const difference = (inflated[at + i] << 24) | (inflated[at + n + i] << 16) | (inflated[at + 2 * n + i] << 8)
          value = (value + difference) | 0
          view.setUint32(to, value >>> 0, true)
        }
        at += 3 * n
      } else {
        for (let i = 0; i < n; i++, to += 4) {
          const difference =
            (inflated[at + i] << 24) |
            (inflated[at + n + i] << 16) |
            (inflated[at + 2 * n + i] << 8) |
            inflated[at + 3 * n + i]
          value = (value + difference) | 0
          view.setUint32(to, value >>> 0, true)
        }
        at += 4 * n
      }
    }
  }
  return out
}

/** Bytes of a block before zlib: 2 for a half, 3 for a float, 4 for an integer. */
export function pxr24Bytes(shape: BlockShape): number {
  let perLine = 0
  for (const channel of shape.channels) {
    perLine += shape.width * (channel.type === 'half' ? 2 : channel.type === 'float' ? 3 : 4)
  }
  return perLine * shape.lines
}
