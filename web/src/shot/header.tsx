/** Where one is, what can be undone, and how saving stands. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Link from '@mui/material/Link'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import { Link as RouterLink } from 'react-router'
import { useAppDispatch, useAppSelector } from '../store'
import { shotActions, type Saving } from '../store/shot-slice'
import { selectWork } from '../store/selectors'
import { viewChanged } from '../store/view'
import { PersonField } from '../people/person-field'
import { WorkCorner } from '../work/work-corner'

const savingText: Record<Saving, string> = {
  saved: 'Saved',
  saving: 'Saving …',
  unreachable: 'Not saved yet: the server does not answer. Trying again.',
}

export function Header() {
  const dispatch = useAppDispatch()
  const name = useAppSelector((state) => state.shot.shot?.name)
  const undo = useAppSelector((state) => state.shot.past.at(-1)?.label)
  const redo = useAppSelector((state) => state.shot.future[0]?.label)
  const saving = useAppSelector((state) => state.shot.saving)
  const revision = useAppSelector((state) => state.shot.revision)
  const work = useAppSelector(selectWork)
  const instead = useAppSelector((state) => state.view.screen.instead)
  const open = (what: 'deliveries' | 'history' | 'matching') =>
    dispatch(viewChanged({ screen: { instead: instead === what ? null : what } }))
  return (
    <Box
      component="header"
      sx={{
        gridArea: 'head',
        display: 'flex',
        alignItems: 'center',
        gap: 2,
        px: 1.5,
        borderBottom: 1,
        borderColor: 'divider',
      }}
    >
      <Typography color="textSecondary">
        <Link component={RouterLink} to="/" color="inherit" underline="hover">
          shots
        </Link>
        {' / '}
        <Box component="b" sx={{ color: 'text.primary' }}>
          {name}
        </Box>
      </Typography>
      <Box sx={{ flex: 1 }} />
      <WorkCorner work={work} />
      <PersonField />
      <Tooltip title={undo !== undefined ? `Take back: ${undo}` : 'Nothing to take back'}>
        <span>
          <Button disabled={undo === undefined} onClick={() => dispatch(shotActions.undone())}>
            Undo
          </Button>
        </span>
      </Tooltip>
      <Tooltip title={redo !== undefined ? `Make again: ${redo}` : 'Nothing to make again'}>
        <span>
          <Button disabled={redo === undefined} onClick={() => dispatch(shotActions.redone())}>
            Redo
          </Button>
        </span>
      </Tooltip>
      <Typography color={saving === 'unreachable' ? 'primary' : 'textSecondary'} role="status" aria-label="Saving">
        {savingText[saving]}
        {saving === 'saved' && `, revision ${revision}`}
      </Typography>
      <Button aria-pressed={instead === 'matching'} onClick={() => open('matching')}>
        Match
      </Button>
      <Button aria-pressed={instead === 'history'} onClick={() => open('history')}>
        History
      </Button>
      <Button variant="outlined" aria-pressed={instead === 'deliveries'} onClick={() => open('deliveries')}>
        Deliver
      </Button>
    </Box>
  )
}
