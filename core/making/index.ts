/** Sources that are made here: what is made of a recipe, piece by piece. */

import type { Recipe, Shot } from '../shot'
import { cleanPlateOf } from './clean-plate-of'
import type { Made, Making } from './making'
import { motionBlurOf } from './motion-blur-of'
import { softMatteOf } from './soft-matte-of'

/** Frames of the files that come out; null: a still. */
export const madeFrames = ({ kind }: Recipe, shot: Shot): Shot['frames'] | null =>
  kind === 'clean-plate' ? null : shot.frames

/** @param frame of the files; what it is does not matter for a still */
export function makeFrame(making: Making, recipe: Recipe, frame: number): Promise<Made> {
  switch (recipe.kind) {
    case 'clean-plate':
      return cleanPlateOf(making, recipe)
    case 'soft-matte':
      return softMatteOf(making, recipe, frame)
    case 'motion-blur':
      return motionBlurOf(making, recipe, frame)
  }
}

export { CannotBeMadeError, inPlace, type HeavyWork, type Made, type Making } from './making'
