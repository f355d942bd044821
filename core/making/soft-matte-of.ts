/** A soft matte by its recipe: one frame of an element's picture, and what of it is surely inside and outside of an outline. */

import { grow, type Step } from '../graph/steps'
import { elementAt, matteOf } from '../plan/element'
import { find, type SoftMatteRecipe } from '../shot'
import { NothingToGoByError } from '../soft-matte/soft-matte'
import { CannotBeMadeError, type Made, type Making } from './making'

/** @throws CannotBeMadeError, and what looking at the frame throws */
export async function softMatteOf(making: Making, recipe: SoftMatteRecipe, frame: number): Promise<Made> {
  const { shot, planning, light, heavy, signal, progress } = making
  const element = find(shot.elements, recipe.element)
  if (!element) throw new CannotBeMadeError('It is made of an element that is gone. Choose another one on its card.')
  const window = { x: 0, y: 0, ...shot.frameSize }
  const picture = elementAt(planning(1), element.id, frame, undefined, { input: true })
  if (!picture.step) throw new CannotBeMadeError(`${element.name} shows nothing at frame ${frame}.`)
  const coverageOf = async (id: string, made: (step: Step) => Step): Promise<Float32Array> => {
    const matte = find(shot.mattes, id)
    if (!matte) throw new CannotBeMadeError('A matte that it is made by is gone. Choose another one on its card.')
    const { step, problems } = matteOf(planning(1), id, frame)
    const [problem] = problems
    if (problem) throw new CannotBeMadeError(`${problem.sentence} ${problem.remedy}`)
    const out = new Float32Array(window.width * window.height)
    if (!step) return out
    const grey = await light(made(step), window)
    for (let i = 0; i < out.length; i++) out[i] = grey[4 * i]
    return out
  }
  const beyond = { frame: window }
  const inside = await coverageOf(recipe.matte, (step) => grow(step, -recipe.inside, beyond))
  const outside = (await coverageOf(recipe.matte, (step) => grow(step, recipe.outside, beyond))).map(
    (value) => 1 - value,
  )
  if (recipe.band !== undefined)
    (await coverageOf(recipe.band, (step) => step)).forEach((value, i) => {
      if (value >= 0.5) inside[i] = outside[i] = 0
    })
  progress?.(0.1)
  const filmed = { ...shot.frameSize, light: await light(picture.step, window), inside, outside }
  try {
    const { light: pixels, band } = await heavy.softMatte(filmed, signal)
    return { light: pixels, window, says: `${Math.round(100 * band)} % of the frame was unsure.` }
  } catch (error) {
    if (error instanceof NothingToGoByError) throw new CannotBeMadeError(`Frame ${frame}: ${error.message}`)
    throw error
  }
}
