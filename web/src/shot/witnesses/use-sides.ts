/** Both sides of a witness on the frame that is looked at: what is seen there, and where. */

import { useMemo } from 'react'
import type { Step } from '../../../../core/graph/steps'
import { plansOf } from '../../../../core/witnesses'
import type { Witness } from '../../../../core/shot'
import { useAppSelector } from '../../store'
import { planOf } from '../../store/plans'
import { selectCatalog, selectFrame, selectScale, selectShownShot } from '../../store/selectors'
import type { Region } from '../../store/view'

export interface Sides {
  readonly reference: Region
  readonly adjusted: Region
  /** absent where there is none */
  readonly plate?: Step
  readonly element?: Step
}

export function useSides({ id, on, element, reference, adjusted, purpose }: Witness): Sides {
  const shot = useAppSelector(selectShownShot)
  const catalog = useAppSelector(selectCatalog)
  const frame = useAppSelector(selectFrame)
  const scale = useAppSelector(selectScale)
  const read = useAppSelector((state) => state.readings.now[id])
  const places = read?.frame === frame ? read.places : undefined
  return useMemo(() => {
    const plans = shot && plansOf(shot, (seen, at, to) => planOf(seen, at, to, catalog))
    const plan = plans?.at(on ?? null, frame, scale)
    return {
      reference: places?.reference ?? reference,
      adjusted: places?.adjusted ?? adjusted,
      plate: plan?.reference ?? undefined,
      element:
        (purpose === 'shadow' ? plans?.over(on ?? null, frame, element, scale) : plan?.elements.get(element)) ??
        undefined,
    }
  }, [shot, catalog, frame, scale, on, element, places, reference, adjusted, purpose])
}
