/** Entry of a frame-reading thread. */

import { move, transferableSymbol, valueSymbol } from 'piscina'

import type { ReadResult, ReadTask } from './media/frame-readers'
import { readSourceFrame } from './media/read-frame'

/** What piscina takes as a result that hands buffers over. */
interface Transferable {
  readonly [transferableSymbol]: object
  readonly [valueSymbol]: object
}

export default async function read({ place, request }: ReadTask): Promise<ReadResult> {
  try {
    const frame = await readSourceFrame(place, request)
    // Handing the buffers over costs nothing; planes that share one hand it over once.
    const buffers = [...new Set(frame.planes.map((plane) => plane.samples.buffer))]
    const result: Transferable = { [transferableSymbol]: buffers, [valueSymbol]: { frame } }
    return move(result) as unknown as ReadResult
  } catch (error) {
    if (!(error instanceof Error)) throw error
    return { failure: { name: error.name, message: error.message } }
  }
}
