/** Measuring a lens: lines that are straight in the world are found or drawn, and the lens follows from how they bow. */

import Button from '@mui/material/Button'
import FormControlLabel from '@mui/material/FormControlLabel'
import Checkbox from '@mui/material/Checkbox'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import { useEffect, useRef, useState } from 'react'
import { useStore } from 'react-redux'
import { allOf, find, type StraightLine, type TreatmentSettings } from '../../../../core/shot'
import { lensMapUrl } from '../../api/client'
import { useAppDispatch, useAppSelector } from '../../store'
import { lensActions, type LensState } from '../../store/lens'
import { selectDocument, selectFrame, selectSources } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { viewChanged, type ViewState } from '../../store/view'
import { HoldToLook } from '../card/hold-to-look'
import { sourcesFor } from '../card/treatment-sources'
import { chartWords, foundWords, lineWords, overscanWords } from './lens-words'
import { TakeFromMap } from './take-from-map'
import { isOn } from './use-lens'

/** No id of a source. */
const thePlate = 'the plate'
type LookingState = ViewState['looking']
const narrow = { minWidth: 0, px: 0.6, py: 0 } as const
/** So many of the lines that bow most are named. */
const mostNamed = 4
/** Pixels. */
const worthNaming = 0.5

export function StraightLines({ settings }: { settings: TreatmentSettings }) {
  const dispatch = useAppDispatch()
  const { id } = settings
  const open = useAppSelector((state) => state.view.screen.lines)
  const source = open?.treatment === id ? open.source : null
  // While this is open the lines are seen on the picture.
  useEffect(() => {
    dispatch(viewChanged({ screen: { lines: { treatment: id, source: null } } }))
    return () => {
      dispatch(viewChanged({ screen: { lines: null, tool: 'look' } }))
    }
  }, [dispatch, id])
  return (
    <Stack spacing={0.5} sx={{ borderLeft: 1, borderColor: 'divider', pl: 0.75 }}>
      <Typography variant="body2">Measured from straight lines, a chart or a map</Typography>
      <LinesOn treatment={id} source={source} />
      <TakeLines settings={settings} source={source} />
      <Measure settings={settings} source={source} />
      <TakeFromMap settings={settings} />
      <Maps treatment={id} source={source} />
    </Stack>
  )
}

/** The plate, or a chart or grid by the same lens. */
function LinesOn({ treatment, source }: { treatment: string; source: string | null }) {
  const dispatch = useAppDispatch()
  const sources = sourcesFor('rgba', useAppSelector(selectSources))
  const choose = (chosen: string) => {
    const next = chosen === thePlate ? null : chosen
    dispatch(
      viewChanged({
        screen: { lines: { treatment, source: next } },
        looking: next
          ? { shown: 'node', node: { kind: 'source', id: next, part: null } }
          : { shown: 'composite', node: null },
      }),
    )
  }
  return (
    <TextField
      select
      size="small"
      variant="standard"
      label="Lines on"
      value={source ?? thePlate}
      onChange={({ target: { value } }) => choose(value)}
    >
      <MenuItem value={thePlate} dense>
        the plate
      </MenuItem>
      {sources.map(({ id, name }) => (
        <MenuItem key={id} value={id} dense>
          {name}
        </MenuItem>
      ))}
    </TextField>
  )
}

/** While it is held, by pointer or by Space, the picture is seen as it is without the lens, with all of its border. */
function LookStraight({ treatment, source }: { treatment: string; source: string | null }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const before = useRef<Pick<LookingState, 'shown' | 'node'> | null>(null)
  const look = () => {
    if (before.current) return
    const { shown, node } = store.getState().view.looking
    before.current = { shown, node }
    dispatch(viewChanged({ looking: { shown: 'node', node: { kind: 'straight', treatment, source } } }))
  }
  const letGo = () => {
    if (before.current) dispatch(viewChanged({ looking: before.current }))
    before.current = null
  }
  return (
    <HoldToLook
      text="Look straight"
      title="Hold to see the picture as it is without the lens, made smaller so that all of it is seen"
      onLook={look}
      onLetGo={letGo}
    />
  )
}

function TakeLines({ settings: { id, lines }, source }: { settings: TreatmentSettings; source: string | null }) {
  const dispatch = useAppDispatch()
  const frame = useAppSelector(selectFrame)
  const tool = useAppSelector((state) => state.view.screen.tool)
  const wanted = useAppSelector((state) => state.lens.wanted)
  const all = lines ? allOf(lines) : []
  const here = all.filter(isOn({ source, frame }))
  const remove = (some: readonly StraightLine[]) =>
    dispatch(
      shotActions.edited({
        ...{ kind: 'set-lines', treatment: id },
        lines: Object.fromEntries(some.map((one) => [one.id, null])),
      }),
    )
  return (
    <>
      <Stack direction="row" sx={{ ml: -0.6, flexWrap: 'wrap' }}>
        <Button
          sx={narrow}
          disabled={wanted !== null}
          onClick={() => dispatch(lensActions.wanted({ act: 'find', treatment: id, source, frame }))}
        >
          Find lines
        </Button>
        <Button
          sx={narrow}
          aria-pressed={tool === 'line'}
          onClick={() => dispatch(viewChanged({ screen: { tool: tool === 'line' ? 'look' : 'line' } }))}
        >
          {tool === 'line' ? 'Stop drawing' : 'Draw lines'}
        </Button>
        {here.length > 0 && (
          <Button sx={narrow} onClick={() => remove(here)}>
            Remove these
          </Button>
        )}
      </Stack>
      <Typography variant="caption" color="textSecondary" role="status">
        {wanted?.act === 'find'
          ? 'Looking for straight edges …'
          : lineWords(here.length, all.length - here.length, tool === 'line')}
      </Typography>
    </>
  )
}

function Measure({ settings: { id, lines }, source }: { settings: TreatmentSettings; source: string | null }) {
  const dispatch = useAppDispatch()
  const frame = useAppSelector(selectFrame)
  const [tangential, setTangential] = useState(false)
  const { wanted, problem, found, chart } = useAppSelector((state) => state.lens)
  const count = lines ? allOf(lines).length : 0
  return (
    <>
      <FormControlLabel
        control={
          <Checkbox size="small" checked={tangential} onChange={({ target }) => setTangential(target.checked)} />
        }
        label="The lens may be askew"
        slotProps={{ typography: { variant: 'caption' } }}
      />
      {count > 1 && (
        <Button
          variant="outlined"
          disabled={wanted !== null}
          onClick={() => dispatch(lensActions.wanted({ act: 'measure', treatment: id, frame, tangential }))}
        >
          {wanted?.act === 'measure' ? 'Measuring …' : 'Measure the lens'}
        </Button>
      )}
      <Tooltip
        describeChild
        title="Finds the corners of a chart of dark and light squares, on up to 12 frames of what the lines are on"
      >
        <span>
          <Button
            variant="outlined"
            fullWidth
            disabled={wanted !== null}
            onClick={() => dispatch(lensActions.wanted({ act: 'chart', treatment: id, source, frame, tangential }))}
          >
            {wanted?.act === 'chart' ? 'Looking for a chart …' : 'Measure from a chart'}
          </Button>
        </span>
      </Tooltip>
      {chart?.treatment === id && <Typography variant="caption">{chartWords(chart.result)}</Typography>}
      {found?.treatment === id && (
        <>
          <Typography variant="caption">{foundWords(found.result)}</Typography>
          <Worst found={found} />
        </>
      )}
      {problem?.treatment === id && (
        <Typography variant="caption" role="alert">
          {problem.sentence}
        </Typography>
      )}
    </>
  )
}

/** The used lines that bow most, to be removed where they are not straight in the world. */
function Worst({ found: { treatment, lines, result } }: { found: NonNullable<LensState['found']> }) {
  const dispatch = useAppDispatch()
  const there = useAppSelector((state) => {
    const shot = selectDocument(state)
    return shot ? find(shot.treatments, treatment)?.lines : undefined
  })
  const worst = result.used
    .map((i) => ({ id: lines[i], bow: result.bows[i].after }))
    .filter(({ id, bow }) => bow > worthNaming && there && find(there, id))
    .sort((a, b) => b.bow - a.bow)
    .slice(0, mostNamed)
  return worst.map(({ id, bow }) => (
    <Stack key={id} direction="row" sx={{ justifyContent: 'space-between', alignItems: 'center' }}>
      <Typography variant="caption" color="textSecondary">
        still bows by {bow.toFixed(2)} px
      </Typography>
      <Button
        sx={narrow}
        onMouseEnter={() => dispatch(lensActions.pointed(id))}
        onMouseLeave={() => dispatch(lensActions.pointed(null))}
        onClick={() => dispatch(shotActions.edited({ kind: 'set-lines', treatment, lines: { [id]: null } }))}
      >
        Remove this line
      </Button>
    </Stack>
  ))
}

function Maps({ treatment, source }: { treatment: string; source: string | null }) {
  const id = useAppSelector((state) => state.shot.id)
  const frame = useAppSelector(selectFrame)
  const overscan = useAppSelector((state) => {
    const shot = selectDocument(state)
    const settings = shot && find(shot.treatments, treatment)
    return shot && settings ? overscanWords(shot, settings, state.view.playing.frame) : null
  })
  if (id === null || overscan === null) return null
  return (
    <>
      <Typography variant="caption" color="textSecondary">
        {overscan}
      </Typography>
      <Stack direction="row" sx={{ ml: -0.6, flexWrap: 'wrap' }}>
        <LookStraight treatment={treatment} source={source} />
        <Button sx={narrow} component="a" download href={lensMapUrl(id, treatment, frame, 'to-bent')}>
          Map to straighten
        </Button>
        <Button sx={narrow} component="a" download href={lensMapUrl(id, treatment, frame, 'to-straight')}>
          Map to bend
        </Button>
      </Stack>
    </>
  )
}
