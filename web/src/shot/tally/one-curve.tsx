/** One curve as it is drawn: its line, its keyframes, and the handles of those that are chosen. */

import Box from '@mui/material/Box'
import type { PointerEvent } from 'react'
import { keyframesOf, smoothSlope, valueAt } from '../../../../core/motion/curve'
import type { ChosenKeyframe, FrameRange, KeyedCurve } from '../../../../core/shot'
import { isChosen, type Scale } from './curve-scale'
import { countOf } from './time-axis'

interface OneCurveProps {
  readonly of: KeyedCurve
  readonly dash: string
  readonly scale: Scale
  readonly frames: FrameRange
  readonly chosen: readonly ChosenKeyframe[]
  readonly onPress: (event: PointerEvent, of: KeyedCurve, frame: number) => void
  readonly onPressHandle: (event: PointerEvent, of: KeyedCurve, frame: number, side: 'before' | 'after') => void
  readonly onGo: (frame: number) => void
}

const handleLength = 32

export function OneCurve({ of, dash, scale, frames, chosen, onPress, onPressHandle, onGo }: OneCurveProps) {
  const { id, curve, label } = of
  const keyframes = keyframesOf(curve)
  const steps = Math.max(2, Math.min(600, countOf(frames) * 4))
  const path = Array.from({ length: steps + 1 }, (_, i) => {
    const frame = frames.first - 0.5 + (i / steps) * countOf(frames)
    return `${i === 0 ? 'M' : 'L'}${scale.x(frame).toFixed(1)} ${scale.y(valueAt(curve, frame)).toFixed(1)}`
  }).join(' ')
  return (
    <g>
      <path d={path} fill="none" stroke="currentColor" strokeDasharray={dash} opacity={0.7} pointerEvents="none" />
      {keyframes.map((one, i) => {
        const [x, y] = [scale.x(one.frame), scale.y(one.value)]
        const selected = isChosen(chosen, id, one.frame)
        const smooth = one.to === 'smooth' || keyframes[i - 1]?.to === 'smooth'
        const handles = selected && smooth ? (['before', 'after'] as const) : []
        return (
          <g key={one.frame}>
            {handles.map((side) => {
              const slope = one[side] ?? smoothSlope(keyframes, i)
              const [dx, dy] = [scale.perFrame, -slope * scale.perValue]
              const k = (side === 'after' ? handleLength : -handleLength) / Math.hypot(dx, dy)
              return (
                <g key={side}>
                  <line x1={x} y1={y} x2={x + dx * k} y2={y + dy * k} stroke="currentColor" opacity={0.5} />
                  <circle
                    role="button"
                    aria-label={`Handle ${side} frame ${one.frame}, ${label}`}
                    cx={x + dx * k}
                    cy={y + dy * k}
                    r={3.5}
                    fill="currentColor"
                    onPointerDown={(event) => onPressHandle(event, of, one.frame, side)}
                  />
                </g>
              )
            })}
            <Box
              component="rect"
              role="button"
              aria-label={`Keyframe at ${one.frame}, ${label}, ${one.value.toFixed(3)}`}
              aria-pressed={selected}
              x={x - 4}
              y={y - 4}
              width={8}
              height={8}
              transform={`rotate(45 ${x} ${y})`}
              sx={{
                fill: 'currentColor',
                color: selected ? 'primary.main' : 'text.primary',
                cursor: 'move',
              }}
              onPointerDown={(event: PointerEvent) => onPress(event, of, one.frame)}
              onDoubleClick={() => onGo(one.frame)}
            />
          </g>
        )
      })}
    </g>
  )
}
