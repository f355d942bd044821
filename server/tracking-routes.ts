/**
 * HTTP: tracks a point or a region of a shot's plate. The answer is a line of JSON for each frame as it is found, and in the end one with the edit, or
 * with the sentence why there is none. Whoever closes the connection stops it.
 */

import type { Express } from 'express'
import { array, number, object, ValidationError } from 'yup'
import {
  cornerCount,
  followRegion,
  followTrack,
  leftOutOf,
  lensOver,
  trackSchema,
  type Stretch,
  type Track,
} from '../core/shot'
import { filesIn } from '../core/plan/catalog'
import type { Service } from './service'
import { catalogOf } from './media/catalog'
import { shotId } from './shot-id'
import { plateLight } from './tracking/plate-light'

const frame = () => number().strict().integer().required()
const trackingBody = object({
  track: trackSchema,
  stretches: array(object({ from: frame(), to: frame() }))
    .max(10_000)
    .required(),
  /** all corners of the region whose corner the track is */
  corners: array(trackSchema).length(cornerCount).optional().default(undefined),
})

export function addTrackingRoutes(app: Express, { store, engineFor, configuration }: Service): void {
  app.post('/api/shots/:id/tracking', async (request, response) => {
    const row = await store.find(shotId(request))
    const shot = store.documentOf(row)
    const asked = trackingBody.validateSync(request.body ?? {}, { strict: true })
    const [track, stretches] = [asked.track as unknown as Track, asked.stretches as readonly Stretch[]]
    const corners = asked.corners as unknown as readonly Track[] | undefined
    const { first, last } = shot.frames
    for (const { from, to } of stretches) {
      if (!(corners ?? [track]).every(({ points }) => Object.hasOwn(points, from)))
        throw new ValidationError(`Track ${track.name} has no place on frame ${from}, from which it was to be tracked.`)
      if ([from, to].some((one) => one < first || one > last))
        throw new ValidationError(`${shot.name} has frames ${first} to ${last}: ${from} to ${to} cannot be tracked.`)
    }
    const files = filesIn(await catalogOf(configuration.media.place(row.folder), shot))
    const stopping = new AbortController()
    response.on('close', () => stopping.abort())
    response.set({ 'Content-Type': 'application/x-ndjson', 'Cache-Control': 'no-store' })
    const say = (line: object) => response.write(`${JSON.stringify(line)}\n`)
    try {
      const given = {
        light: plateLight(engineFor(row.folder), shot, files, stopping.signal),
        frameSize: shot.frameSize,
        signal: stopping.signal,
      }
      const edit = corners
        ? await followRegion(corners, stretches, {
            ...given,
            found: (at, points) => say({ frame: at, points }),
            lens: lensOver(shot, null),
            leftOut: (from) => leftOutOf(shot, corners, from),
          })
        : await followTrack(track, stretches, {
            ...given,
            found: (_soFar, at, point) => say({ frame: at, points: { [track.id]: point } }),
          })
      say({ edit })
    } catch (error) {
      if (!stopping.signal.aborted) say({ problem: error instanceof Error ? error.message : String(error) })
    }
    response.end()
  })
}
