/** What a reveal shows where its matte is: the plate, or any other source. */

import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { memo } from 'react'
import { type Element, mediaKind } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectSources } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'

export const Reveals = memo(function Reveals({ element: { id, blend } }: { element: Element }) {
  const dispatch = useAppDispatch()
  const sources = useAppSelector(selectSources).filter(
    ({ path, forComparing }) => mediaKind(path) === 'picture' && !forComparing,
  )
  const chosen = blend.shows?.source ?? ''
  const choose = (source: string) =>
    dispatch(
      shotActions.edited({
        kind: 'set-reveal',
        element: id,
        shows: source === '' ? null : { source, part: null },
      }),
    )
  return (
    <TextField
      select
      size="small"
      variant="standard"
      label="Reveals"
      value={chosen === '' || sources.some((one) => one.id === chosen) ? chosen : ''}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      onChange={({ target }) => choose(target.value)}
    >
      <MenuItem value="" dense>
        the plate as it is treated
      </MenuItem>
      {sources.map((source) => (
        <MenuItem key={source.id} value={source.id} dense>
          {source.name}
        </MenuItem>
      ))}
    </TextField>
  )
})
