/** DPX files (SMPTE ST 268-1): read and write, without touching a disk. */

export { DamagedDpxError, UnsupportedDpxError } from './errors'
export {
  readDpxHeader,
  headerBytes as dpxHeaderBytes,
  type Bits,
  type DpxHeader,
  type Packing,
  type Transfer,
} from './header'
export { readDpx, dpxLines, readDpxLines, writeDpx, type WriteDpxOptions } from './dpx'
