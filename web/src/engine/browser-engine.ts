/** The engine on web workers. */

import { Engine } from '../../../core/engine/engine'
import type { LoadFrame } from '../../../core/engine/source-frame'
import type { FromWorker, WorkerPort } from '../../../core/engine/worker-messages'
import kernels from '../../../dist/kernels/kernels.wasm?url'

const memoryBytes = 768 * 2 ** 20
const pageBytes = 65536
const mostWorkers = 8

/** The page may not share memory between workers. */
export class NotIsolatedError extends Error {
  override readonly name = 'NotIsolatedError'
}

/**
 * @throws NotIsolatedError when the server did not send the isolation headers; what fetching and compiling the kernels
 *   throws
 */
export async function browserEngine(load: LoadFrame): Promise<Engine> {
  if (!globalThis.crossOriginIsolated) {
    throw new NotIsolatedError(
      'This page may not share memory, so no picture can be made. Open it at the address that the server printed, on localhost or over https.',
    )
  }
  const pages = memoryBytes / pageBytes
  const memory = new WebAssembly.Memory({ initial: pages, maximum: pages, shared: true })
  const module = await WebAssembly.compileStreaming(fetch(kernels))
  const workers = Math.max(1, Math.min(mostWorkers, navigator.hardwareConcurrency))
  const engine = new Engine({ module, memory, load, workers, spawn: workerPort })
  engine.startWorkers()
  return engine
}

function workerPort(): WorkerPort {
  const worker = new Worker(new URL('./engine-worker.ts', import.meta.url), { type: 'module' })
  return {
    post: (message) => worker.postMessage(message),
    onMessage: (listener) =>
      worker.addEventListener('message', (event: MessageEvent<FromWorker>) => listener(event.data)),
    onFailure: (listener) => worker.addEventListener('error', (event) => listener(`a worker failed: ${event.message}`)),
    terminate: () => worker.terminate(),
  }
}
