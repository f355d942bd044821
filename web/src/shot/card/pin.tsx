/** The tracks that a placed element moves with: which, from which frame, and how much of their motion. */

import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useStore } from 'react-redux'
import { motionModels, pointsNeeded, type MotionModel } from '../../../../core/motion/fitted-motion'
import { pinMoved, pinned, type Element, type Pin, type Placing } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectTracks } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'

const narrow = { minWidth: 0, px: 0.6, py: 0 } as const
const byWords: Readonly<Record<MotionModel, string>> = {
  position: 'Position',
  similarity: 'Position, rotation, scale',
  affine: 'Affine',
  homography: 'Perspective',
}

/** As much as so many tracks tell well. */
const usual = (count: number): MotionModel => (count > 1 ? 'similarity' : 'position')

export function PinRows({ element, placing }: { element: Element; placing: Placing }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const tracks = useAppSelector(selectTracks)
  const shot = useAppSelector(selectDocument)
  const { pin } = placing
  if (tracks.length === 0 && !pin)
    return (
      <Typography variant="caption" color="textSecondary">
        To let it move with the plate, track points first (Shift T).
      </Typography>
    )
  const frameNow = () => store.getState().view.playing.frame
  const set = (next: Pin | null) => {
    const edit = shot && pinned(shot, element.id, next)
    if (edit) dispatch(shotActions.edited(edit))
  }
  const choose = (id: string, on: boolean) => {
    const before = pin?.tracks ?? []
    const next = on ? [...before, id] : before.filter((one) => one !== id)
    if (next.length === 0) return set(null)
    const by =
      pin && pointsNeeded[pin.by] <= next.length && pin.by !== usual(before.length) ? pin.by : usual(next.length)
    set({ ...pin, frame: pin?.frame ?? frameNow(), tracks: next, by })
  }
  const gone = (pin?.tracks ?? []).filter((id) => !tracks.some((one) => one.id === id))
  const field = { select: true, size: 'small', variant: 'standard' } as const
  return (
    <Stack role="group" aria-label="Pin" spacing={0.5}>
      <Typography variant="body2">{pin ? `Pinned, as placed on ${pin.frame}` : 'Pin to tracks'}</Typography>
      <Stack sx={{ maxHeight: 110, overflow: 'auto' }}>
        {[...tracks, ...gone.map((id) => ({ id, name: 'a track that is gone' }))].map(({ id, name }) => (
          <FormControlLabel
            key={id}
            sx={{ ml: -0.75, my: -0.5 }}
            slotProps={{ typography: { variant: 'body2', noWrap: true } }}
            control={
              <Checkbox
                size="small"
                checked={pin?.tracks.includes(id) ?? false}
                onChange={(_event, on) => choose(id, on)}
              />
            }
            label={name}
          />
        ))}
      </Stack>
      {pin && (
        <>
          <Stack direction="row" spacing={1}>
            <TextField
              {...field}
              label="Follows their"
              sx={{ flex: 1, minWidth: 0 }}
              value={pin.by}
              onChange={({ target: { value } }) => set({ ...pin, by: value as MotionModel })}
            >
              {motionModels.map((by) => (
                <MenuItem key={by} value={by} dense disabled={pointsNeeded[by] > pin.tracks.length}>
                  {byWords[by]}
                  {pointsNeeded[by] > pin.tracks.length ? `, takes ${pointsNeeded[by]} tracks` : ''}
                </MenuItem>
              ))}
            </TextField>
            <TextField
              {...field}
              label="After they end"
              sx={{ flex: 1, minWidth: 0 }}
              value={pin.beyond ?? 'held'}
              onChange={({ target: { value } }) => {
                const { beyond: _before, ...rest } = pin
                set(value === 'gone' ? { ...rest, beyond: 'gone' } : rest)
              }}
            >
              <MenuItem value="held" dense>
                Stays there
              </MenuItem>
              <MenuItem value="gone" dense>
                Is gone
              </MenuItem>
            </TextField>
          </Stack>
          <Stack direction="row" sx={{ ml: -0.6 }}>
            <Button
              sx={narrow}
              onClick={() => {
                const edit = shot && pinMoved(shot, element.id, frameNow())
                if (edit) dispatch(shotActions.edited(edit))
              }}
            >
              As placed on this frame
            </Button>
            <Button sx={narrow} onClick={() => set(null)}>
              Unpin
            </Button>
          </Stack>
        </>
      )}
    </Stack>
  )
}
