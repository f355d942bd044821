/** The engine on Node's worker threads. */

import { readFileSync } from 'node:fs'
import { Worker } from 'node:worker_threads'
import { Engine } from '../../core/engine/engine'
import type { LoadBounds, LoadFrame } from '../../core/engine/source-frame'
import type { FromWorker, ToWorker, WorkerPort } from '../../core/engine/worker-messages'

export interface NodeEngineOptions {
  readonly load: LoadFrame
  /** with it, small windows bring only the parts of frames that they are made of */
  readonly bounds?: LoadBounds
  readonly threads: number
  /** bytes of the shared memory; pages that are never used cost nothing */
  readonly memoryBytes: number
  /** folder of the built programs, with `engine-worker.mjs`; the kernels lie beside it */
  readonly built: URL
}

const pageBytes = 65536

export function nodeEngine({ load, bounds, threads, memoryBytes, built }: NodeEngineOptions): Engine {
  const pages = Math.ceil(memoryBytes / pageBytes)
  return new Engine({
    module: new WebAssembly.Module(readFileSync(new URL('../kernels/kernels.wasm', built))),
    memory: new WebAssembly.Memory({ initial: pages, maximum: pages, shared: true }),
    load,
    bounds,
    workers: threads,
    spawn: () => threadPort(new Worker(new URL('engine-worker.mjs', built))),
  })
}

/** A worker thread as the engine sees it. */
export function threadPort(worker: Worker): WorkerPort {
  worker.unref()
  return {
    post: (message: ToWorker) => worker.postMessage(message),
    onMessage: (listener) => worker.on('message', (message: FromWorker) => listener(message)),
    onFailure: (listener) => {
      worker.on('error', (error) => listener(`a worker failed: ${error.message}`))
      // Workers never end by themselves.
      worker.on('exit', (code) => listener(`a worker ended with code ${code}`))
    },
    terminate: () => void worker.terminate(),
  }
}
