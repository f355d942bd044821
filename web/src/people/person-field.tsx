/** Where a person says what they are called. */

import Button from '@mui/material/Button'
import Popover from '@mui/material/Popover'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { ColourChoice } from './colour-choice'
import { ColourMark } from './colour-mark'
import { personColour, personName, rememberPerson } from './person'

export function PersonField() {
  const [name, setName] = useState(personName)
  const [colour, setColour] = useState(personColour)
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const close = () => {
    rememberPerson(name, colour)
    setAnchor(null)
  }
  return (
    <>
      <Button
        aria-haspopup="dialog"
        sx={{ color: 'text.secondary' }}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {colour && <ColourMark colour={colour} />}
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
          <ColourChoice name="Your colour" value={colour} onChoose={setColour} />
          <Typography variant="caption" color="textSecondary">
            Name and colour stand beside the changes that you make. They are kept in this browser.
          </Typography>
        </Stack>
      </Popover>
    </>
  )
}
