/** For the tests: an engine whose workers run in the same thread. */

import { Engine } from '../engine/engine'
import type { LoadBounds } from '../engine/source-frame'
import { tileWorker } from '../engine/worker'
import type { FromWorker, WorkerPort } from '../engine/worker-messages'
import { builtKernels, sharedMemory } from './kernels'
import { loadMadeUp } from './small-shot'

/** A worker that answers on the next turn of the event loop, in the same thread. */
export function localWorker(): WorkerPort {
  const listeners: ((message: FromWorker) => void)[] = []
  const receive = tileWorker((message) => listeners.forEach((listener) => listener(message)))
  return {
    post: (message) => void setImmediate(() => receive(message)),
    onMessage: (listener) => void listeners.push(listener),
    onFailure: () => undefined,
    terminate: () => undefined,
  }
}

/** @param bounds where files' headers say that their pixels lie; with it, small windows bring parts of frames */
export function localEngine(
  workers: number,
  load = loadMadeUp,
  megabytes = 32,
  spawn = localWorker,
  bounds?: LoadBounds,
): Engine {
  return new Engine({ module: builtKernels(), memory: sharedMemory(megabytes), load, bounds, workers, spawn })
}
