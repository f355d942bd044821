/** Whether the shot's glass acts on an element; asked only where there is such glass. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { memo } from 'react'
import { usesOf } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'

export const OwnGlass = memo(function OwnGlass({ id, own }: { id: string; own: boolean }) {
  const dispatch = useAppDispatch()
  const hasGlass = useAppSelector((state) => {
    const shot = selectDocument(state)
    return shot !== null && usesOf(shot, { kind: 'glass' }).some(({ on }) => on)
  })
  if (!hasGlass && !own) return null
  return (
    <Stack direction="row" sx={{ alignItems: 'center', justifyContent: 'space-between' }}>
      <Typography variant="body2">{own ? 'Without the glass of the shot' : 'Through the glass of the shot'}</Typography>
      <Button
        sx={{ minWidth: 0, px: 0.6, py: 0 }}
        aria-label={own ? 'Let the glass act on it' : 'Keep the glass off it'}
        onClick={() => dispatch(shotActions.edited({ kind: 'set-own-glass', element: id, own: !own }))}
      >
        {own ? 'Let it act' : 'Keep it off'}
      </Button>
    </Stack>
  )
})
