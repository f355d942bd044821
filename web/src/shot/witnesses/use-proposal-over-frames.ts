/** Veil and gain of an element from what its witnesses read on all frames, with the present veil and gain taken away again, and the gamma as it is set. */

import { useMemo } from 'react'
import { valueAt } from '../../../../core/motion/curve'
import {
  purposes,
  proposeOverFrames,
  unlikeOf,
  type PairRead,
  type ProposedOverFrames,
  type Rgb,
  type SideReading,
} from '../../../../core/match'
import type { TreatmentSettings } from '../../../../core/shot'
import { ownUse } from '../../../../core/witnesses'
import { useAppSelector } from '../../store'
import { selectDocument, selectFrame, selectShotReadings, selectWitnesses } from '../../store/selectors'

export interface ProposedForShot extends ProposedOverFrames {
  /** whose numbers it is about; null where the element has no veil and gain yet */
  readonly settings: TreatmentSettings | null
}

/** @returns null where too few frames were read of the document as it is */
export function useProposalOverFrames(element: string): ProposedForShot | null {
  const shot = useAppSelector(selectDocument)
  const frame = useAppSelector(selectFrame)
  const witnesses = useAppSelector(selectWitnesses)
  const { frames } = useAppSelector(selectShotReadings)
  const keys = useAppSelector((state) => state.readings.keys)
  return useMemo(() => {
    if (!shot) return null
    const settings = ownUse(shot, element, 'veil-and-gain')?.settings ?? null
    const at = (name: 'veil' | 'gain', when: number): Rgb =>
      settings
        ? (settings.parameters[name].map((curve) => valueAt(curve, when)) as unknown as Rgb)
        : name === 'veil'
          ? [0, 0, 0]
          : [1, 1, 1]
    const own = witnesses.filter(({ element: of, purpose }) => of === element && purposes[purpose].comparesLight)
    const pairs = own.map((witness) => {
      const { id, name, purpose } = witness
      const unlike = unlikeOf(witness)
      const read = Object.entries(frames).flatMap(([number, readings]): (readonly [number, PairRead])[] => {
        const [when, one] = [Number(number), readings[id]]
        const adjusted = one?.adjusted && bare(one.adjusted, at('veil', when), at('gain', when))
        const fresh = one && keys[when]?.[id] === one.key
        return fresh && one.reference && adjusted
          ? [[when, { name, purpose, reference: one.reference, adjusted, unlike }]]
          : []
      })
      return { frames: new Map(read) }
    })
    const found = proposeOverFrames(pairs, { veil: at('veil', frame), gain: at('gain', frame) })
    return found && { ...found, settings }
  }, [shot, frame, element, witnesses, frames, keys])
}

/** As it was before veil and gain; null where the gain has left nothing of it. */
function bare(side: SideReading, veil: Rgb, gain: Rgb): SideReading | null {
  if (gain.some((value) => !(value > 0))) return null
  const each = (value: (c: number) => number) => [0, 1, 2].map(value) as unknown as Rgb
  return {
    ...side,
    light: each((c) => (side.light[c] - veil[c]) / gain[c]),
    error: each((c) => side.error[c] / gain[c]),
  }
}
