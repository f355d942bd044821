/** Measures the backing of a key on the frame that is looked at: its picks, its channel and its noise become settings, as one step. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useStore } from 'react-redux'
import { measuredBacking, type MeasuredBacking } from '../../../../core/match/measured-backing'
import { inverseOf, throughMatrix } from '../../../../core/motion/mapping'
import { nodeAt } from '../../../../core/plan/node'
import {
  allOf,
  newId,
  newPoint,
  placedMatrix,
  type Shot,
  type SingleChange,
  type TreatmentSettings,
  type Use,
} from '../../../../core/shot'
import { treatments } from '../../../../core/treatments'
import { useEngine } from '../../engine/engine-context'
import { useAppDispatch } from '../../store'
import { planningOf } from '../../store/plans'
import { selectCatalog, selectDocument, selectFrame } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'

/** Noise is measured well in fewer pixels. */
const scale = 2
/** Softened over its neighbours, noise of coverage is so much less; below two and a half of that is nothing. */
const clearOf = (noise: number) => Math.min(0.2, Math.max(0.004, 2.5 * 0.19 * noise))

export function MeasureBacking({ use, settings }: { use: Use; settings: TreatmentSettings }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const engine = useEngine()
  const [says, setSays] = useState<string | null>(null)
  const { owner } = use
  if (owner.kind !== 'element') return null
  const measure = async () => {
    const state = store.getState()
    const shot = selectDocument(state)
    const frame = selectFrame(state)
    if (!shot) return
    setSays('Measuring …')
    const { width, height } = shot.frameSize
    const window = { x: 0, y: 0, width: Math.ceil(width / scale), height: Math.ceil(height / scale) }
    try {
      const node = { kind: 'element', id: owner.id, upTo: { input: true } } as const
      const step = nodeAt(planningOf(shot, scale, selectCatalog(state)), node, frame)
      const found = step && measuredBacking(await engine.light(step, window), window.width, window.height, scale)
      if (!found) return setSays(`No green, blue or red backing is seen on frame ${frame}.`)
      dispatch(shotActions.edited(editOf(shot, owner.id, settings, found, frame)))
      setSays(wordsOf(found, frame))
    } catch (error) {
      setSays(error instanceof Error ? error.message : String(error))
    }
  }
  return (
    <Stack sx={{ alignItems: 'flex-start' }}>
      <Button sx={{ ml: -0.6 }} onClick={() => void measure()}>
        Measure the backing
      </Button>
      <Typography variant="caption" color="textSecondary" role="status">
        {says ?? 'Its light is measured wherever it is surely seen on this frame.'}
      </Typography>
    </Stack>
  )
}

const wordsOf = ({ channel, share, unevenness, noise }: MeasuredBacking, frame: number) =>
  `On ${frame}: ${channel}, seen in ${Math.round(100 * share)} % of the frame, uneven by ${Math.round(100 * unevenness)} %, noise ${noise.toFixed(3)} of coverage.`

/** The picks that were there go; those that were measured come, where they lie in the element's own picture. */
function editOf(shot: Shot, element: string, { id, points }: TreatmentSettings, found: MeasuredBacking, frame: number) {
  const of = { kind: 'treatment', id } as const
  const own = inverseOf(placedMatrix(shot, element, frame))
  const gone = allOf(points ?? { byId: {} }).map((point): SingleChange => ({
    kind: 'remove-point',
    of,
    point: point.id,
  }))
  const come = found.picks.map(({ x, y, light }): SingleChange => {
    const [px, py] = (own && throughMatrix(own, x, y)) ?? [x, y]
    const colour = light.map((value) => Number(value.toFixed(5)))
    return {
      kind: 'add-point',
      of,
      point: newPoint(treatments['backing-key'], newId(), { x: [Math.round(px)], y: [Math.round(py)], colour }),
    }
  })
  const changes: SingleChange[] = [
    ...gone,
    ...come,
    { kind: 'set-choice', of, name: 'channel', value: found.channel },
    {
      kind: 'set-parameter',
      at: { owner: of, parameter: 'clear', channel: 0 },
      frame,
      value: Number(clearOf(found.noise).toFixed(3)),
    },
  ]
  return { kind: 'together', changes, label: 'Measure the backing' } as const
}
