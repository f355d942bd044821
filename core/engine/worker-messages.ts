/** What the engine and its workers say to each other. One message starts a job on a worker, one ends it. */

import type { Window } from '../image/window'
import type { ViewSettings } from '../kernels/kernels'
import type { Step } from '../plan/steps'
import type { ResidentFrames } from './evaluate'

export type Output =
  /** premultiplied RGBA floats */
  | { readonly kind: 'light' }
  /** 8-bit RGBA as the eye should see it */
  | { readonly kind: 'view'; readonly view: ViewSettings }

export interface TileJob {
  readonly id: number
  readonly step: Step
  readonly window: Window
  readonly frames: ResidentFrames
  readonly output: Output
  /** byte address of the whole window's output, row by row */
  readonly address: number
  /** byte address of two words: the next tile to take, and a flag that says stop */
  readonly control: number
}

export type ToWorker =
  | {
      readonly kind: 'start'
      readonly memory: WebAssembly.Memory
      readonly scratch: number
      readonly scratchBytes: number
    }
  | { readonly kind: 'job'; readonly job: TileJob }

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

export const tileWidth = 256
export const tileHeight = 64
/** A tile, and what landings nested in it hold at once. */
export const scratchBytes = tileWidth * tileHeight * 16 * 6
