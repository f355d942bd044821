/** Veil and gain of an element, proposed from what its witnesses read without them. */

import { useEffect, useState } from 'react'
import { countsOn, plansOf, WitnessReader } from '../../../../core/witnesses'
import { valueAt } from '../../../../core/motion/curve'
import {
  proposeVeilAndGain,
  purposes,
  unlikeOf,
  type PairRead,
  type Rgb,
  type VeilAndGain,
} from '../../../../core/match'
import { find, usesOf, type Shot, type TreatmentSettings } from '../../../../core/shot'
import { useEngine } from '../../engine/engine-context'
import { useNewest } from '../../engine/use-newest'
import { useAppSelector } from '../../store'
import { planOf, withoutUses } from '../../store/plans'
import { selectCatalog, selectDocument, selectFrame, selectWitnesses } from '../../store/selectors'

export interface Proposed {
  readonly proposal: VeilAndGain
  /** whose numbers it is about; null where the element has no veil and gain yet */
  readonly settings: TreatmentSettings | null
  /** the pairs that it rests on, as they were read */
  readonly pairs: readonly PairRead[]
}

/** The element's veil and gain that acts last, if it has one that is on. */
export function veilAndGainOf(shot: Shot, element: string) {
  const use = usesOf(shot, { kind: 'element', id: element }).findLast(
    ({ on, treatment }) => on && find(shot.treatments, treatment)?.kind === 'veil-and-gain',
  )
  const settings = use && find(shot.treatments, use.treatment)
  return use && settings ? { use, settings } : null
}

const rgbAt = (settings: TreatmentSettings, name: 'veil' | 'gain' | 'gamma', frame: number): Rgb =>
  settings.parameters[name].map((curve) => valueAt(curve, frame)) as unknown as Rgb

/** @returns null until it is computed, and where there is nothing to go by; a sentence where it cannot be */
export function useProposal(element: string): Proposed | string | null {
  const engine = useEngine()
  const shot = useAppSelector(selectDocument)
  const catalog = useAppSelector(selectCatalog)
  const frame = useAppSelector(selectFrame)
  const witnesses = useAppSelector(selectWitnesses)
  const [found, setFound] = useState<Proposed | string | null>(null)
  const ask = useNewest()
  useEffect(() => {
    if (!shot) return
    const known = veilAndGainOf(shot, element)
    const own = witnesses.filter(
      (one) => one.element === element && purposes[one.purpose].comparesLight && countsOn(shot, one, frame),
    )
    ask(async () => {
      const settings = known?.settings ?? null
      if (settings && rgbAt(settings, 'gamma', frame).some((gamma) => gamma !== 1))
        return setFound('Veil and gain are proposed for a gamma of 1. Reset gamma first.')
      try {
        const bare = known ? withoutUses(shot, element, known.use.id) : shot
        const plans = plansOf(bare, (seen, at, scale) => planOf(seen, at, scale, catalog))
        const read = await new WitnessReader(engine).read(plans, frame, own)
        const pairs = own.flatMap((witness, i): PairRead[] => {
          const { name, purpose } = witness
          const { reference, adjusted } = read[i]
          return reference && adjusted ? [{ name, purpose, reference, adjusted, unlike: unlikeOf(witness) }] : []
        })
        const present = {
          veil: settings ? rgbAt(settings, 'veil', frame) : ([0, 0, 0] as const),
          gain: settings ? rgbAt(settings, 'gain', frame) : ([1, 1, 1] as const),
        }
        const proposal = proposeVeilAndGain(pairs, present)
        setFound(proposal && { proposal, settings, pairs })
      } catch (error) {
        setFound(error instanceof Error ? error.message : String(error))
      }
    })
  }, [engine, shot, catalog, frame, element, witnesses, ask])
  return found
}
