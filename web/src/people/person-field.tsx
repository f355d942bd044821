/** Where a person says what they are called. */

import Button from '@mui/material/Button'
import Popover from '@mui/material/Popover'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { personName, rememberPerson } from './person'

export function PersonField() {
  const [name, setName] = useState(personName)
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const close = () => {
    rememberPerson(name)
    setAnchor(null)
  }
  return (
    <>
      <Button
        aria-haspopup="dialog"
        sx={{ color: 'text.secondary' }}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {name.trim() || 'Your name'}
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={close}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
      >
        <Stack
          component="form"
          role="dialog"
          aria-label="Your name"
          spacing={1}
          sx={{ p: 1.5, width: 260 }}
          onSubmit={(event) => {
            event.preventDefault()
            close()
          }}
        >
          <TextField
            label="Your name"
            size="small"
            value={name}
            autoFocus
            onChange={({ target }) => setName(target.value)}
          />
          <Typography variant="caption" color="textSecondary">
            It stands beside the changes that you make. It is kept in this browser.
          </Typography>
        </Stack>
      </Popover>
    </>
  )
}
