/** How much softer the plate is than the render: the Gaussian that comes nearest to photographs of reference objects. */

import { intersect, dilate, pixelCount } from '../image/window'
import type { Step } from '../graph/steps'
import {
  addSums,
  nearestSoftening,
  ninetyPercent,
  noSums,
  refinedVariance,
  softnessSums,
  varianceFactors,
  type SoftnessSums,
  type Sure,
} from '../match'
import { applyEdit, onReferenceObject, type Element, type ReferenceObject, type Shot } from '../shot'
import { isSet, ownUse, setsOf } from './changes'
import { isByHand, type ShotBeingMatched } from './matching'
import type { Look } from './look'
import { askedAhead, framesOf, namesOf, type SeenOnObject } from './on-objects'

const names = ['across', 'down'] as const
/** So many edges of their own tell it at least. */
const freedom = 20

/**
 * On what lies inside the objects, whatever their colour and black level.
 *
 * @param light elements of the same render that are as sharp as this one
 * @param pictures of all objects, as nothing was matched yet
 * @returns whether it was found
 */
export async function matchSoftness(
  matched: ShotBeingMatched,
  element: Element,
  objects: readonly ReferenceObject[],
  light: readonly Element[],
  pictures: () => Promise<readonly SeenOnObject[]>,
): Promise<boolean> {
  if (isSet(matched.shot, element.id, 'softness')) {
    matched.leave(element, 'softness', isByHand)
    return false
  }
  const found = nearestSoftening(await pictures())
  if (!found) {
    matched.leave(element, 'softness', 'there are no edges in what was shot that could tell it')
    return false
  }
  const bar = ninetyPercent(freedom) * found.error
  const values = names.map((name): Sure => ({ value: found[name], bar }))
  const shared = light.filter(({ id }) => !ownUse(matched.shot, id, 'soften')).map(({ id }) => id)
  matched.find(element, 'softness', values, namesOf(objects), shared)
  return true
}

/** Outlines reach so far beyond an element. */
const around = 6

const mostRounds = 3
/** What is found nearer than this to what was tried about is not looked for again. */
const nearEnough = 0.25

/** Once everything else agrees: on whole composites, so that outlines against the plate count as well. */
export async function refineSoftness(
  matched: ShotBeingMatched,
  element: Element,
  objects: readonly ReferenceObject[],
): Promise<void> {
  for (let round = 0; round < mostRounds; round++) {
    const factor = await refinedOnce(matched, element, objects)
    if (factor === null || Math.abs(factor - 1) < nearEnough) return
  }
}

/** @returns by how much the variance has changed; null where it cannot be told */
async function refinedOnce(
  matched: ShotBeingMatched,
  element: Element,
  objects: readonly ReferenceObject[],
): Promise<number | null> {
  const { shot } = matched
  const part = matched.parts.find((one) => one.element === element.id && one.what === 'softness')
  const settings = ownUse(shot, element.id, 'soften')?.settings
  if (!part || !settings) return null
  const softened = varianceFactors.map((factor) =>
    names.reduce(
      (before, name, i) =>
        applyEdit(
          before,
          setsOf({ kind: 'treatment', id: settings.id }, name, [part.values[i].value * Math.sqrt(factor)], shot),
        ).shot,
      shot,
    ),
  )
  const found = refinedVariance(await sumsOver(matched, element, objects, softened))
  if (!found) return null
  const mean = (part.values[0].value + part.values[1].value) / 2
  const bar = (ninetyPercent(freedom) * found.error * mean) / (2 * Math.sqrt(found.factor))
  const values = part.values.map(({ value }): Sure => ({ value: value * Math.sqrt(found.factor), bar }))
  matched.find(element, 'softness', values, part.rests, part.sharedBy)
  return found.factor
}

/** Over all photographs, beside the render put over the plate with each of the softnesses. */
async function sumsOver(
  matched: ShotBeingMatched,
  element: Element,
  objects: readonly ReferenceObject[],
  softened: readonly Shot[],
): Promise<SoftnessSums> {
  const all = objects.flatMap((object) => framesOf(matched, object).map((frame) => ({ object, frame })))
  let sums = noSums
  for await (const one of askedAhead(all, (on) => withEachOn(matched, element, softened, on)))
    if (one) sums = addSums(sums, softnessSums(one.made, one.covers, one.wanted, one.width))
  return sums
}

interface ObjectOnFrame {
  readonly object: ReferenceObject
  readonly frame: number
}

/** @returns null where nothing is there */
async function withEachOn(
  { shot, look, plan }: ShotBeingMatched,
  element: Element,
  softened: readonly Shot[],
  { object, frame }: ObjectOnFrame,
) {
  const photographed = onReferenceObject(shot, object.id)
  const photo = photographed && plan(photographed, frame, 1)
  const shows = photo?.elements.get(element.id)
  if (!photo?.reference || !shows) return null
  const planned = softened.flatMap((one) => {
    const rendered = onReferenceObject(one, object.id, 'render alone')
    return rendered ? [plan(rendered, frame, 1)] : []
  })
  const composites = planned.flatMap(({ composite }) => composite ?? [])
  const shown = planned.flatMap(({ elements }) => elements.get(element.id) ?? [])
  const window = await windowAbout(look, shows, shot)
  if (pixelCount(window) === 0 || composites.length < softened.length || shown.length < softened.length) return null
  const steps = [photo.reference, ...shown, ...composites]
  const [wanted, ...pictures] = await Promise.all(steps.map((step) => look.light(step, window)))
  const [covers, made] = [pictures.slice(0, shown.length), pictures.slice(shown.length)]
  return { made, covers, wanted, width: window.width }
}

const windowAbout = async (look: Look, shows: Step, { frameSize }: Shot) =>
  intersect(dilate(await look.bounds(shows), around, around), { x: 0, y: 0, ...frameSize })
