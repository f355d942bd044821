/** A fine line from each sample on the picture to its enlarged pixels under it. */

import Box from '@mui/material/Box'
import { useLayoutEffect, useRef, useState } from 'react'
import { useAppSelector } from '../../store'
import { selectSamples } from '../../store/selectors'
import type { Placement, Size } from './placement'

interface Line {
  readonly id: string
  readonly from: readonly [number, number]
  readonly to: readonly [number, number]
}

/** @param place of the picture: a sample that is not in sight has no line */
export function LeaderLines({ placement, place }: { placement: Placement; place: Size }) {
  const samples = useAppSelector(selectSamples)
  const hasPointer = useAppSelector((state) => state.view.framing.pointer !== null)
  const svg = useRef<SVGSVGElement>(null)
  const [lines, setLines] = useState<readonly Line[]>([])
  const { left, top, zoom } = placement
  useLayoutEffect(() => {
    const all = svg.current?.parentElement
    if (!all) return
    const measure = () => {
      const origin = all.getBoundingClientRect()
      const found = samples.flatMap(({ id, x, y, width, height }): Line[] => {
        const patch = all.querySelector(`[data-sample="${id}"]`)?.getBoundingClientRect()
        const from = [left + (x + width / 2) * zoom, top + (y + height / 2) * zoom] as const
        const seen = from[0] >= 0 && from[1] >= 0 && from[0] <= place.width && from[1] <= place.height
        if (!patch || !seen) return []
        return [{ id, from, to: [patch.left - origin.left + patch.width / 2, patch.top - origin.top] }]
      })
      setLines(found)
    }
    measure()
    // The patches move when their strip is scrolled; scrolling does not bubble.
    all.addEventListener('scroll', measure, true)
    return () => all.removeEventListener('scroll', measure, true)
  }, [samples, hasPointer, left, top, zoom, place.width, place.height])
  return (
    <Box
      component="svg"
      ref={svg}
      aria-hidden
      sx={{ position: 'absolute', inset: 0, width: '100%', height: '100%', pointerEvents: 'none', zIndex: 1 }}
    >
      {lines.map(({ id, from: [x1, y1], to: [x2, y2] }) => (
        <g key={id}>
          <line x1={x1} y1={y1} x2={x2} y2={y2} stroke="#000" strokeOpacity={0.5} strokeWidth={2} />
          <line x1={x1} y1={y1} x2={x2} y2={y2} stroke="#fff" strokeOpacity={0.55} strokeWidth={0.75} />
        </g>
      ))}
    </Box>
  )
}
