/** What workers of the stand-in camera are asked for. */

import type { ShotPlace } from './shot-files'

export interface WorkerSetUp extends ShotPlace {
  readonly seed: number
  readonly firstFrame: number
  /** shared: the far scene with and without bollard and rope; empty where the camera moves */
  readonly pixels: SharedArrayBuffer
  readonly cleanPixels: SharedArrayBuffer
}

export type Task =
  | { readonly kind: 'rows'; readonly first: number; readonly last: number; readonly withFront: boolean }
  | { readonly kind: 'frame'; readonly frame: number }
  | { readonly kind: 'clean' }
  | { readonly kind: 'reference'; readonly guest: 'ball' | 'chart'; readonly frame: number }

/** Makes what a shot is asked for. */
export interface ShotMaker {
  rows(first: number, last: number, withFront: boolean): void
  frame(number: number): Promise<void>
  clean(): Promise<void>
  reference(guest: 'ball' | 'chart', number: number): Promise<void>
}
