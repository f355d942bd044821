/** How much softer the plate is than the render: the Gaussian that comes nearest to photographs of reference objects. */

import { intersect, dilate, pixelCount } from '../image/window'
import { darkLight, leastOfParabola, nearestSoftening, ninetyPercent, type SharpAndSeen, type Sure } from '../match'
import { applyEdit, onReferenceObject, type Element, type ReferenceObject } from '../shot'
import { isSet, ownUse, setsOf } from './changes'
import { isByHand, type ShotBeingMatched } from './matching'
import { framesOf, namesOf, seenOn } from './on-objects'

const names = ['across', 'down'] as const
/** So many edges of their own tell it at least. */
const freedom = 20

/**
 * On what lies inside the objects, whatever their colour and black level.
 *
 * @param light elements of the same render that are as sharp as this one
 * @returns whether it was found
 */
export async function matchSoftness(
  matched: ShotBeingMatched,
  element: Element,
  objects: readonly ReferenceObject[],
  light: readonly Element[],
): Promise<boolean> {
  if (isSet(matched.shot, element.id, 'softness')) {
    matched.leave(element, 'softness', isByHand)
    return false
  }
  const pictures: SharpAndSeen[] = []
  // By turns: the first ones may be enough.
  const turns = objects.map((object) => framesOf(matched, object).map((frame) => ({ object, frame })))
  for (let i = 0; i < Math.max(...turns.map(({ length }) => length)); i++)
    for (const { object, frame } of turns.flatMap((own) => own[i] ?? [])) {
      const seen = await seenOn(matched, element, object, frame)
      if (seen) pictures.push(seen)
    }
  const found = nearestSoftening(pictures)
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

/** Variances tried, beside that of what was found first: light goes with the variance, as long as it is small. */
const tried = [0.4, 0.7, 1, 1.3, 1.6] as const
/** Outlines reach so far beyond an element. */
const around = 6
/** Grain has a size: so many pixels beside each other say no more than one. */
const pixelsOfAGrain = 4

/** As it is set. */
const unchanged = tried.indexOf(1)

const mostRounds = 3
/** What is found nearer than this to what was tried about is not looked for again. */
const nearEnough = 0.15

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
  const { shot, look, plan } = matched
  const part = matched.parts.find((one) => one.element === element.id && one.what === 'softness')
  const settings = ownUse(shot, element.id, 'soften')?.settings
  if (!part || !settings) return null
  const softened = tried.map((factor) =>
    names.reduce(
      (before, name, i) =>
        applyEdit(
          before,
          setsOf({ kind: 'treatment', id: settings.id }, name, [part.values[i].value * Math.sqrt(factor)], shot),
        ).shot,
      shot,
    ),
  )
  const costs = new Float64Array(tried.length)
  let count = 0
  for (const object of objects)
    for (const frame of framesOf(matched, object)) {
      const [photographed, ...rendered] = [
        onReferenceObject(shot, object.id),
        ...softened.map((one) => onReferenceObject(one, object.id, 'render alone')),
      ]
      const photo = photographed && plan(photographed, frame, 1)
      const shows = photo?.elements.get(element.id)
      const composites = rendered.map((one) => one && plan(one, frame, 1).composite)
      if (!photo?.reference || !shows) continue
      const body = dilate(await look.bounds(shows), around, around)
      const window = intersect(body, { x: 0, y: 0, ...shot.frameSize })
      if (pixelCount(window) === 0) continue
      const steps = [photo.reference, ...composites.flatMap((step) => step ?? [])]
      const [wanted, ...made] = await Promise.all(steps.map((step) => look.light(step, window)))
      if (made.length < tried.length) continue
      for (let i = 0; i < wanted.length; i++) {
        if (i % 4 === 3 || !Number.isFinite(wanted[i]) || made[0][i] === made[tried.length - 1][i]) continue
        count++
        // The variance of grain grows with light; by the light that is made, which has none of the photograph's.
        const grain = Math.max(0, made[unchanged][i]) + darkLight
        for (let k = 0; k < made.length; k++) costs[k] += (made[k][i] - wanted[i]) ** 2 / grain
      }
    }
  const least = leastOfParabola(tried, costs)
  if (!least) return null
  const factor = Math.min(2.5, Math.max(0.25, least.at))
  const noise = (least.value / count) * pixelsOfAGrain
  const mean = (part.values[0].value + part.values[1].value) / 2
  const ofVariance = ninetyPercent(freedom) * Math.sqrt((2 * noise) / least.bend)
  const bar = (ofVariance * mean) / (2 * Math.sqrt(factor))
  const values = part.values.map(({ value }): Sure => ({ value: value * Math.sqrt(factor), bar }))
  matched.find(element, 'softness', values, part.rests, part.sharedBy)
  return factor
}
