/**
 * HTTP: tracks a point or a region of a shot's plate, as work that goes on when nobody watches. The answer names the work, then has a line of JSON for
 * each frame as it is found, and in the end one with the edit that was made, or with the sentence why there is none.
 */

import type { Express } from 'express'
import { object, ValidationError } from 'yup'
import { nameOfRegion, type CornersFound } from '../core/shot'
import { isOver } from '../core/work'
import type { Service } from './service'
import { shotId } from './shot-id'
import { asEditShape, trackingShape, type TrackingAsked, type TrackItem } from './tracking/track-work'

const trackingBody = object({ ...trackingShape, as: object(asEditShape).required() })
const onlyItem = 1
const lookMs = 100

export function addTrackingRoutes(app: Express, { store, work, trackingNews, notifications }: Service): void {
  app.post('/api/shots/:id/tracking', async (request, response) => {
    const row = await store.find(shotId(request))
    const shot = store.documentOf(row)
    const { as, ...asked } = trackingBody.validateSync(request.body ?? {}, { strict: true })
    const { track, stretches, corners } = asked as unknown as TrackingAsked
    const { first, last } = shot.frames
    for (const { from, to } of stretches) {
      if (!(corners ?? [track]).every(({ points }) => Object.hasOwn(points, from)))
        throw new ValidationError(`Track ${track.name} has no place on frame ${from}, from which it was to be tracked.`)
      if ([from, to].some((one) => one < first || one > last))
        throw new ValidationError(`${shot.name} has frames ${first} to ${last}: ${from} to ${to} cannot be tracked.`)
    }
    response.set({ 'Content-Type': 'application/x-ndjson', 'Cache-Control': 'no-store' })
    const say = (line: object) => response.writable && response.write(`${JSON.stringify(line)}\n`)
    const found = (frame: number, points: CornersFound) => say({ frame, points })
    trackingNews.on(as.id, found)
    let changed: () => void = () => undefined
    const heard = (id: string) => {
      if (id === as.id) changed()
    }
    notifications.on('changed', heard)
    let left = false
    response.on('close', () => {
      left = true
      changed()
    })
    try {
      const name = corners ? nameOfRegion(track) : track.name
      await work.wish({
        ...{ id: as.id, kind: 'tracking', key: `tracking ${as.id}`, shotId: row.id, wisher: 'tracking' },
        ...{ title: `Tracking ${name} in ${shot.name}`, items: [onlyItem], input: { shot: row.id, as, ...asked } },
        ...(as.author ? { author: as.author } : {}),
      })
      say({ work: as.id })
      for (;;) {
        const next = new Promise<void>((resolve) => (changed = resolve))
        const status = await work.status(as.id)
        if (left) break
        if (isOver(status)) {
          const result = (await work.resultsOf(as.id)).get(onlyItem) as TrackItem | undefined
          say(
            result ? { edit: result.edit } : { problem: status.failed[0]?.sentence ?? 'The tracking was called off.' },
          )
          break
        }
        await Promise.race([next, new Promise((resolve) => setTimeout(resolve, lookMs))])
      }
    } finally {
      trackingNews.off(as.id, found)
      notifications.off('changed', heard)
    }
    response.end()
  })
}
