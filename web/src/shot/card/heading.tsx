/** The head of an element's card: its name, whether it is on, how it is blended. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { memo, useState } from 'react'
import { blendKinds, blends, type BlendKind } from '../../../../core/set/blends'
import { PinButton } from './pin-button'
import { RenameField } from '../column/rename-field'
import { useAppDispatch } from '../../store'
import { shotActions } from '../../store/shot-slice'

interface HeadingProps {
  readonly id: string
  readonly name: string
  readonly visible: boolean
  readonly isPlate: boolean
  readonly blend: BlendKind
  readonly pinned: boolean
}

/** Of the element only what stands here: the rest changes while a number is dragged. */
export const Heading = memo(function Heading({ id, name, visible, isPlate, blend, pinned }: HeadingProps) {
  const dispatch = useAppDispatch()
  const [renaming, setRenaming] = useState(false)
  const rename = (changed: string | null) => {
    setRenaming(false)
    if (changed !== null && changed !== name)
      dispatch(shotActions.edited({ kind: 'describe-element', element: id, changes: { name: changed } }))
  }
  return (
    <Stack spacing={0.5}>
      <Stack direction="row" sx={{ alignItems: 'center', justifyContent: 'space-between' }}>
        {renaming ? (
          <RenameField name={name} onName={rename} />
        ) : (
          <ButtonBase
            aria-label={`Rename ${name}`}
            title="Rename"
            onClick={() => setRenaming(true)}
            sx={{ minWidth: 0, '&:hover': { textDecoration: 'underline dotted' } }}
          >
            <Typography variant="h2" noWrap>
              {name}
            </Typography>
          </ButtonBase>
        )}
        <Box sx={{ flex: 1 }} />
        {!pinned && <PinButton />}
        {!isPlate && (
          <Button
            sx={{ mr: -0.6, minWidth: 0 }}
            aria-label={`${visible ? 'Hide' : 'Show'} ${name}`}
            onClick={() => dispatch(shotActions.edited({ kind: 'show-element', element: id, visible: !visible }))}
          >
            {visible ? 'Hide' : 'Show'}
          </Button>
        )}
      </Stack>
      {isPlate ? (
        <Typography variant="caption" color="textSecondary">
          The plate: everything else is blended over it.
        </Typography>
      ) : (
        <Box>
          <TextField
            select
            fullWidth
            size="small"
            variant="standard"
            value={blend}
            slotProps={{ select: { 'aria-label': 'Blend' } }}
            onChange={({ target }) =>
              dispatch(shotActions.edited({ kind: 'set-blend', element: id, blend: target.value as BlendKind }))
            }
          >
            {blendKinds.map((kind) => (
              <MenuItem key={kind} value={kind} dense>
                {blends[kind].label}
              </MenuItem>
            ))}
          </TextField>
          <Typography variant="caption" color="textSecondary" component="div">
            {blends[blend].help}
          </Typography>
        </Box>
      )}
    </Stack>
  )
})
