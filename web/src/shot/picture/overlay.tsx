/** What is drawn over the picture: the line of the split with its ends, samples, and the region that is being dragged out. */

import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import type { KeyboardEvent } from 'react'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDrawn, selectSamples, selectShownShot } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { viewChanged, type Region } from '../../store/view'
import { handlesOf, outlinesOfSelected, type Handle } from '../tools'
import { TrackPaths } from '../tracks/track-paths'
import { MatteMarks } from '../mattes/matte-marks'
import { LinesOfLens } from '../lens/lines-of-lens'
import { ScenePoints } from '../sources/scene-points'
import { DrawnNotes } from './drawn-notes'
import { drawnMoved, type Placement, type Size } from './placement'
import { SplitLine } from './split-line'

interface OverlayProps {
  readonly placement: Placement
  /** of the picture on the screen */
  readonly place: Size
  /** that is being dragged out */
  readonly region: Region | null
}

export function Overlay({ placement, place, region }: OverlayProps) {
  const samples = useAppSelector(selectSamples)
  const area = useAppSelector((state) => state.view.framing.area)
  const how = useAppSelector((state) => state.view.comparing.how)
  const view = useAppSelector((state) => state.view)
  const shot = useAppSelector(selectShownShot)
  const selected = useAppSelector(selectDrawn)
  const read = useAppSelector((state) => (selected ? state.readings.now[selected.id] : undefined))
  const places = read?.frame === view.playing.frame ? read.places : undefined
  const drawn = { view, shot, selected, sides: places }
  return (
    <Box
      style={{ transform: drawnMoved(placement, place) }}
      sx={{ position: 'absolute', inset: 0, transformOrigin: '0 0' }}
    >
      {how.way === 'split' && <SplitLine split={how} placement={placement} />}
      <TrackPaths placement={placement} />
      <LinesOfLens placement={placement} />
      <ScenePoints placement={placement} />
      <MatteMarks placement={placement} />
      {outlinesOfSelected(drawn).map((corners, i) => (
        <Outline key={i} corners={corners} placement={placement} />
      ))}
      {handlesOf(drawn).map((handle) => (
        <HandleMark key={handle.name} handle={handle} placement={placement} />
      ))}
      <DrawnNotes placement={placement} />
      {area && <Outside area={area} placement={placement} />}
      {samples.map((sample) => (
        <SampleMark key={sample.id} name={sample.name} region={sample} placement={placement} />
      ))}
      {region && <SampleMark name="" region={region} placement={placement} />}
    </Box>
  )
}

const arrows: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}

/** The box of what is placed: a light line on a dark one, seen on any picture. */
function Outline({
  corners,
  placement: { left, top, zoom },
}: {
  corners: readonly (readonly [number, number])[]
  placement: Placement
}) {
  const points = corners.map(([x, y]) => `${left + x * zoom},${top + y * zoom}`).join(' ')
  const line = { points, fill: 'none' } as const
  return (
    <Box
      component="svg"
      aria-hidden
      sx={{ position: 'absolute', inset: 0, width: '100%', height: '100%', pointerEvents: 'none' }}
    >
      <polygon {...line} stroke="#000" strokeWidth={3} opacity={0.6} />
      <polygon {...line} stroke="#fff" strokeWidth={1} />
    </Box>
  )
}

const handleSide = 12
const smallSide = 8

/** Dragged by the pointer (see tools), or moved by the arrow keys; with Shift by ten pixels. */
function HandleMark({ handle, placement }: { handle: Handle; placement: Placement }) {
  const { name, label, at, move, edit, hollow, small, round, chosen } = handle
  const side = small ? smallSide : handleSide
  const dispatch = useAppDispatch()
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    if (!Object.hasOwn(arrows, event.key)) return
    const [x, y] = arrows[event.key]
    const by = event.shiftKey ? 10 : 1
    event.preventDefault()
    event.stopPropagation()
    const to = { x: at.x + x * by, y: at.y + y * by }
    // The arrow keys go by whole pixels: nothing is drawn to lines.
    const change = edit?.(to, { shift: false, control: true, reach: 0 })
    if (move) dispatch(viewChanged(move(to)))
    else if (change) dispatch(shotActions.edited(change))
  }
  return (
    <Box
      role="button"
      aria-label={name}
      tabIndex={0}
      onKeyDown={onKeyDown}
      // What changes while it is dragged is no style that is made anew for all of the page.
      style={{
        left: placement.left + at.x * placement.zoom - side / 2,
        top: placement.top + at.y * placement.zoom - side / 2,
      }}
      sx={{
        position: 'absolute',
        width: side,
        height: side,
        borderRadius: round || name === 'Pivot' || name === 'Turn' ? '50%' : 0,
        border: 1,
        borderColor: chosen ? '#000' : 'text.primary',
        bgcolor: hollow ? undefined : chosen ? '#fff' : 'background.paper',
        boxShadow: hollow ? '0 0 0 1px #000, inset 0 0 0 1px #000' : undefined,
        '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main' },
      }}
    >
      {label !== undefined && (
        <Typography variant="caption" aria-hidden noWrap sx={labelOfHandle}>
          {label}
        </Typography>
      )}
    </Box>
  )
}

/** Above the handle, readable on any picture. */
const labelOfHandle = {
  ...{ position: 'absolute', left: -1, bottom: '100%', mb: '3px', px: 0.5, pointerEvents: 'none' },
  ...{ bgcolor: 'background.paper', opacity: 0.85, lineHeight: '15px' },
} as const

/** What is not made is dark. */
function Outside({
  area: { x, y, width, height },
  placement: { left, top, zoom },
}: {
  area: Region
  placement: Placement
}) {
  return (
    <Box
      style={{ left: left + x * zoom, top: top + y * zoom, width: width * zoom, height: height * zoom }}
      sx={{
        position: 'absolute',
        outline: '1px solid',
        outlineColor: 'text.secondary',
        boxShadow: '0 0 0 20000px rgba(0, 0, 0, 0.6)',
        pointerEvents: 'none',
      }}
    />
  )
}

const leastMark = 11

/** A place or region that is read: a light line beside a dark one, seen on any picture. */
function SampleMark({
  name,
  region: { x, y, width, height },
  placement,
}: {
  name: string
  region: { readonly x: number; readonly y: number; readonly width: number; readonly height: number }
  placement: Placement
}) {
  const [across, down] = [Math.max(leastMark, width * placement.zoom), Math.max(leastMark, height * placement.zoom)]
  return (
    <Box
      style={{
        left: placement.left + (x + width / 2) * placement.zoom - across / 2,
        top: placement.top + (y + height / 2) * placement.zoom - down / 2,
        width: across,
        height: down,
      }}
      sx={{
        position: 'absolute',
        border: '1px solid #fff',
        outline: '1px solid #000',
        pointerEvents: 'none',
      }}
    >
      <Typography
        variant="caption"
        style={{ left: across + 3 }}
        sx={{
          position: 'absolute',
          top: -9,
          color: '#fff',
          textShadow: '0 0 2px #000, 0 0 2px #000',
        }}
      >
        {name}
      </Typography>
    </Box>
  )
}
