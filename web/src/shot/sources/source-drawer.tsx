/** The drawer above the light path: what came in, and whether it is what it claims to be; and the tracks that were made of it. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import InputBase from '@mui/material/InputBase'
import Paper from '@mui/material/Paper'
import Popper from '@mui/material/Popper'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { lazy, Suspense, useEffect, useRef, useState } from 'react'
import type { Finding } from '../../../../core/check'
import { mediaKind, type MissingSource, type Source } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectFindings, selectSourceId, selectSources } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { listMissing } from '../../api/client'
import { MatteList } from '../mattes/matte-list'
import { MadeFiles } from './making/made-files'
import { MakeMenu } from './making/make-menu'
import { TrackList } from '../tracks/track-list'
import { useReports } from './use-reports'
import { verdictMark } from './verdict-mark'

const ImportSources = lazy(() => import('./import-sources').then((module) => ({ default: module.ImportSources })))
const Relink = lazy(() => import('./relink').then((module) => ({ default: module.Relink })))
const ClaimsCheck = lazy(() => import('./claims-check').then((module) => ({ default: module.ClaimsCheck })))

function SourceEntry({ source, findings }: { source: Source; findings: readonly Finding[] }) {
  const dispatch = useAppDispatch()
  const selected = useAppSelector((state) => selectSourceId(state) === source.id)
  const { frames, offset = 0 } = source
  return (
    <ButtonBase
      onClick={() => dispatch(shotActions.sourceSelected(selected ? null : source.id))}
      aria-pressed={selected}
      sx={{
        display: 'flex',
        width: '100%',
        textAlign: 'left',
        gap: 0.75,
        px: 1.2,
        py: 0.3,
        bgcolor: selected ? 'action.selected' : undefined,
        '&:hover': { bgcolor: 'action.selected' },
      }}
    >
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Typography variant="body2" noWrap>
          {source.name}
        </Typography>
        <Typography variant="caption" color="textSecondary" noWrap component="div">
          {frames
            ? `${frames.first + offset} to ${frames.last + offset}`
            : mediaKind(source.path) === 'camera'
              ? 'camera'
              : 'still'}
          {source.made ? ', made here' : ''}
          {source.forComparing ? ', for comparing' : ''}
        </Typography>
      </Box>
      <Typography
        component="span"
        color="primary"
        role="img"
        aria-label={findings.map(({ what }) => what).join('; ') || 'agrees'}
      >
        {verdictMark(findings)}
      </Typography>
    </ButtonBase>
  )
}

const drawerWidth = 300
/** So many are found by eye. */
const fewSources = 8

const none: readonly MissingSource[] = []

/** Asked when the drawer is opened, and again when the sources change. */
function useMissing(open: boolean): readonly MissingSource[] {
  const id = useAppSelector((state) => state.shot.id) ?? ''
  const sources = useAppSelector((state) => selectDocument(state)?.sources)
  const saved = useAppSelector((state) => state.shot.saving === 'saved')
  const [missing, setMissing] = useState(none)
  useEffect(() => {
    if (!open || !saved) return
    let left = false
    listMissing(id).then(
      (found) => left || setMissing(found),
      () => undefined,
    )
    return () => {
      left = true
    }
  }, [id, open, saved, sources])
  return missing
}

export function SourceDrawer() {
  const [open, setOpen] = useState(false)
  const head = useRef<HTMLButtonElement>(null)
  const [dialog, setDialog] = useState<'import' | 'check' | 'relink' | null>(null)
  const [wanted, setWanted] = useState('')
  const missing = useMissing(open)
  const sources = useAppSelector(selectSources)
  const cardOpen = useAppSelector((state) => selectSourceId(state) !== null)
  const findings = useAppSelector(selectFindings)
  const { busy, problem } = useReports(open || cardOpen || dialog === 'check')
  const verdict = busy
    ? 'measuring …'
    : findings === null
      ? ''
      : findings.length === 0
        ? 'all agree'
        : `${findings.length} to look at`
  return (
    <Box component="section" aria-label="Sources" sx={{ borderBottom: 1, borderColor: 'divider', flexShrink: 0 }}>
      <ButtonBase
        ref={head}
        onClick={() => setOpen(!open)}
        aria-expanded={open}
        sx={{ display: 'flex', width: '100%', px: 1.2, py: 0.75, gap: 0.75, justifyContent: 'flex-start' }}
      >
        <Typography variant="h2" noWrap sx={{ fontSize: 13, flexShrink: 0 }}>
          {open ? '▾' : '▸'} Sources
        </Typography>
        <Typography variant="caption" color="textSecondary">
          {sources.length}
        </Typography>
        <Box sx={{ flex: 1 }} />
        <Typography variant="caption" color="textSecondary" noWrap role="status" aria-label="Verdict on the sources">
          {verdict}
        </Typography>
      </ButtonBase>
      {/* Over the column and wider than it; it stays open while sources are chosen. */}
      <Popper
        role="presentation"
        open={open}
        anchorEl={head.current}
        placement="bottom-start"
        sx={{ zIndex: 'drawer' }}
      >
        <Paper
          role="region"
          aria-label="Sources"
          square
          sx={{ width: drawerWidth, border: 1, borderColor: 'divider', bgcolor: 'background.paper' }}
        >
          {sources.length > fewSources && (
            <InputBase
              value={wanted}
              placeholder="find a source"
              inputProps={{ 'aria-label': 'Find a source' }}
              onChange={({ target }) => setWanted(target.value)}
              onKeyDown={(event) => event.stopPropagation()}
              sx={{ width: '100%', px: 1.2, fontSize: 12 }}
            />
          )}
          {missing.length > 0 && (
            <Button sx={{ mx: 0.6 }} onClick={() => setDialog('relink')}>
              {missing.length === 1 ? 'Files of one source are' : `Files of ${missing.length} sources are`} not there:
              find them …
            </Button>
          )}
          <Box sx={{ maxHeight: 320, overflow: 'auto' }}>
            {sources
              .filter(({ name }) => name.toLowerCase().includes(wanted.toLowerCase()))
              .map((source) => (
                <SourceEntry
                  key={source.id}
                  source={source}
                  findings={findings?.filter((finding) => finding.source === source.id) ?? []}
                />
              ))}
            <TrackList wanted={wanted} onTool={() => setOpen(false)} />
            <MatteList wanted={wanted} onTool={() => setOpen(false)} />
          </Box>
          {problem !== null && (
            <Typography variant="caption" color="primary" sx={{ px: 1.2 }}>
              {problem}
            </Typography>
          )}
          <MadeFiles />
          <Stack direction="row" sx={{ px: 0.6, py: 0.5, '& button': { whiteSpace: 'nowrap', px: 0.75, minWidth: 0 } }}>
            <Button onClick={() => setDialog('import')}>Import …</Button>
            <MakeMenu onMade={() => setOpen(false)} />
            <Button onClick={() => setDialog('check')}>Claims check …</Button>
            <Box sx={{ flex: 1 }} />
            <Button onClick={() => setOpen(false)}>Close</Button>
          </Stack>
        </Paper>
      </Popper>
      <Suspense>
        {dialog === 'import' && <ImportSources onClose={() => setDialog(null)} />}
        {dialog === 'relink' && missing.length > 0 && <Relink missing={missing} onClose={() => setDialog(null)} />}
        {dialog === 'check' && <ClaimsCheck onClose={() => setDialog(null)} />}
      </Suspense>
    </Box>
  )
}
