/** Works out, a few frames at a time, which readings of the whole range are of the document as it is. */

import { useEffect } from 'react'
import { countsOn, factsKey, plansOf, readingKey } from '../../../../core/witnesses'
import { PlanMemo } from '../../../../core/plan/memo'
import { useAppDispatch, useAppSelector } from '../../store'
import { passingPlan } from '../../store/plans'
import { keysKnown } from '../../store/readings'
import { selectCatalog, selectDocument, selectWitnesses } from '../../store/selectors'

/** The hand has come to rest. */
const restMs = 400
const framesAtOnce = 8
const betweenMs = 30

export function useReadingKeys(): void {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectDocument)
  const catalog = useAppSelector(selectCatalog)
  const witnesses = useAppSelector(selectWitnesses)
  useEffect(() => {
    if (!shot) return
    const { first, last } = shot.frames
    const memo = new PlanMemo()
    const plans = plansOf(shot, (seen, frame, scale) => passingPlan(seen, frame, scale, catalog, memo))
    let timer = 0
    const from = (frame: number) => {
      const keys: Record<string, Record<string, string>> = {}
      const factKeys: Record<string, string> = {}
      const end = Math.min(last, frame + framesAtOnce - 1)
      for (let at = frame; at <= end; at++) {
        factKeys[at] = factsKey(shot, passingPlan(shot, at, 1, catalog, memo))
        const counting = witnesses.filter((one) => countsOn(shot, one, at))
        keys[at] = Object.fromEntries(counting.map((one) => [one.id, readingKey(plans, at, one)]))
      }
      dispatch(keysKnown({ keys, factKeys }))
      if (end < last) timer = window.setTimeout(() => from(end + 1), betweenMs)
    }
    timer = window.setTimeout(() => from(first), restMs)
    return () => window.clearTimeout(timer)
  }, [dispatch, shot, catalog, witnesses])
}
