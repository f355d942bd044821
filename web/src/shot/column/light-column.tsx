/** The light path: sources, the elements from far to near, then what joins everything. */

import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import InputBase from '@mui/material/InputBase'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { find, shotWide, usesOf, type ShotWide } from '../../../../core/shot'
import { treatments } from '../../../../core/treatments'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectShownShot } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { SourceDrawer } from '../sources/source-drawer'
import { shotWideWords } from '../shot-wide-words'
import { AddMade } from './add-made'
import { ElementList } from './element-list'
import { lineHeight } from './element-line'

function End({ children }: { children: string }) {
  return (
    <Typography variant="caption" color="textSecondary" component="div" sx={{ px: 1, py: 0.25 }}>
      {children}
    </Typography>
  )
}

/** Glass, sensor or finish, like an element: what is done to more than one. */
function ShotWideLine({ kind }: { kind: ShotWide }) {
  const dispatch = useAppDispatch()
  const selected = useAppSelector((state) => state.shot.selection.primary?.kind === kind)
  const does = useAppSelector((state) => {
    const shot = selectShownShot(state)
    const uses = shot ? usesOf(shot, { kind }).filter(({ on }) => on) : []
    const names = uses.map(({ treatment }) => shot && find(shot.treatments, treatment)?.kind)
    return names.map((name) => (name ? treatments[name].label.toLowerCase() : '')).join(', ')
  })
  return (
    <ButtonBase
      aria-pressed={selected}
      onClick={() => dispatch(shotActions.shotWideSelected(kind))}
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
        {shotWideWords[kind].name}
      </Typography>
      <Typography variant="caption" color="textSecondary" noWrap>
        {does || 'nothing'}
      </Typography>
    </ButtonBase>
  )
}

export function LightColumn() {
  const [wanted, setWanted] = useState('')
  return (
    <Box
      component="nav"
      aria-label="Light path"
      sx={{ gridArea: 'column', borderRight: 1, borderColor: 'divider', display: 'flex', flexDirection: 'column' }}
    >
      <SourceDrawer />
      <Stack direction="row" sx={{ alignItems: 'center' }}>
        <End>far</End>
        <InputBase
          value={wanted}
          placeholder="find name or tag"
          inputProps={{ 'aria-label': 'Find elements by name or tag' }}
          onChange={({ target }) => setWanted(target.value)}
          onKeyDown={(event) => {
            event.stopPropagation()
            if (event.key === 'Escape') setWanted('')
          }}
          sx={{ flex: 1, minWidth: 0, height: 18, fontSize: 11, pr: 1, '& input': { p: 0, textAlign: 'right' } }}
        />
      </Stack>
      <ElementList wanted={wanted} />
      <Stack direction="row" sx={{ alignItems: 'center' }}>
        <End>near</End>
        <AddMade />
      </Stack>
      {shotWide.map((kind) => (
        <ShotWideLine key={kind} kind={kind} />
      ))}
    </Box>
  )
}
