/** Exposure, white balance, saturation, tint and curves of an element, and the white balance of its plate, each by itself, from its witnesses on this frame. */

import { useEffect, useState } from 'react'
import type { NumberName, ToneCurves } from '../../../../core/match'
import { proposeCurves, proposeNumbers, proposePlateBalance, type NumberFound } from '../../../../core/witnesses'
import { useEngine } from '../../engine/engine-context'
import { useNewest } from '../../engine/use-newest'
import { useAppSelector } from '../../store'
import { planOf } from '../../store/plans'
import { selectCatalog, selectDocument, selectFrame } from '../../store/selectors'

export interface ProposedNumbers {
  readonly numbers: Readonly<Record<NumberName, NumberFound | null>>
  /** the light that the plate itself would have to look lit by */
  readonly plate: NumberFound | null
  readonly curves: ToneCurves | null
}

/** @returns null until they are measured; a sentence where they cannot be */
export function useProposedNumbers(element: string): ProposedNumbers | string | null {
  const engine = useEngine()
  const shot = useAppSelector(selectDocument)
  const catalog = useAppSelector(selectCatalog)
  const frame = useAppSelector(selectFrame)
  const [found, setFound] = useState<ProposedNumbers | string | null>(null)
  const ask = useNewest()
  useEffect(() => {
    if (!shot) return
    ask(async () => {
      try {
        const plan = (seen: typeof shot, at: number, scale: 1 | 2 | 4) => planOf(seen, at, scale, catalog)
        const numbers = await proposeNumbers(shot, engine, plan, element, frame)
        const plate = await proposePlateBalance(shot, engine, plan, element, frame)
        setFound({ numbers, plate, curves: await proposeCurves(shot, engine, plan, element, frame) })
      } catch (error) {
        setFound(error instanceof Error ? error.message : String(error))
      }
    })
  }, [engine, shot, catalog, frame, element, ask])
  return found
}
