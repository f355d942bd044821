/** Sources that can be made of what a shot has, as they begin. */

import { workingSpaces } from '../../../../../core/colour'
import { valueAt } from '../../../../../core/motion/curve'
import {
  allOf,
  find,
  mattesOf,
  newId,
  plateSource,
  rootInput,
  type CleanPlateRecipe,
  type MotionBlurRecipe,
  type PassInput,
  type Recipe,
  type Shot,
  type SoftMatteRecipe,
  type Source,
} from '../../../../../core/shot'

/** As many frames as leave a tenth to a seventh of the noise; more take longer and hardly tell more. */
const usualFrames = 48

interface Offer {
  readonly text: string
  /** null: what it takes is not there yet */
  readonly source: (() => Source) | null
  /** what is wanting */
  readonly wants?: string
}

/** @param element the one that is selected, whose picture a soft matte is made of */
export function madeSourcesOffered(shot: Shot, element: string | null): readonly Offer[] {
  const plate = plateSource(shot)
  const mattes = mattesOf(shot)
  const outline = mattes.findLast(({ kind }) => kind === 'drawn') ?? mattes.at(-1)
  const of = element !== null && find(shot.elements, element) ? element : shot.plate
  const pass = element === null || element === shot.plate ? null : passOf(shot, element)
  return [
    {
      text: 'A clean plate, without what passes',
      source: plate ? () => madeSource(shot, 'Clean plate', cleanPlateRecipe(shot, plate.id)) : null,
      wants: 'takes a plate',
    },
    {
      text: 'A soft matte: a figure with hair, cut out',
      source: outline ? () => madeSource(shot, 'Soft matte', softMatteRecipe(of, outline.id)) : null,
      wants: 'takes a matte, drawn roughly round the figure',
    },
    {
      text: 'Motion blur: a render blurred by its own motion',
      source: pass ? () => madeSource(shot, 'Motion blur', motionBlurRecipe(shot, pass)) : null,
      wants: 'takes an element made of a render, selected',
    },
  ]
}

function cleanPlateRecipe({ frames: { first, last } }: Shot, source: string): CleanPlateRecipe {
  const step = Math.max(1, Math.ceil((last - first + 1) / usualFrames))
  return { kind: 'clean-plate', source, part: null, from: first, to: last, step }
}

const softMatteRecipe = (element: string, matte: string): SoftMatteRecipe => ({
  ...{ kind: 'soft-matte', element, matte, inside: 6, outside: 12 },
})

/** The render that an element is made of, where it is one. */
function passOf(shot: Shot, id: string): PassInput | null {
  const element = find(shot.elements, id)
  const root = element && rootInput(element)
  return root?.kind === 'pass' ? root : null
}

/** As the shot's shutter is. */
function motionBlurRecipe({ shutter, frames }: Shot, { source, part }: PassInput): MotionBlurRecipe {
  const angle = valueAt(shutter.parameters.angle[0], frames.first)
  return { kind: 'motion-blur', source, part, angle: Math.min(720, Math.max(1, angle)) }
}

function madeSource(shot: Shot, wanted: string, made: Recipe): Source {
  const id = newId()
  const taken = new Set(allOf(shot.sources).map(({ name }) => name))
  let name = wanted
  for (let number = 2; taken.has(name); number++) name = `${wanted} ${number}`
  const file = name.toLowerCase().replace(/[^a-z0-9]+/g, '-')
  const still = made.kind === 'clean-plate'
  return {
    ...{ id, name, made, path: `made/${id}/${file}${still ? '' : '.####'}.exr` },
    frames: still ? null : shot.frames,
    claims: { encoding: 'linear', primaries: workingSpaces[shot.workingSpace], alpha: 'premultiplied' },
  }
}
