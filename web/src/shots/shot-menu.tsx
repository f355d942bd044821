/** What can be done with a shot of the list, besides opening it. */

import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import { copyShot, putAway, sendEdit, shotFileUrl, type ShotSummary } from '../api/client'
import { tabName } from '../store/tab'

type Asking = 'copy' | 'rename'

const titles: Readonly<Record<Asking, string>> = { copy: 'Duplicate', rename: 'Rename' }

export function ShotMenu({ shot, onChanged }: { shot: ShotSummary; onChanged: () => void }) {
  const { id, name, archived, removed, fault, revision } = shot
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const [asking, setAsking] = useState<Asking | null>(null)
  const close = () => setAnchor(null)
  const put = (change: { archived?: boolean; removed?: boolean }) => {
    close()
    void putAway(id, change).finally(onChanged)
  }
  const ask = (what: Asking) => {
    close()
    setAsking(what)
  }
  return (
    <>
      <Button
        aria-haspopup="menu"
        aria-label={`More of ${name}`}
        sx={{ color: 'text.secondary' }}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        More
      </Button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={close}>
        {!removed && fault === null && <MenuItem onClick={() => ask('rename')}>Rename …</MenuItem>}
        {!removed && fault === null && <MenuItem onClick={() => ask('copy')}>Duplicate …</MenuItem>}
        {fault === null && (
          <MenuItem component="a" href={shotFileUrl(id)} download onClick={close}>
            Save the shot file
          </MenuItem>
        )}
        {!removed && (
          <MenuItem onClick={() => put({ archived: !archived })}>
            {archived ? 'Take out of the archive' : 'Archive'}
          </MenuItem>
        )}
        <MenuItem onClick={() => put({ removed: !removed })}>{removed ? 'Bring back' : 'Remove'}</MenuItem>
      </Menu>
      {asking && (
        <NameDialog
          title={`${titles[asking]} ${name}`}
          action={titles[asking]}
          first={asking === 'copy' ? `${name}-copy` : name}
          onClose={() => setAsking(null)}
          onName={async (wanted) => {
            if (asking === 'copy') await copyShot(id, wanted)
            else {
              const edit = { kind: 'set-shot', changes: { name: wanted } } as const
              await sendEdit(id, { id: crypto.randomUUID(), baseRevision: revision, tab: tabName(), edit })
            }
            onChanged()
          }}
        />
      )}
    </>
  )
}

interface NameDialogProps {
  readonly title: string
  readonly action: string
  readonly first: string
  readonly onClose: () => void
  /** @throws an error whose sentence is shown */
  readonly onName: (name: string) => Promise<void>
}

function NameDialog({ title, action, first, onClose, onName }: NameDialogProps) {
  const [name, setName] = useState(first)
  const [problem, setProblem] = useState<string | null>(null)
  const send = () =>
    onName(name).then(onClose, (error: Error) => {
      setProblem(error.message)
    })
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form onSubmit={(event) => (event.preventDefault(), void send())}>
        <DialogTitle variant="h2">{title}</DialogTitle>
        <DialogContent>
          <TextField
            fullWidth
            autoFocus
            size="small"
            margin="dense"
            label="Name"
            value={name}
            error={problem !== null}
            helperText={problem ?? 'Lower-case letters, digits and dashes.'}
            onChange={({ target }) => setName(target.value)}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained">
            {action}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
