/** What the engine and its workers say to each other. One message starts work on a worker, one ends it. */

import type { Phase } from './program'

export interface PhaseJob {
  readonly id: number
  readonly phases: readonly Phase[]
  /** byte address of the words by which the tiles are shared; null: all phases are this worker's alone */
  readonly control: number | null
}

export type ToWorker =
  | {
      readonly kind: 'start'
      readonly module: WebAssembly.Module
      readonly memory: WebAssembly.Memory
      /** the worker's own piece of memory, `workBytes` long */
      readonly work: number
      /** which of the workers it is; a dead one's successor has its number */
      readonly number: number
    }
  | { readonly kind: 'work'; readonly job: PhaseJob }

export type FromWorker =
  | { readonly kind: 'ready' }
  | { readonly kind: 'done'; readonly id: number }
  | { readonly kind: 'failed'; readonly id: number; readonly message: string }

/** A web worker or a Node worker thread, as the engine sees it. */
export interface WorkerPort {
  post(message: ToWorker): void
  onMessage(listener: (message: FromWorker) => void): void
  onFailure(listener: (reason: string) => void): void
  terminate(): void
}

/** Strips, packed rows and weights of the deepest graphs, and what the kernels work in. */
export const workBytes = 2 * 2 ** 20
