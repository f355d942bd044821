/** Sources that can be made of what a shot has, as they begin. */

import { workingSpaces } from '../../../../../core/colour'
import {
  allOf,
  find,
  mattesOf,
  newId,
  plateSource,
  type CleanPlateRecipe,
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
  ]
}

function cleanPlateRecipe({ frames: { first, last } }: Shot, source: string): CleanPlateRecipe {
  const step = Math.max(1, Math.ceil((last - first + 1) / usualFrames))
  return { kind: 'clean-plate', source, part: null, from: first, to: last, step }
}

const softMatteRecipe = (element: string, matte: string): SoftMatteRecipe => ({
  ...{ kind: 'soft-matte', element, matte, inside: 6, outside: 12 },
})

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
