/** Reads all witnesses on the frame that is looked at, again whenever what they see changes. */

import { useEffect, useMemo } from 'react'
import { countsOn, plansOf, WitnessReader } from '../../../../core/witnesses'
import { useEngine } from '../../engine/engine-context'
import { useNewest } from '../../engine/use-newest'
import { useAppDispatch, useAppSelector } from '../../store'
import { planOf } from '../../store/plans'
import { readNow } from '../../store/readings'
import { selectCatalog, selectFrame, selectShownShot, selectWitnesses } from '../../store/selectors'

/** Left in the browser's timeline whenever the frame's witnesses were read. */
export const readingsMark = 'enkrasis:readings'

export function useReadings(): void {
  const engine = useEngine()
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectShownShot)
  const catalog = useAppSelector(selectCatalog)
  const frame = useAppSelector(selectFrame)
  const playing = useAppSelector((state) => state.view.playing.playing)
  const witnesses = useAppSelector(selectWitnesses)
  const ask = useNewest()
  const reader = useMemo(() => new WitnessReader(engine), [engine])
  useEffect(() => {
    if (!shot || witnesses.length === 0 || playing) return
    ask(async () => {
      try {
        const plans = plansOf(shot, (seen, at, scale) => planOf(seen, at, scale, catalog))
        const counting = witnesses.filter((one) => countsOn(shot, one, frame))
        const read = await reader.read(plans, frame, counting)
        performance.mark(readingsMark)
        dispatch(readNow(Object.fromEntries(counting.map(({ id }, i) => [id, { frame, ...read[i] }]))))
      } catch {
        // The picture says what is wrong with the frame.
      }
    })
  }, [reader, dispatch, shot, catalog, frame, playing, witnesses, ask])
}
