/** Tracks on the picture: where each is now, and the path of the selected one, as wide as it is uncertain. */

import Box from '@mui/material/Box'
import { cornersOfRegion, leftOutOn, planeGrid, type Track, type TrackPoint } from '../../../../core/shot'
import { useAppSelector } from '../../store'
import { selectFrame, selectShownShot, selectTrackId, selectTracks } from '../../store/selectors'
import type { Placement } from '../picture/placement'

/** Frames before and after this one whose way is drawn. */
const reach = 24
/** The path is as wide as the place lies in with 9 of 10 chances, in standard errors on either side. */
const spread = 1.65
const arm = 6

export function TrackPaths({ placement }: { placement: Placement }) {
  const tracks = useAppSelector(selectTracks)
  const selected = useAppSelector(selectTrackId)
  const tool = useAppSelector((state) => state.view.screen.tool)
  const frame = useAppSelector(selectFrame)
  const chosen = tracks.find(({ id }) => id === selected)
  if (tracks.length === 0 || (!chosen && tool !== 'track' && tool !== 'region')) return null
  return (
    <Box
      component="svg"
      role="img"
      aria-label={chosen ? `Path of ${chosen.name}` : 'Tracks'}
      sx={{ position: 'absolute', inset: 0, width: '100%', height: '100%', pointerEvents: 'none' }}
    >
      {chosen?.region && <LeftOut region={chosen.region.id} frame={frame} placement={placement} />}
      {chosen?.region && <PlaneGrid region={chosen.region.id} frame={frame} placement={placement} />}
      {chosen && <Path track={chosen} frame={frame} placement={placement} />}
      {tracks
        .filter(({ id, region }) => id !== selected && (!region || region.id !== chosen?.region?.id))
        .map((track) => (
          <Cross key={track.id} track={track} frame={frame} placement={placement} />
        ))}
    </Box>
  )
}

const pointOf = ({ points }: Track, frame: number) => (points as Record<string, TrackPoint | undefined>)[frame]

function Path({ track, frame, placement }: { track: Track; frame: number; placement: Placement }) {
  const near = Array.from({ length: 2 * reach + 1 }, (_, i) => frame - reach + i)
  const at = ({ x, y }: TrackPoint) => `${placement.left + x * placement.zoom} ${placement.top + y * placement.zoom}`
  return near.slice(1).map((to, i) => {
    const [a, b] = [pointOf(track, near[i]), pointOf(track, to)]
    if (!a || !b) return null
    const error = 'across' in b ? Math.max(b.across, b.down) : 0
    const d = `M ${at(a)} L ${at(b)}`
    const wide = 2 * spread * error * placement.zoom
    return (
      <g key={to} fill="none">
        {wide > 2 && <path d={d} stroke="#fff" strokeWidth={wide} opacity={0.25} strokeLinecap="round" />}
        <path d={d} stroke="#000" strokeWidth={3} opacity={0.6} />
        <path d={d} stroke="#fff" strokeWidth={1} />
        <circle r={1.5} fill="#fff" cx={at(b).split(' ')[0]} cy={at(b).split(' ')[1]} />
      </g>
    )
  })
}

interface OfRegion {
  readonly region: string
  readonly frame: number
  readonly placement: Placement
}

/** What is left out of the selected region: dashed, on a dark line. */
function LeftOut({ region, frame, placement: { left, top, zoom } }: OfRegion) {
  const shot = useAppSelector(selectShownShot)
  const corners = shot && cornersOfRegion(shot, region)
  if (!shot || !corners) return null
  return leftOutOn(shot, corners, frame).map((area, i) => {
    const points = area.map(([x, y]) => `${left + x * zoom},${top + y * zoom}`).join(' ')
    return (
      <g key={i} fill="none" role="img" aria-label="Left out of the region">
        <polygon points={points} stroke="#000" strokeWidth={3} opacity={0.6} />
        <polygon points={points} stroke="#fff" strokeWidth={1} strokeDasharray="5 4" />
      </g>
    )
  })
}

/** Squares on the selected region as the plate would show them. */
function PlaneGrid({ region, frame, placement: { left, top, zoom } }: OfRegion) {
  const shot = useAppSelector(selectShownShot)
  const corners = shot && cornersOfRegion(shot, region)
  const lines = shot && corners ? planeGrid(shot, corners, frame) : []
  if (lines.length === 0) return null
  const d = lines
    .map((line) => `M ${line.map(([x, y]) => `${left + x * zoom} ${top + y * zoom}`).join(' L ')}`)
    .join(' ')
  return (
    <g fill="none" role="img" aria-label="Grid on the region">
      <path d={d} stroke="#000" strokeWidth={2.5} opacity={0.5} />
      <path d={d} stroke="#fff" strokeWidth={0.75} />
    </g>
  )
}

function Cross({
  track,
  frame,
  placement: { left, top, zoom },
}: {
  track: Track
  frame: number
  placement: Placement
}) {
  const point = pointOf(track, frame)
  if (!point) return null
  const [x, y] = [left + point.x * zoom, top + point.y * zoom]
  const d = `M ${x - arm} ${y} H ${x + arm} M ${x} ${y - arm} V ${y + arm}`
  return (
    <g fill="none">
      <path d={d} stroke="#000" strokeWidth={3} opacity={0.6} />
      <path d={d} stroke="#fff" strokeWidth={1} />
      <text x={x + arm + 3} y={y + 4} fontSize={11} fill="#fff" stroke="#000" strokeWidth={2} paintOrder="stroke">
        {track.name}
      </text>
    </g>
  )
}
