/** An engine for a command, with the threads that read for it. */

import { basename, dirname } from 'node:path'
import type { LoadBounds, LoadFrame } from '../../core/engine/source-frame'
import type { FrameRequest } from '../../core/graph/steps'
import { nodeEngine } from '../engine/node-engine'
import { useKernelsForBlocks } from '../media/exr-blocks'
import { readSourceBounds, readSourceFrame, type MediaPlace } from '../media/read-frame'

const leastMegabytes = 64

export interface EngineOptions {
  readonly threads: number
  /** megabytes; pages that are never used cost nothing, pictures that do not fit are made in bands */
  readonly memory: number
  /** folder of the built programs */
  readonly built: URL
}

/** Where a request's file may be read. */
export type PlaceFor = (request: FrameRequest) => { readonly place: MediaPlace; readonly request: FrameRequest }

/** Any file by its whole path; the command line may read what its user may read. */
export const anywhere: PlaceFor = (request) => ({
  place: { roots: [dirname(request.path)], folder: dirname(request.path) },
  request: { ...request, path: basename(request.path) },
})

/**
 * @param several whether there are enough files for threads that read them; one alone is read here, sooner than a thread starts
 * @throws Error when the memory is too small for an engine
 */
export async function startEngine({ threads, memory, built }: EngineOptions, placeFor: PlaceFor, several: boolean) {
  useKernelsForBlocks(built)
  if (memory < leastMegabytes)
    throw new Error(`${memory} MB of working memory are too few for an engine. Give it ${leastMegabytes} or more.`)
  const readers = several ? await threadsThatRead(built, threads) : null
  const load: LoadFrame = (wanted, signal, window) => {
    const { place, request } = placeFor(wanted)
    return readers ? readers.read(place, request, signal, window) : readSourceFrame(place, request, window)
  }
  const bounds: LoadBounds = (wanted, signal) => {
    const { place, request } = placeFor(wanted)
    return readers ? readers.bounds(place, request, signal) : readSourceBounds(place, request)
  }
  const engine = nodeEngine({ load, bounds, threads, memoryBytes: memory * 2 ** 20, built })
  const close = async () => {
    engine.close()
    await readers?.close()
  }
  return { engine, close, readers }
}

async function threadsThatRead(built: URL, threads: number) {
  const { FrameReaders } = await import('../media/frame-readers')
  return new FrameReaders(new URL('frame-reader.mjs', built), threads)
}
