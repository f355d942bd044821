/** Sources that are made here: what is made of a recipe, piece by piece. */

import type { Recipe, Shot } from '../shot'
import { cleanPlateOf } from './clean-plate-of'
import type { Made, Making } from './making'
import { softMatteOf } from './soft-matte-of'

/** Frames of the files that come out; null: a still. */
export const madeFrames = ({ kind }: Recipe, shot: Shot): Shot['frames'] | null =>
  kind === 'clean-plate' ? null : shot.frames

/** @param frame of the files; what it is does not matter for a still */
export const makeFrame = (making: Making, recipe: Recipe, frame: number): Promise<Made> =>
  recipe.kind === 'clean-plate' ? cleanPlateOf(making, recipe) : softMatteOf(making, recipe, frame)

export { CannotBeMadeError, inPlace, type HeavyWork, type Made, type Making } from './making'
