/** What the witnesses of a shot read, and what its checks measured, on every frame, as the server tells it. */

import type { SideReading } from '../match'
import type { KeptFacts } from './frame-facts'

export interface KeptReading {
  /** of what was read: another key, another reading */
  readonly key: string
  readonly reference: SideReading | null
  readonly adjusted: SideReading | null
  /** what kept it from being read */
  readonly why?: string
}

/** Frames that are read, of how many. */
export interface FramesRead {
  readonly done: number
  readonly total: number
}

export interface ShotReadings {
  /** none of none where nobody asked yet */
  readonly progress: { readonly witnesses: FramesRead; readonly checks: FramesRead }
  /** by frame, then by witness */
  readonly frames: Readonly<Record<string, Readonly<Record<string, KeptReading>>>>
  /** what the checks measured, by frame */
  readonly facts: Readonly<Record<string, KeptFacts>>
}
