/** Work of the kind `computed`: what an element shows by itself, a frame an item, at every scale that is looked at. */

import { LRUCache } from 'lru-cache'
import { object, string } from 'yup'
import type { Engine } from '../../core/engine/engine'
import type { Scale } from '../../core/graph/steps'
import { isEmpty, pixelCount } from '../../core/image/window'
import { filesIn } from '../../core/plan/catalog'
import { PlanMemo } from '../../core/plan/memo'
import { planFrame } from '../../core/plan/plan'
import { find, parseShot, type Shot } from '../../core/shot'
import type { Models } from '../database/models'
import { catalogOf } from '../media/catalog'
import type { MediaRoots } from '../media/media-roots'
import { heldUpByDisk } from '../work/disk'
import type { WorkKind } from '../work/kind'
import { NoRoomForComputedError, type ComputedFiles } from './computed-files'

export interface ComputedWorkOptions {
  readonly models: Models
  readonly media: MediaRoots
  readonly files: ComputedFiles
  /** an engine that reads from the shot's folder */
  readonly engineFor: (shotFolder: string) => Engine
}

/** Of one frame: keys of the pictures at full, half and quarter scale; null where nothing is computed. */
export interface ComputedItem {
  readonly keys: readonly (string | null)[]
  readonly bytes: number
}

const scales: readonly Scale[] = [1, 2, 4]
/** What lies far beyond the frame is not worth its room. */
const mostFrames = 4

const inputOfWork = object({ shot: string().required(), element: string().required() })

export function computedWork({
  models,
  media,
  files,
  engineFor,
}: ComputedWorkOptions): WorkKind<unknown, ComputedItem> {
  const known = new LRUCache<string, { readonly shot: Shot; readonly memo: PlanMemo }>({ max: 5 })
  return {
    kind: 'computed',
    async run(input, frame, { signal, attempt, progress }) {
      const wanted = inputOfWork.validateSync(input)
      const row = await models.shots.findByPk(wanted.shot)
      if (!row) throw new Error('The shot of this element is gone.')
      // As it is now: what has changed since the wish is wanted as it became.
      const name = `${row.id} ${row.revision}`
      const { shot, memo } = known.get(name) ?? { shot: parseShot(row.document, row.name), memo: new PlanMemo() }
      known.set(name, { shot, memo })
      const element = find(shot.elements, wanted.element)
      if (!element) return { keys: [null, null, null], bytes: 0 }
      const engine = engineFor(row.folder)
      const there = filesIn(await catalogOf(media.place(row.folder), shot))
      const made: ComputedItem[] = []
      for (const scale of scales) {
        const step = planFrame(shot, frame, scale, there, memo).elements.get(element.id)
        made.push(step && step.op !== 'frame' ? await keep(step, scale) : nothingComputed)
        progress(made.length / scales.length)
      }
      return {
        keys: made.flatMap(({ keys }) => keys),
        bytes: made.reduce((sum, { bytes }) => sum + bytes, 0),
      }

      async function keep(step: Parameters<Engine['light']>[0], scale: Scale): Promise<ComputedItem> {
        const before = await files.bytesOf(step.key)
        if (before !== null) return { keys: [step.key], bytes: before }
        const window = await engine.bounds(step)
        if (isEmpty(window)) return nothingComputed
        const { width, height } = shot.frameSize
        if (pixelCount(window) * scale * scale > mostFrames * width * height)
          throw new Error(
            `${element?.name} at frame ${frame} is larger than ${mostFrames} frames of the shot, so it is not kept computed. Crop it, or scale it down.`,
          )
        const light = await engine.light(step, window, { signal, once: true })
        try {
          return { keys: [step.key], bytes: await files.write(step.key, light, window, attempt) }
        } catch (error) {
          if (error instanceof NoRoomForComputedError) throw error
          throw heldUpByDisk(error, 'computed') ?? error
        }
      }
    },
  }
}

const nothingComputed: ComputedItem = { keys: [null], bytes: 0 }
