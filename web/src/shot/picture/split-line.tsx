/** The line along which picture and other meet; its ends are handles of the overlay. */

import { useTheme } from '@mui/material/styles'
import type { How, Point } from '../../store/view'
import type { Placement } from './placement'

type Split = Extract<How, { way: 'split' }>

/** Farther than any screen. */
const far = 1e5

/** @returns the half of the picture to the right of the line as it was drawn, in the layer's own pixels */
export function rightOf({ from, to }: Split, zoom: number): string {
  const length = Math.hypot(to.x - from.x, to.y - from.y) || 1
  const [dx, dy] = [(to.x - from.x) / length, (to.y - from.y) / length]
  // Downwards is positive, so turning right is (-dy, dx).
  const [rx, ry] = [-dy * far, dx * far]
  const corner = (x: number, y: number) => `${x.toFixed(2)}px ${y.toFixed(2)}px`
  const [ax, ay, bx, by] = [
    from.x * zoom - dx * far,
    from.y * zoom - dy * far,
    to.x * zoom + dx * far,
    to.y * zoom + dy * far,
  ]
  return `polygon(${corner(ax, ay)}, ${corner(bx, by)}, ${corner(bx + rx, by + ry)}, ${corner(ax + rx, ay + ry)})`
}

export function SplitLine({ split, placement }: { split: Split; placement: Placement }) {
  const theme = useTheme()
  const at = ({ x, y }: Point) => ({ x: placement.left + x * placement.zoom, y: placement.top + y * placement.zoom })
  const [a, b] = [at(split.from), at(split.to)]
  return (
    <svg style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', pointerEvents: 'none' }}>
      <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke="#000" strokeWidth={3} opacity={0.5} />
      <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke={theme.palette.text.primary} strokeWidth={1} />
    </svg>
  )
}
