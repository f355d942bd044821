/** The light path: sources, the elements from far to near, then what joins everything. */

import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import Typography from '@mui/material/Typography'
import { find, usesOf } from '../../../../core/shot'
import { treatments } from '../../../../core/treatments'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectShownShot } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { SourceDrawer } from '../sources/source-drawer'
import { ElementList } from './element-list'
import { lineHeight } from './element-line'

function End({ children }: { children: string }) {
  return (
    <Typography variant="caption" color="textSecondary" component="div" sx={{ px: 1, py: 0.25 }}>
      {children}
    </Typography>
  )
}

/** The finish, like an element: what is done to the whole picture. */
function Finish() {
  const dispatch = useAppDispatch()
  const selected = useAppSelector((state) => state.shot.selection.primary?.kind === 'finish')
  const does = useAppSelector((state) => {
    const shot = selectShownShot(state)
    const uses = shot ? usesOf(shot, { kind: 'finish' }).filter(({ on }) => on) : []
    const names = uses.map(({ treatment }) => shot && find(shot.treatments, treatment)?.kind)
    return names.map((kind) => (kind ? treatments[kind].label.toLowerCase() : '')).join(', ')
  })
  return (
    <ButtonBase
      aria-pressed={selected}
      onClick={() => dispatch(shotActions.finishSelected())}
      sx={{
        display: 'flex',
        width: '100%',
        height: lineHeight,
        flexShrink: 0,
        gap: 0.75,
        pl: '28px',
        pr: 0.75,
        bgcolor: selected ? 'action.selected' : undefined,
        borderLeft: 2,
        borderColor: selected ? 'primary.main' : 'transparent',
        '&:hover': { bgcolor: 'action.selected' },
      }}
    >
      <Typography variant="body2" sx={{ flex: 1, textAlign: 'left' }}>
        Finish
      </Typography>
      <Typography variant="caption" color="textSecondary" noWrap>
        {does || 'nothing'}
      </Typography>
    </ButtonBase>
  )
}

export function LightColumn() {
  return (
    <Box
      component="nav"
      aria-label="Light path"
      sx={{ gridArea: 'column', borderRight: 1, borderColor: 'divider', display: 'flex', flexDirection: 'column' }}
    >
      <SourceDrawer />
      <End>far</End>
      <ElementList />
      <End>near</End>
      <Finish />
    </Box>
  )
}
