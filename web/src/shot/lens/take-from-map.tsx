/** The lens's numbers from a map that somebody else made of it: what moves behind the lens needs them. */

import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useStore } from 'react-redux'
import { sizeOfMap } from '../../../../core/check'
import { lensOfMap, mapSeen, placesInMap, type LensOfMap, type MapSeen } from '../../../../core/lens'
import { valueAt } from '../../../../core/motion/curve'
import { sourceStep } from '../../../../core/plan/source'
import { measuredLens, type TreatmentSettings } from '../../../../core/shot'
import { useEngine } from '../../engine/engine-context'
import { useAppDispatch, useAppSelector } from '../../store'
import { planningOf } from '../../store/plans'
import { selectCatalog, selectDocument, selectFrame, selectReports, selectSources } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { sourcesFor } from '../card/treatment-sources'
import { useReports } from '../sources/use-reports'

const noMap = 'choose'

export function TakeFromMap({ settings: { id, parameters } }: { settings: TreatmentSettings }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const engine = useEngine()
  const maps = sourcesFor('vec2', useAppSelector(selectSources))
  const [map, setMap] = useState(noMap)
  const [says, setSays] = useState<string | null>(null)
  const { problem } = useReports(map !== noMap)
  const size = useAppSelector((state) => sizeFault(state, map))
  const take = async () => {
    const state = store.getState()
    const [shot, catalog, frame] = [selectDocument(state), selectCatalog(state), selectFrame(state)]
    if (!shot || !catalog) return
    setSays('Reading the map …')
    try {
      const step = sourceStep(planningOf(shot, 1, catalog), map, null, null, 'vec2', frame)
      if (!step) return setSays(`That source has nothing on frame ${frame}.`)
      const window = { x: 0, y: 0, ...shot.frameSize }
      const [right, below] = await Promise.all(
        placesInMap(step, window).map((one) => engine.light(one, window, { once: true })),
      )
      const given = { frame: shot.frameSize, squeeze: valueAt(parameters.squeeze[0], frame) }
      const seen = mapSeen(right, below, window)
      const found = lensOfMap(seen, given)
      const change = measuredLens(shot, id, found.lens, frame, 'a map')
      if (change) dispatch(shotActions.edited(change))
      setSays(wordsOf(found, seen))
    } catch (error) {
      setSays(error instanceof Error ? error.message : String(error))
    }
  }
  if (maps.length === 0) return null
  return (
    <>
      <Stack direction="row" spacing={0.5} sx={{ alignItems: 'flex-end' }}>
        <TextField
          select
          size="small"
          variant="standard"
          label="Map of the lens"
          value={maps.some((one) => one.id === map) ? map : noMap}
          onChange={({ target: { value } }) => {
            setMap(value)
            setSays(null)
          }}
          sx={{ flex: 1 }}
        >
          <MenuItem value={noMap} dense>
            choose one
          </MenuItem>
          {maps.map((one) => (
            <MenuItem key={one.id} value={one.id} dense>
              {one.name}
            </MenuItem>
          ))}
        </TextField>
        <Button disabled={map === noMap || size !== null} onClick={() => void take()}>
          Take its numbers
        </Button>
      </Stack>
      {(size ?? problem ?? says) !== null && (
        <Typography variant="caption" role="status">
          {size ?? problem ?? says}
        </Typography>
      )}
    </>
  )
}

/** Why no numbers are taken of a map: it is of another size; null: it is not, or is not measured yet. */
function sizeFault(state: RootState, map: string): string | null {
  const header = selectReports(state)?.find(({ source }) => source === map)?.header
  const shot = selectDocument(state)
  if (!header || !shot) return null
  const { width, height } = header.parts[0].displayWindow
  const [fault] = sizeOfMap(width, height, shot.frameSize)
  return fault ? `${fault.what}. ${fault.why}` : null
}

/** The distance is rounded up. */
function wordsOf({ worst }: LensOfMap, { seen, looked }: MapSeen): string {
  const within = `By these numbers every place lies within ${(Math.ceil(worst * 1000) / 1000).toFixed(3)} px of where the map has it.`
  const holes = looked - seen.length
  return holes === 0 ? within : `${within} The map has holes: ${holes} of ${looked} places of the frame are not in it.`
}
