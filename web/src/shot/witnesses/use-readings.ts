/** Reads all witnesses on the frame that is looked at, again whenever what they see changes. */

import { useEffect } from 'react'
import { readWitnesses } from '../../../../core/check'
import { useEngine } from '../../engine/engine-context'
import { useNewest } from '../../engine/use-newest'
import { useAppDispatch, useAppSelector } from '../../store'
import { planOf } from '../../store/plans'
import { readNow } from '../../store/readings'
import { selectCatalog, selectFrame, selectShownShot, selectWitnesses } from '../../store/selectors'

export function useReadings(): void {
  const engine = useEngine()
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectShownShot)
  const catalog = useAppSelector(selectCatalog)
  const frame = useAppSelector(selectFrame)
  const playing = useAppSelector((state) => state.view.playing.playing)
  const witnesses = useAppSelector(selectWitnesses)
  const ask = useNewest()
  useEffect(() => {
    if (!shot || witnesses.length === 0 || playing) return
    ask(async () => {
      try {
        const plan = planOf(shot, frame, 1, catalog)
        const read = await readWitnesses(engine.measure.bind(engine), plan, witnesses)
        dispatch(readNow(Object.fromEntries(witnesses.map(({ id }, i) => [id, { frame, ...read[i] }]))))
      } catch {
        // The picture says what is wrong with the frame.
      }
    })
  }, [engine, dispatch, shot, catalog, frame, playing, witnesses, ask])
}
