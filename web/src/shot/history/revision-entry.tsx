/** One state of the shot; while it is looked at, what differs from the present is said. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { differences, type Shot } from '../../../../core/shot'
import { callRevision, type Revision } from '../../api/client'
import { ColourMark } from '../../people/colour-mark'
import { RenameField } from '../column/rename-field'
import { useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'

interface RevisionEntryProps {
  /** its id */
  readonly shot: string
  readonly revision: Revision
  /** nothing was changed after it */
  readonly present: boolean
  /** the document as it was, while it is looked at */
  readonly looked: Shot | null
  readonly onLook: () => void
  readonly onReturn: () => void
  readonly onNamed: () => void
}

const at = new Intl.DateTimeFormat(undefined, { dateStyle: 'short', timeStyle: 'short' })
const narrow = { minWidth: 0, px: 0.6, py: 0 } as const
const mostShown = 30

export function RevisionEntry({ shot, revision: one, present, looked, onLook, onReturn, onNamed }: RevisionEntryProps) {
  const { revision, label, author, colour, createdAt, called } = one
  const [naming, setNaming] = useState(false)
  const name = (text: string | null) => {
    setNaming(false)
    if (text !== null) void callRevision(shot, revision, text).finally(onNamed)
  }
  return (
    <Box role="listitem" aria-label={`Revision ${revision}`} sx={{ borderTop: 1, borderColor: 'divider', pt: 0.5 }}>
      {naming ? (
        <RenameField name={called ?? ''} onName={name} />
      ) : (
        called !== null && <Typography variant="h2">{called}</Typography>
      )}
      <Typography variant="body2">{label}</Typography>
      <Typography variant="caption" color="textSecondary" component="div">
        {revision}, {at.format(new Date(createdAt))}
        {author === null ? '' : ', '}
        {colour !== null && <ColourMark colour={colour} />}
        {author}
        {present ? ', the present' : ''}
      </Typography>
      <Stack direction="row" sx={{ ml: -0.6 }}>
        {!present && (
          <Button sx={narrow} aria-pressed={looked !== null} onClick={onLook}>
            {looked ? 'Stop looking' : 'Look'}
          </Button>
        )}
        {!present && (
          <Button sx={narrow} onClick={onReturn}>
            Return to it
          </Button>
        )}
        <Button sx={narrow} onClick={() => setNaming(true)}>
          Name
        </Button>
      </Stack>
      {looked && <Differences from={looked} />}
    </Box>
  )
}

function Differences({ from }: { from: Shot }) {
  const now = useAppSelector(selectDocument)
  if (!now) return null
  const lines = differences(from, now, mostShown)
  return (
    <Box component="ul" aria-label="What changed since" sx={{ m: 0, pl: 2 }}>
      {lines.length === 0 && <Typography variant="caption">Nothing differs from the present.</Typography>}
      {lines.map((line) => (
        <Typography key={line} variant="caption" component="li">
          {line}
        </Typography>
      ))}
    </Box>
  )
}
