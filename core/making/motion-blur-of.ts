/** A frame of a source blurred by its own motion: by the frames before and after it. */

import type { Picture } from '../flow'
import { dilate, type Window } from '../image/window'
import { sourceNode } from '../plan/source-node'
import { find, type MotionBlurRecipe } from '../shot'
import { CannotBeMadeError, type Made, type Making } from './making'

/** What a render has beyond the frame is blurred too, as far as it is likely to come in. */
const beyondPx = 96

/** @throws CannotBeMadeError, and what looking at frames throws */
export async function motionBlurOf(making: Making, recipe: MotionBlurRecipe, frame: number): Promise<Made> {
  const { shot, planning, light, heavy, signal, progress } = making
  const source = find(shot.sources, recipe.source)
  if (!source) throw new CannotBeMadeError('It is made of a source that is gone. Choose another one on its card.')
  const display: Window = { x: 0, y: 0, ...shot.frameSize }
  const window = dilate(display, beyondPx, beyondPx)
  const { width, height } = window
  const pictureAt = async (at: number): Promise<Picture | null> => {
    const step = sourceNode(planning(1), source.id, recipe.part, undefined, at)
    return step && { width, height, light: await light(step, window) }
  }
  const picture = await pictureAt(frame)
  if (!picture)
    return {
      light: new Float32Array(width * height * 4),
      window,
      display,
      says: `${source.name} shows nothing at ${frame}.`,
    }
  const [before, after] = [await pictureAt(frame - 1), await pictureAt(frame + 1)]
  progress?.(0.2)
  if (!before && !after)
    throw new CannotBeMadeError(
      `${source.name} has one frame only, so nothing is known of its motion. Choose a sequence.`,
    )
  const pixels = await heavy.motionBlurred({ picture, before, after }, recipe.angle / 360, signal)
  return { light: pixels, window, display, says: `Blurred by its own motion, ${recipe.angle} degrees.` }
}
