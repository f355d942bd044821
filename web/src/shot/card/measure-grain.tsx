/** Measures the plate's grain at each level of light: its strength becomes settings, as one step, with what was measured drawn beside them. */

import Stack from '@mui/material/Stack'
import { lazy, Suspense, useState } from 'react'
import { useStore } from 'react-redux'
import { plateGrain, type PlateGrain } from '../../../../core/measure/plate-grain'
import type { Change, TreatmentSettings } from '../../../../core/shot'
import { useEngine } from '../../engine/engine-context'
import { useAppDispatch } from '../../store'
import { planOf } from '../../store/plans'
import { selectCatalog, selectDocument, selectFrame } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { MeasurePlate, useMeasuring } from './measuring'

const GrainPlot = lazy(() => import('./grain-plot').then((module) => ({ default: module.GrainPlot })))

/** Settings are in thousandths of light, with so many digits. */
const inThousandths = (value: number) => Number((1000 * value).toFixed(3))

/** Of each channel, as the settings have it. */
function changesTo({ channels }: PlateGrain, id: string, frame: number): Change {
  const set = (parameter: 'shot' | 'read'): Change => ({
    ...{ kind: 'set-channels', at: { owner: { kind: 'treatment', id }, parameter }, frame },
    values: channels.map((one) => inThousandths(one[parameter])),
  })
  return { kind: 'together', changes: [set('shot'), set('read')], label: 'Measure the plate’s grain' } as Change
}

export function MeasureGrain({ settings }: { settings: TreatmentSettings }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const engine = useEngine()
  const [found, setFound] = useState<PlateGrain | null>(null)
  const measure = async () => {
    const state = store.getState()
    const shot = selectDocument(state)
    if (!shot) return null
    const window = { x: 0, y: 0, ...shot.frameSize }
    const grain = await plateGrain(shot.frames, shot.frameSize, (frame) => {
      const { plate } = planOf(shot, frame, 1, selectCatalog(state))
      return plate ? engine.light(plate, window, { once: true }) : Promise.resolve(null)
    })
    dispatch(shotActions.edited(changesTo(grain, settings.id, selectFrame(store.getState()))))
    setFound(grain)
    return wordsOf(grain)
  }
  return (
    <Stack sx={{ alignItems: 'flex-start' }}>
      <MeasurePlate
        measuring={useMeasuring(measure)}
        hint="On flat places all over the plate, by what differs from one frame to the next."
      />
      {found && (
        <Suspense>
          <GrainPlot grain={found} parameters={settings.parameters} />
        </Suspense>
      )}
    </Stack>
  )
}

const names = ['red', 'green', 'blue'] as const
/** Off the line by more than this share, two numbers do not say what the grain is. */
const onTheLine = 0.1

function wordsOf({ channels, frames, looked, refused }: PlateGrain): string {
  const flat = looked - Object.values(refused).reduce((sum, count) => sum + count, 0)
  const on = frames.length === 1 ? `frames ${frames[0]} and ${frames[0] + 1}` : `${frames.length} pairs of frames`
  const off = channels.flatMap(({ farthest }, c) =>
    farthest > onTheLine ? [`${names[c]} by ${Math.round(100 * farthest)} %`] : [],
  )
  const far = off.length === 0 ? '' : ` Off the drawn line at its worst: ${off.join(', ')}.`
  return `On ${on}: ${flat} of ${looked} places are flat.${far}`
}
