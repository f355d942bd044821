/**
 * Softness and veil where nothing was shot in the element's place: from edges and dark places of the plate near it. The gain is
 * left: light on another thing does not tell how much of it this one throws back.
 */

import { ninetyPercent, proposeVeilAndGain, type PairRead, type Sure } from '../match'
import type { Element } from '../shot'
import { isSet, ownUse } from './changes'
import { isByHand, type ShotBeingMatched } from './matching'
import { suggestWitnesses, type Suggestion } from './suggest'

const pairs = { black: 4, mid: 0, sharpness: 5 } as const
/** Fewer edges do not tell how unlike each other they are. */
const fewestEdges = 3
/** What is dark on both sides still throws back some light, and unlike shares of it. */
const unlikeInTheDark = 5
/** The gain may be off by so much of itself while it is not known. */
const gainNotKnown = 0.3

const fromEdges = 'edges near by'
const fromDarkPlaces = 'dark places near by'

export async function matchWithoutObjects(
  matched: ShotBeingMatched,
  element: Element,
  light: readonly Element[],
): Promise<readonly Sure[] | null> {
  matched.leave(element, 'gain', 'no ball or chart was shot in its place, and nothing else near by tells it')
  const { suggestions, not } = await suggestWitnesses(matched.shot, matched.look, matched.plan, element, pairs)
  const whyNot = (purpose: 'black' | 'sharpness') =>
    not
      .find((one) => one.purpose === purpose)
      ?.why.replace(/^N/, 'n')
      .replace(/\.$/, '') ?? null
  const of = (purpose: 'black' | 'sharpness') => suggestions.filter(({ witness }) => witness.purpose === purpose)

  const soft = isSet(matched.shot, element.id, 'softness') ? isByHand : softnessFrom(of('sharpness'))
  if (typeof soft === 'string') matched.leave(element, 'softness', whyNot('sharpness') ?? soft)
  else {
    const shared = light.filter(({ id }) => !ownUse(matched.shot, id, 'soften')).map(({ id }) => id)
    matched.find(element, 'softness', [soft, soft], [fromEdges], shared)
  }
  if (isSet(matched.shot, element.id, 'veil') || isSet(matched.shot, element.id, 'gain')) {
    matched.leave(element, 'veil', isByHand)
    return null
  }
  const veil = veilFrom(of('black'))
  if (veil) matched.find(element, 'veil', veil, [fromDarkPlaces])
  else matched.leave(element, 'veil', whyNot('black') ?? 'no dark place could be read')
  return veil
}

/** Variances add: what the plate's edges have more than the element's. @returns a sentence's end where that is nothing */
function softnessFrom(suggestions: readonly Suggestion[]): Sure | string {
  const of = (side: 'reference' | 'adjusted') => suggestions.map((one) => one[side].edge?.sigma ?? NaN)
  const [plate, own] = [of('reference'), of('adjusted')]
  if (suggestions.length < fewestEdges) return 'too few edges hold still enough to be measured'
  const [soft, sharp] = [spreadOf(plate), spreadOf(own)]
  const variance = soft.middle ** 2 - sharp.middle ** 2
  if (!(variance > 0)) return 'its own edges are as soft as those of the plate near by'
  const value = Math.sqrt(variance)
  const error = Math.hypot(soft.middle * soft.error, sharp.middle * sharp.error) / value
  return { value, bar: ninetyPercent(suggestions.length - 1) * error }
}

const meanOf = (values: readonly number[]) => values.reduce((sum, one) => sum + one, 0) / values.length

/** The median, and its standard error by how unlike the values are. */
function spreadOf(values: readonly number[]): { readonly middle: number; readonly error: number } {
  const sorted = [...values].sort((a, b) => a - b)
  const middle = sorted[sorted.length >> 1]
  const mean = meanOf(values)
  const variance = values.reduce((sum, one) => sum + (one - mean) ** 2, 0) / (values.length - 1)
  return { middle, error: Math.sqrt((Math.PI / 2) * (variance / values.length)) }
}

function veilFrom(suggestions: readonly Suggestion[]): readonly Sure[] | null {
  const read = suggestions.map(({ witness: { name }, reference, adjusted }): PairRead => ({
    ...{ name, purpose: 'black', reference, adjusted, unlike: unlikeInTheDark },
  }))
  const found = proposeVeilAndGain(read, { veil: [0, 0, 0], gain: [1, 1, 1] })
  return (
    found &&
    found.veil.map(({ value, bar }, c): Sure => {
      const own = Math.min(...read.map(({ adjusted }) => Math.abs(adjusted.light[c])))
      return { value, bar: Math.hypot(bar, gainNotKnown * own) }
    })
  )
}
