/** A track and three others as the corners of a plane. */

import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { planeOfTracks, type Track } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectTracks } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'

export function PlaneOfFour({ track }: { track: Track }) {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectDocument)
  const tracks = useAppSelector(selectTracks)
  const [chosen, setChosen] = useState<readonly string[]>([])
  const [refused, setRefused] = useState(false)
  const others = tracks.filter(({ id, region }) => id !== track.id && !region)
  if (!shot || others.length < 3) return null
  const corners = [track, ...others.filter(({ id }) => chosen.includes(id))]
  const make = () => {
    const edit = planeOfTracks(shot, corners)
    setRefused(edit === null)
    if (!edit) return
    dispatch(shotActions.edited(edit))
    setChosen([])
  }
  return (
    <Stack spacing={0.5} sx={{ alignItems: 'flex-start' }}>
      <TextField
        select
        fullWidth
        size="small"
        variant="standard"
        label="A plane with three others"
        value={chosen}
        onChange={({ target }) => {
          setChosen(target.value as unknown as string[])
          setRefused(false)
        }}
        slotProps={{ select: { multiple: true } }}
      >
        {others.map(({ id, name }) => (
          <MenuItem key={id} value={id} dense>
            {name}
          </MenuItem>
        ))}
      </TextField>
      <Button sx={{ ml: -0.6 }} disabled={corners.length !== 4} onClick={make}>
        Make a plane of the four
      </Button>
      {refused && (
        <Typography role="status" variant="caption">
          No frame knows all four, or three of them lie in a line.
        </Typography>
      )}
    </Stack>
  )
}
