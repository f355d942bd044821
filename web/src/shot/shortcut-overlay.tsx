/** All shortcuts and gestures, to be searched by what they do. */

import Dialog from '@mui/material/Dialog'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useAppDispatch, useAppSelector } from '../store'
import { viewChanged } from '../store/view'
import { gestures, shortcuts } from './shortcuts'

export function ShortcutOverlay() {
  const dispatch = useAppDispatch()
  const open = useAppSelector((state) => state.view.screen.shortcutsOpen)
  const [wanted, setWanted] = useState('')
  const close = () => dispatch(viewChanged({ screen: { shortcutsOpen: false } }))
  const all = [...shortcuts.map(({ name, words }) => [name, words] as const), ...gestures]
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean)
  const found = all.filter(([name, text]) => words.every((word) => `${name} ${text}`.toLowerCase().includes(word)))
  return (
    <Dialog open={open} onClose={close} maxWidth="sm" fullWidth>
      <DialogTitle variant="h2">Shortcuts and gestures</DialogTitle>
      <DialogContent>
        <TextField
          autoFocus
          fullWidth
          size="small"
          label="What should it do?"
          value={wanted}
          onChange={(event) => setWanted(event.target.value)}
          sx={{ mt: 1, mb: 1.5 }}
        />
        <Typography variant="caption" color="textSecondary" component="div" sx={{ mb: 1 }}>
          A key that looks: held, the look ends when it is let go; tapped, it stays until the key is tapped again.
        </Typography>
        <Stack spacing={0.25} sx={{ height: 380, overflow: 'auto' }}>
          {found.map(([name, text]) => (
            <Stack key={`${name} ${text}`} direction="row" spacing={1.5}>
              <Typography variant="body2" sx={{ width: 130, textAlign: 'right', flexShrink: 0 }}>
                {name}
              </Typography>
              <Typography variant="body2" color="textSecondary">
                {text}
              </Typography>
            </Stack>
          ))}
          {found.length === 0 && <Typography variant="body2">Nothing does that. Try another word.</Typography>}
        </Stack>
      </DialogContent>
    </Dialog>
  )
}
