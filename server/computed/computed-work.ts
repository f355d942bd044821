/** Work of the kind `computed`: what an element shows by itself, a frame an item, at every scale that is looked at. */

import { object, string } from 'yup'
import type { Engine } from '../../core/engine/engine'
import type { Scale } from '../../core/graph/steps'
import { isEmpty, pixelCount } from '../../core/image/window'
import { planFrame } from '../../core/plan/plan'
import { find } from '../../core/shot'
import type { ShotsNow } from '../shots/shots-now'
import { heldUpByDisk } from '../work/disk'
import type { WorkKind } from '../work/kind'
import { NoRoomForComputedError, type ComputedFiles } from './computed-files'

export interface ComputedWorkOptions {
  readonly shots: ShotsNow
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

export function computedWork({ shots, files, engineFor }: ComputedWorkOptions): WorkKind<unknown, ComputedItem> {
  return {
    kind: 'computed',
    async run(input, frame, { signal, attempt, progress }) {
      const wanted = inputOfWork.validateSync(input)
      const { row, shot, files: there, memo } = await shots.of(wanted.shot)
      const element = find(shot.elements, wanted.element)
      if (!element) return { keys: [null, null, null], bytes: 0 }
      const engine = engineFor(row.folder)
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
