/** The mattes of the shot, in the drawer: each opens its card; new ones are drawn, or made of what is there. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import type { Matte } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import {
  selectDocument,
  selectElementId,
  selectMatteId,
  selectMattes,
  selectReports,
  selectSources,
} from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { viewChanged } from '../../store/view'
import { useReports } from '../sources/use-reports'
import { kindWords } from './matte-words'
import { newMattes } from './new-mattes'

export function MatteList({ wanted, onTool }: { wanted: string; onTool: () => void }) {
  const dispatch = useAppDispatch()
  const mattes = useAppSelector(selectMattes)
  const selected = useAppSelector(selectMatteId)
  const draw = () => {
    dispatch(shotActions.sourceSelected(null))
    dispatch(viewChanged({ screen: { tool: 'outline' } }))
    onTool()
  }
  return (
    <Box role="group" aria-label="Mattes" sx={{ borderTop: 1, borderColor: 'divider', pt: 0.5 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', pl: 1.2, pr: 0.6 }}>
        <Typography variant="caption" color="textSecondary" sx={{ flex: 1 }}>
          {mattes.length === 0 ? 'No mattes yet' : 'Mattes'}
        </Typography>
        <Button onClick={draw}>Draw a matte</Button>
        <MadeOf onMade={onTool} />
      </Box>
      {mattes
        .filter(({ name }) => name.toLowerCase().includes(wanted.toLowerCase()))
        .map((matte) => (
          <ButtonBase
            key={matte.id}
            aria-pressed={matte.id === selected}
            onClick={() =>
              dispatch(
                matte.id === selected
                  ? shotActions.sourceSelected(null)
                  : shotActions.thingSelected({ kind: 'matte', id: matte.id }),
              )
            }
            sx={{
              ...{ display: 'flex', width: '100%', textAlign: 'left', gap: 0.75, px: 1.2, py: 0.3 },
              bgcolor: matte.id === selected ? 'action.selected' : undefined,
              '&:hover': { bgcolor: 'action.selected' },
            }}
          >
            <Typography variant="body2" noWrap sx={{ flex: 1, minWidth: 0 }}>
              {matte.name}
            </Typography>
            <Typography variant="caption" color="textSecondary">
              {kindWords(matte)}
            </Typography>
          </ButtonBase>
        ))}
    </Box>
  )
}

/** Mattes that are not drawn. */
function MadeOf({ onMade }: { onMade: () => void }) {
  const dispatch = useAppDispatch()
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const shot = useAppSelector(selectDocument)
  const element = useAppSelector(selectElementId)
  const sources = useAppSelector(selectSources)
  useReports(anchor !== null)
  const reports = useAppSelector(selectReports)
  const add = (matte: Matte) => {
    setAnchor(null)
    dispatch(shotActions.edited({ kind: 'add-matte', matte }))
    dispatch(shotActions.thingSelected({ kind: 'matte', id: matte.id }))
    if (matte.kind === 'painted') dispatch(viewChanged({ screen: { tool: 'brush' } }))
    onMade()
  }
  return (
    <>
      <Button onClick={(event) => setAnchor(event.currentTarget)}>Made of …</Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {anchor &&
          shot &&
          newMattes(shot, element, sources, reports ?? []).map(({ text, matte }) => (
            <MenuItem key={text} dense onClick={() => add(matte())}>
              {text}
            </MenuItem>
          ))}
      </Menu>
    </>
  )
}
