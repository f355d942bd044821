/** The kernels that put bytes of EXR blocks in order, over a memory of their own that grows with the blocks. */

import { firstFreeByte } from './kernels'

/** What formats/exr takes for it. */
export interface ByteReordering {
  /** @returns the bytes as they are meant; they stand until the next call */
  gather(stored: Uint8Array): Uint8Array
  /** @returns the bytes ready for the entropy coder */
  spread(raw: Uint8Array): Uint8Array
}

const pageBytes = 65536
const alignment = 64

/** @param module compiled from the built kernels.wasm */
export function byteReordering(module: WebAssembly.Module): ByteReordering {
  const memory = new WebAssembly.Memory({ initial: 2, maximum: 65536, shared: true })
  const { gatherBytes, spreadBytes } = new WebAssembly.Instance(module, { env: { memory } }).exports as {
    [name in 'gatherBytes' | 'spreadBytes']: (to: number, from: number, count: number) => void
  }
  const through = (reorder: typeof gatherBytes) => (bytes: Uint8Array) => {
    const to = firstFreeByte + Math.ceil(bytes.length / alignment) * alignment
    const missing = to + bytes.length - memory.buffer.byteLength
    if (missing > 0) memory.grow(Math.ceil(missing / pageBytes))
    new Uint8Array(memory.buffer, firstFreeByte, bytes.length).set(bytes)
    reorder(to, firstFreeByte, bytes.length)
    return new Uint8Array(memory.buffer, to, bytes.length)
  }
  const spread = through(spreadBytes)
  // Packing goes on while others are reordered.
  return { gather: through(gatherBytes), spread: (raw) => spread(raw).slice() }
}
