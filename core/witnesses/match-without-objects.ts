/**
 * Softness and veil where nothing was shot in the element's place: from edges and dark places of the plate near it. Light on another
 * thing does not tell how much of it this one throws back: the gain is that of another shot of the series, or is left.
 */

import { leastCoverage, medianOf, ninetyPercent, type Rgb, type SideReading, type Sure } from '../match'
import type { Element, Shot } from '../shot'
import { isSet, ownUse } from './changes'
import { gainElsewhere } from './gain-elsewhere'
import { matchPlateVeil } from './match-shadow'
import { isByHand, type ShotBeingMatched } from './matching'
import { readPlaces, total, type ReadSide } from './read-places'

/** Fewer edges do not tell how unlike each other they are. */
const fewestEdges = 3
/** The gain may be off by so much of itself while it is not known. */
const gainNotKnown = 0.3

const surer = 'Shoot a grey ball and a chart in its place.'

/**
 * @param others of the same render: those that are as sharp as this one, and those that darken the plate
 * @param series another shot, whose gain may be this one's
 */
export async function matchWithoutObjects(
  matched: ShotBeingMatched,
  element: Element,
  { light, shadows }: { readonly light: readonly Element[]; readonly shadows: readonly Element[] },
  series: Shot | null,
): Promise<void> {
  const set = {
    softness: isSet(matched.shot, element.id, 'softness'),
    veil: isSet(matched.shot, element.id, 'veil') || isSet(matched.shot, element.id, 'gain'),
  }
  findGain(matched, element, light, series)
  for (const what of ['softness', 'veil'] as const) if (set[what]) matched.leave(element, what, isByHand)
  if (set.softness && set.veil) return
  const { chosenOn, read } = await readPlaces(matched.shot, matched.look, matched.plan, element, ['black', 'sharpness'])
  const nowhere = `it shows nothing on frame ${chosenOn}, in the middle of the shot`
  if (!set.softness) {
    const soft = read ? softnessFrom(read.sharpness.reference, read.sharpness.adjusted) : nowhere
    const shared = light.filter(({ id }) => !ownUse(matched.shot, id, 'soften')).map(({ id }) => id)
    if (typeof soft === 'string') matched.leave(element, 'softness', soft)
    else matched.find(element, 'softness', [soft, soft], ['edges near by'], shared, surer)
  }
  if (set.veil) return
  const veil = read ? veilFrom(read.black.reference, read.black.adjusted) : nowhere
  if (typeof veil === 'string') return matched.leave(element, 'veil', veil)
  const rests = ['dark places near by']
  matched.find(element, 'veil', veil, rests, [], surer)
  for (const one of shadows) matchPlateVeil(matched, one, veil, rests, surer)
}

/** Light that is added was lit by the same lamps. */
function findGain(matched: ShotBeingMatched, element: Element, light: readonly Element[], series: Shot | null): void {
  if (isSet(matched.shot, element.id, 'gain')) return matched.leave(element, 'gain', isByHand)
  const found = series
    ? gainElsewhere(matched.shot, element, series)
    : 'no ball or chart was shot in its place, and nothing else near by tells it'
  if (typeof found === 'string' || !series) return matched.leave(element, 'gain', String(found))
  const rests = [`${element.name} in ${series.name}`]
  matched.find(element, 'gain', found, rests, [], surer)
  for (const one of light)
    if (ownUse(matched.shot, one.id, 'veil-and-gain')) matched.leave(one, 'gain', isByHand)
    else matched.find(one, 'gain', found, rests, [], surer)
}

/** Variances add: what the plate's edges have more than the element's. @returns a sentence's end where it cannot be told */
export function softnessFrom(plate: readonly ReadSide[], own: readonly ReadSide[]): Sure | string {
  const sigmas = (sides: readonly ReadSide[]) => sides.flatMap(({ steady }) => steady?.edge?.sigma ?? [])
  const [plates, owns] = [sigmas(plate), sigmas(own)]
  if (plates.length < fewestEdges || owns.length < fewestEdges)
    return 'too few straight edges near by can be measured on every frame'
  const [soft, sharp] = [spreadOf(plates), spreadOf(owns)]
  const variance = soft.middle ** 2 - sharp.middle ** 2
  if (!(variance > 0)) return 'its own edges are as soft as those of the plate near by'
  const value = Math.sqrt(variance)
  const error = Math.hypot(soft.middle * soft.error, sharp.middle * sharp.error) / value
  return { value, bar: ninetyPercent(Math.min(plates.length, owns.length) - 1) * error }
}

/** The median, and its standard error by how unlike the values are. */
function spreadOf(values: readonly number[]): { readonly middle: number; readonly error: number } {
  const mean = values.reduce((sum, one) => sum + one, 0) / values.length
  const variance = values.reduce((sum, one) => sum + (one - mean) ** 2, 0) / (values.length - 1)
  return { middle: medianOf(values), error: Math.sqrt((Math.PI / 2) * (variance / values.length)) }
}

/** Half the length of the 90 % bar of what lies anywhere between two ends, as a share of half their distance. */
const anywhereBetween = 0.9
const normal90 = 1.645

/**
 * The plate's darkest place shows the veil and the little that it throws back itself: somewhere between nothing and what the
 * darkest of the element does. @returns a sentence's end where it cannot be told
 */
export function veilFrom(plate: readonly ReadSide[], own: readonly ReadSide[]): readonly Sure[] | string {
  const dark = (readings: readonly SideReading[]) =>
    readings.reduce<SideReading | null>((a, b) => (a === null || total(b, 'black') < total(a, 'black') ? b : a), null)
  const darkest = dark(plate.flatMap(({ steady }) => steady ?? []))
  if (!darkest) return 'no dark place of the plate near by holds still over the frames'
  const covering = ({ coverage }: SideReading) => coverage >= leastCoverage
  const least = dark(own.flatMap(({ frames }) => frames.flatMap((one) => one ?? [])).filter(covering))
  if (!least) return 'it has no dark place to compare with'
  const light: Rgb = least.light
  return darkest.light.map((value, c): Sure => {
    const most = Math.min(Math.max(0, light[c]), Math.max(0, value))
    const bar = Math.hypot(anywhereBetween * (most / 2), gainNotKnown * (most / 2), normal90 * darkest.error[c])
    return { value: value - most / 2, bar }
  })
}
