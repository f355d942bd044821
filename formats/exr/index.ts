/** OpenEXR files: read and write, without touching a disk. */

export { readExrHeader, bytesSource, type ByteSource, type ExrHeader } from './header'
export { readExr, type ReadCost, type ReadExrOptions } from './read'
export { writeExr, type ExrPartToWrite, type WriteExrOptions, type WritableCompression } from './write'
export { standardAttributes, text, words, type StandardAttributes, type Chromaticities } from './attributes'
export { DamagedExrError, NotInExrError, UnsupportedExrError } from './errors'
export type { ExrPart, ExrChannel, Compression, Inflate, Deflate, RawAttribute } from './layout'
export { streamInflate } from './stream-inflate'
export { plainReordering, type ByteReordering } from './byte-planes'
