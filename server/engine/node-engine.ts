/** The engine on Node's worker threads. */

import { Worker } from 'node:worker_threads'
import { Engine } from '../../core/engine/engine'
import type { LoadFrame } from '../../core/engine/source-frame'
import type { FromWorker, ToWorker, WorkerPort } from '../../core/engine/worker-messages'

export interface NodeEngineOptions {
  readonly load: LoadFrame
  readonly threads: number
  /** bytes of the shared memory; pages that are never used cost nothing */
  readonly memoryBytes: number
  /** the built `engine-worker.mjs` */
  readonly workerFile: URL
}

const pageBytes = 65536

export function nodeEngine({ load, threads, memoryBytes, workerFile }: NodeEngineOptions): Engine {
  const pages = Math.ceil(memoryBytes / pageBytes)
  const memory = new WebAssembly.Memory({ initial: pages, maximum: pages, shared: true })
  return new Engine({
    memory,
    load,
    workers: Array.from({ length: threads }, () => threadPort(new Worker(workerFile))),
  })
}

function threadPort(worker: Worker): WorkerPort {
  worker.unref()
  return {
    post: (message: ToWorker) => worker.postMessage(message),
    onMessage: (listener) => worker.on('message', (message: FromWorker) => listener(message)),
    onFailure: (listener) => {
      worker.on('error', (error) => listener(`A worker of the engine failed: ${error.message}.`))
      worker.on('exit', (code) => code !== 0 && listener(`A worker of the engine ended with code ${code}.`))
    },
    terminate: () => void worker.terminate(),
  }
}
