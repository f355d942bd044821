/**
 * Work of the kind `tracking`: a point or a region of a shot's plate is followed. One item; what it found becomes an edit of the shot, whether or not
 * anybody still watches. An edit that the watching tab sent itself counts once.
 */

import type { EventEmitter } from 'node:events'
import { setImmediate as othersTurn } from 'node:timers/promises'
import { array, number, object, string } from 'yup'
import type { Engine } from '../../core/engine/engine'
import type { Window } from '../../core/image/window'
import {
  cornerCount,
  followRegion,
  followTrack,
  leftOutOf,
  lensOver,
  trackSchema,
  type CornersFound,
  type SetTrackPoints,
  type Stretch,
  type Together,
  type Track,
} from '../../core/shot'
import type { ShotStore } from '../shots/shot-store'
import type { ShotsNow } from '../shots/shots-now'
import { isOver } from '../../core/work'
import type { WorkKind } from '../work/kind'
import type { WorkStore } from '../work/work-store'
import { plateLight } from './plate-light'

export interface TrackWorkOptions {
  readonly shots: ShotsNow
  readonly store: ShotStore
  readonly work: WorkStore
  /** an engine that reads from the shot's folder */
  readonly engineFor: (shotFolder: string) => Engine
  readonly news: TrackingNews
}

/** What is found on a frame, by the id of the edit that it will be: for whoever watches in this process. */
export type TrackingNews = EventEmitter<Record<string, [frame: number, points: CornersFound]>>

export interface TrackItem {
  readonly edit: SetTrackPoints | Together
}

const frame = () => number().strict().integer().required()
/** What is tracked: a point, or a region by all of its corners. */
export const trackingShape = {
  track: trackSchema,
  stretches: array(object({ from: frame(), to: frame() }))
    .max(10_000)
    .required(),
  /** all corners of the region whose corner the track is */
  corners: array(trackSchema).length(cornerCount).optional().default(undefined),
}
/** As which edit it is kept. */
export const asEditShape = {
  id: string().strict().uuid().required(),
  tab: string().strict().min(1).max(64).required(),
  baseRevision: number().strict().integer().min(0).required(),
  author: string().trim().max(100),
  colour: string().strict().max(20),
}
const inputOfWork = object({
  shot: string().required(),
  as: object(asEditShape).required(),
  ...trackingShape,
})

export interface TrackingAsked {
  readonly track: Track
  readonly stretches: readonly Stretch[]
  readonly corners?: readonly Track[]
}

export function trackWork({ shots, store, work, engineFor, news }: TrackWorkOptions): WorkKind<unknown, TrackItem> {
  return {
    kind: 'tracking',
    async run(input, _item, { signal, progress }) {
      const { shot: id, as, ...asked } = inputOfWork.validateSync(input)
      const { track, stretches, corners } = asked as unknown as TrackingAsked
      const { row, shot, files } = await shots.of(id)
      const total = stretches.reduce((sum, { from, to }) => sum + Math.abs(to - from), 0)
      let done = 0
      const told = (at: number, points: CornersFound) => {
        progress(++done / Math.max(1, total))
        news.emit(as.id, at, points)
      }
      const light = plateLight(engineFor(row.folder), shot, files, signal)
      const given = {
        // Where all pictures are in memory nothing else would let others have their turn.
        light: async (at: number, window: Window) => {
          await othersTurn()
          return light(at, window)
        },
        ...{ frameSize: shot.frameSize, signal },
      }
      const edit = corners
        ? await followRegion(corners, stretches, {
            ...given,
            ...{ found: told, lens: lensOver(shot, null) },
            leftOut: (from) => leftOutOf(shot, corners, from),
          })
        : await followTrack(track, stretches, {
            ...given,
            found: (_soFar, at, point) => told(at, { [track.id]: point }),
          })
      // Called off is told a moment later than it is known.
      if (signal.aborted || isOver(await work.status(as.id))) throw new Error('The tracking was called off.')
      await store.edit(id, { ...as, edit })
      return { edit }
    },
  }
}
