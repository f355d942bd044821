/** What the engine and its workers say to each other. One message starts work on a worker, one ends it. */

import type { Phase } from './program'

export interface PhaseJob {
  readonly id: number
  /** one phase whose tiles are shared; or several, all small, that one worker runs one after the other as a single tile */
  readonly phases: readonly Phase[]
  /**
   * byte address of words that all workers share: the next tile to take, a flag that says stop, then one word a tile: 0
   * untouched, 1 taken, 2 done
   */
  readonly control: number
  /** tiles to do besides those that are still to be taken: a worker that had taken them is gone */
  readonly redo: readonly number[]
}

export const controlWords = 2
export const tileDone = 2

export type ToWorker =
  | {
      readonly kind: 'start'
      readonly module: WebAssembly.Module
      readonly memory: WebAssembly.Memory
      /** the worker's own piece of memory, `workBytes` long */
      readonly work: number
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
