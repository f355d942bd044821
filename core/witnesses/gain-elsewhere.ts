/**
 * The gain of another shot of the series: renders under the same lamps are off by as much, so that where nothing tells it here, a
 * shot in which a ball and a chart were photographed may.
 */

import type { Sure } from '../match'
import { isConstantly, valueAt } from '../motion/curve'
import type { Element, Shot } from '../shot'
import { isSet, ownUse } from './changes'
import { toBeMatched } from './matching'

/** Lamps may have been moved between the shots, and nothing here says whether they were: half of a 90 % bar, as a share. */
const carriedOver = 0.1

/** @returns red, green, blue; the end of a sentence where the other shot does not tell it */
export function gainElsewhere(shot: Shot, element: Element, other: Shot): readonly Sure[] | string {
  if (other.workingSpace !== shot.workingSpace) return `${other.name} has another working space`
  const alike = toBeMatched(other).filter(({ name }) => name === element.name)
  if (alike.length !== 1)
    return `${other.name} has ${alike.length === 0 ? 'no element' : 'more than one element'} named ${element.name}`
  const [there] = alike
  const settings = ownUse(other, there.id, 'veil-and-gain')?.settings
  if (!settings || !isSet(other, there.id, 'gain')) return `no gain is set for ${element.name} in ${other.name}`
  const { gain, gamma } = settings.parameters
  if (!gamma.every((one) => isConstantly(one, 1)))
    return `the gain of ${element.name} in ${other.name} goes with a gamma`
  const values = gain.map((one) => valueAt(one, other.frames.first))
  if (!gain.every((one, c) => isConstantly(one, values[c])))
    return `the gain of ${element.name} in ${other.name} changes over its frames`
  return values.map((value) => ({ value, bar: carriedOver * value }))
}
