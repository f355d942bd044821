/** Entry of a frame-reading thread. */

import { move, transferableSymbol, valueSymbol } from 'piscina'

import type { ReadResult, ReadTask } from './media/frame-readers'
import { useKernelsForBlocks } from './media/exr-blocks'
import { readSourceBounds, readSourceFrame } from './media/read-frame'

useKernelsForBlocks(new URL('.', import.meta.url))

/** What piscina takes as a result that hands buffers over. */
interface Transferable {
  readonly [transferableSymbol]: object
  readonly [valueSymbol]: object
}

export default async function read({ place, request, window, boundsOnly }: ReadTask): Promise<ReadResult> {
  try {
    if (boundsOnly) return { bounds: await readSourceBounds(place, request) }
    const cost = { bytesRead: 0, blocks: 0, bytesUnpacked: 0, samples: 0 }
    const frame = await readSourceFrame(place, request, window, cost)
    // Handing the buffers over costs nothing; planes that share one hand it over once.
    const buffers = [...new Set(frame.planes.map((plane) => plane.samples.buffer))]
    const result: Transferable = { [transferableSymbol]: buffers, [valueSymbol]: { frame, cost } }
    return move(result) as unknown as ReadResult
  } catch (error) {
    if (!(error instanceof Error)) throw error
    return { failure: { name: error.name, message: error.message } }
  }
}
