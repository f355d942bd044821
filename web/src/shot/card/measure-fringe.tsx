/** Measures the plate's colour fringe on the frame that is looked at: red and blue become settings, as one step. */

import Stack from '@mui/material/Stack'
import { useStore } from 'react-redux'
import { measuredFringe, type MeasuredFringe } from '../../../../core/lens'
import { valueAt } from '../../../../core/motion/curve'
import type { TreatmentSettings } from '../../../../core/shot'
import { useEngine } from '../../engine/engine-context'
import { useAppDispatch } from '../../store'
import { planOf } from '../../store/plans'
import { selectCatalog, selectDocument, selectFrame } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { MeasurePlate, useMeasuring } from './measuring'

export function MeasureFringe({ settings: { id, parameters } }: { settings: TreatmentSettings }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const engine = useEngine()
  const measure = async () => {
    const state = store.getState()
    const shot = selectDocument(state)
    const frame = selectFrame(state)
    if (!shot) return null
    const { width, height } = shot.frameSize
    const { plate } = planOf(shot, frame, 1, selectCatalog(state))
    if (!plate) return `The plate has nothing on frame ${frame}.`
    const light = await engine.light(plate, { x: 0, y: 0, width, height }, { once: true })
    const at = (name: string) => valueAt(parameters[name][0], frame)
    const found = measuredFringe({ light, width, height, centre: [width / 2 + at('x'), height / 2 + at('y')] })
    if (!found) return `Frame ${frame} of the plate has too few edges to measure it by. Choose another frame.`
    const owner = { kind: 'treatment', id } as const
    const set = (parameter: 'red' | 'blue') =>
      ({
        kind: 'set-parameter',
        at: { owner, parameter, channel: 0 },
        frame,
        value: Number((100 * found[parameter]).toFixed(4)),
      }) as const
    dispatch(
      shotActions.edited({
        kind: 'together',
        changes: [set('red'), set('blue')],
        label: 'Measure the colour fringe',
      }),
    )
    return wordsOf(found, frame, Math.hypot(width, height) / 2)
  }
  return (
    <Stack sx={{ alignItems: 'flex-start' }}>
      <MeasurePlate
        measuring={useMeasuring(measure)}
        hint="On edges all over this frame, about the centre as it is set."
      />
    </Stack>
  )
}

/** @param corner pixels from the middle to a corner */
const wordsOf = ({ red, redError, blue, blueError, places }: MeasuredFringe, frame: number, corner: number) => {
  const px = (share: number) => `${share < 0 ? '−' : ''}${Math.abs(share * corner).toFixed(2)}`
  const one = (share: number, error: number) => `${px(share)} ± ${Math.max(0.01, error * corner).toFixed(2)} px`
  return `On ${frame}, at the corners: red ${one(red, redError)}, blue ${one(blue, blueError)} farther out than green, by ${places} places.`
}
