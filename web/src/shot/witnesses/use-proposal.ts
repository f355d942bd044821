/** Veil and gain of an element, proposed from what its witnesses read without them; with a gamma, where that is asked for. */

import { useEffect, useState } from 'react'
import { proposeForElement, type ProposedForElement } from '../../../../core/witnesses'
import { useEngine } from '../../engine/engine-context'
import { useNewest } from '../../engine/use-newest'
import { useAppSelector } from '../../store'
import { planOf } from '../../store/plans'
import { selectCatalog, selectDocument, selectFrame } from '../../store/selectors'

/** @returns null until it is computed, and where there is nothing to go by; a sentence where it cannot be */
export function useProposal(element: string, withGamma: boolean): ProposedForElement | string | null {
  const engine = useEngine()
  const shot = useAppSelector(selectDocument)
  const catalog = useAppSelector(selectCatalog)
  const frame = useAppSelector(selectFrame)
  const [found, setFound] = useState<ProposedForElement | string | null>(null)
  const ask = useNewest()
  useEffect(() => {
    if (!shot) return
    ask(async () => {
      try {
        const plan = (seen: typeof shot, at: number, scale: 1 | 2 | 4) => planOf(seen, at, scale, catalog)
        setFound(await proposeForElement(shot, engine, plan, element, frame, withGamma))
      } catch (error) {
        setFound(error instanceof Error ? error.message : String(error))
      }
    })
  }, [engine, shot, catalog, frame, element, withGamma, ask])
  return found
}
