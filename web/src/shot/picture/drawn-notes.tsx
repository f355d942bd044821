/** What was drawn on the frame that is looked at, with the name of its marker. */

import { useAppSelector } from '../../store'
import { selectShownShot } from '../../store/selectors'
import { allOf, type Marker } from '../../../../core/shot'
import type { Placement } from './placement'

export function DrawnNotes({ placement }: { placement: Placement }) {
  const markers = useAppSelector((state) => selectShownShot(state)?.markers)
  const frame = useAppSelector((state) => state.view.playing.frame)
  const drawn = markers ? allOf(markers).filter((one) => one.frame === frame && one.strokes) : []
  if (drawn.length === 0) return null
  return (
    <svg
      role="img"
      aria-label={`Drawn on frame ${frame}: ${drawn.map(({ name }) => name).join(', ')}`}
      style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', pointerEvents: 'none' }}
    >
      {drawn.map((marker) => (
        <Note key={marker.id} marker={marker} placement={placement} />
      ))}
    </svg>
  )
}

/** A light line on a dark one, seen on any picture. */
function Note({ marker: { name, strokes }, placement: { left, top, zoom } }: { marker: Marker; placement: Placement }) {
  const lines = strokes ? allOf(strokes) : []
  const [first] = lines
  return (
    <g fill="none" strokeLinejoin="round" strokeLinecap="round" transform={`translate(${left} ${top}) scale(${zoom})`}>
      {lines.map(({ id, points }) => (
        <g key={id}>
          <polyline points={points.join(' ')} stroke="#000" strokeWidth={4 / zoom} opacity={0.55} />
          <polyline points={points.join(' ')} stroke="#fff" strokeWidth={1.75 / zoom} />
        </g>
      ))}
      {first && (
        <text
          x={first.points[0] + 6 / zoom}
          y={first.points[1] - 6 / zoom}
          fontSize={12 / zoom}
          fill="#fff"
          stroke="#000"
          strokeWidth={2.5 / zoom}
          paintOrder="stroke"
        >
          {name}
        </text>
      )}
    </g>
  )
}
