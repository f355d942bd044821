/** What this machine brings for the compressed blocks of EXR files: zlib, and the kernels that put bytes in order. */

import { readFileSync } from 'node:fs'
import { promisify } from 'node:util'
import { deflate as deflateCallback, inflateSync, type ZlibOptions } from 'node:zlib'
import { byteReordering } from '../../core/kernels/byte-planes'
import { plainReordering, type ByteReordering, type Deflate, type Inflate } from '../../formats/exr'

const deflateAsync = promisify<Uint8Array, ZlibOptions, Buffer>(deflateCallback)

/**
 * Frames are read on threads of their own, so this holds up nobody. One chunk for the whole block, since zlib's usual
 * 16 kB chunks cost more than the inflating. More than `size` bytes out of a stream is an error.
 */
export const inflate: Inflate = (bytes, size) =>
  inflateSync(bytes, { maxOutputLength: Math.max(1, size), chunkSize: Math.max(64, size) })

/** On zlib's own threads. Level 4: on grainy plates higher levels cost much time for a percent of size. */
export const deflate: Deflate = (bytes) => deflateAsync(bytes, { level: 4, chunkSize: Math.max(1024, bytes.length) })

let present = plainReordering

/**
 * From now on this thread's blocks are put in order by the kernels: the same bytes, many times faster.
 *
 * @param built folder of the built programs; the kernels lie beside it
 */
export function useKernelsForBlocks(built: URL): void {
  present = byteReordering(new WebAssembly.Module(readFileSync(new URL('../kernels/kernels.wasm', built))))
}

const reordering: ByteReordering = {
  gather: (stored) => present.gather(stored),
  spread: (raw) => present.spread(raw),
}

export const unpacking = { inflate, reordering }
export const packing = { deflate, reordering }
