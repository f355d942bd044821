/** A clean plate by its recipe: looks at frames of a source, laid over each other as tracks move. */

import { identity, resample, type Matrix3, type Scale, type Step } from '../graph/steps'
import type { Window } from '../image/window'
import { atScale } from '../motion/placing'
import { matteOf } from '../plan/element'
import { sourceNode } from '../plan/source-node'
import { cleanPlate, type FramesToJoin } from '../repair/clean-plate'
import { faultOfPin, find, pinMatrix, type CleanPlateRecipe } from '../shot'
import { CannotBeMadeError, type Made, type Making } from './making'

export function framesOfRecipe({ from, to, step }: CleanPlateRecipe): readonly number[] {
  return Array.from({ length: Math.floor((to - from) / step) + 1 }, (_, i) => from + i * step)
}

/** @throws CannotBeMadeError, TooFewFramesError, and what looking at frames throws */
export async function cleanPlateOf(making: Making, recipe: CleanPlateRecipe): Promise<Made> {
  const { shot, planning, light, heavy, signal, progress } = making
  const source = find(shot.sources, recipe.source)
  if (!source) throw new CannotBeMadeError('It is made of a source that is gone. Choose another one on its card.')
  if (recipe.without !== undefined && !find(shot.mattes, recipe.without))
    throw new CannotBeMadeError('The matte of what is left out is gone. Choose another one on its card.')
  const { pin } = recipe
  const fault = pin && faultOfPin(shot, pin)
  if (fault)
    throw new CannotBeMadeError(`The frames cannot be laid over each other: ${fault.sentence}. ${fault.remedy}`)
  const frames = framesOfRecipe(recipe).filter((frame) =>
    sourceNode(planning(4), source.id, recipe.part, undefined, frame),
  )
  const laid = (step: Step, frame: number, scale: Scale) => {
    const matrix: Matrix3 = pin ? atScale(pinMatrix(shot, pin, frame), scale) : identity
    return resample(step, { field: null, matrix }, 'catmull-rom')
  }
  const from: FramesToJoin = {
    frames,
    frameSize: shot.frameSize,
    light(frame, window, scale) {
      const step = sourceNode(planning(scale), source.id, recipe.part, undefined, frame)
      return step ? light(laid(step, frame, scale), window) : nothing(window)
    },
    joined: heavy.joined,
    async covered(frame, window) {
      if (recipe.without === undefined) return null
      const { step, problems } = matteOf(planning(1), recipe.without, frame)
      const [problem] = problems
      if (problem) throw new CannotBeMadeError(`${problem.sentence} ${problem.remedy}`)
      return step ? light(laid(step, frame, 1), window) : null
    },
  }
  const window = { x: 0, y: 0, ...shot.frameSize }
  const { light: pixels, count } = await cleanPlate(from, { even: recipe.uneven === undefined, signal, progress })
  const never = count.reduce((sum, n) => sum + (n === 0 ? 1 : 0), 0)
  return {
    light: pixels,
    window,
    says:
      never === 0
        ? `Joined from ${frames.length} frames.`
        : `Joined from ${frames.length} frames. ${never} pixels are covered on all of them and are empty: take more frames, or paint over them.`,
  }
}

const nothing = async ({ width, height }: Window) => new Float32Array(width * height * 4)
