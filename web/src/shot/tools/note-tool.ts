/** Draws on the frame: each line is one edit, on the frame's marker, or on a new one where it has none. */

import { allOf, newId, nextMarkerName, type Change, type Shot } from '../../../../core/shot'
import { shotActions } from '../../store/shot-slice'
import type { Point } from '../../store/view'
import type { Tool } from './tool'

/** Points of a line are farther apart, in screen pixels. */
const leastStep = 2
/** More than a line may have are not taken. */
const mostPoints = 1000

const rounded = (value: number) => Math.round(value * 10) / 10

export const noteTool: Tool = {
  words: 'Draw on this frame',
  cursor: 'crosshair',
  down({ point: from }, { shot, view, placement }) {
    const points: Point[] = [from]
    const [stroke, marker] = [newId(), newId()]
    const line = (): Change | null => {
      if (points.length < 2) return null
      const flat = points.flatMap(({ x, y }) => [rounded(x), rounded(y)])
      return drawnOn(shot, view.playing.frame, { id: stroke, points: flat }, marker)
    }
    return {
      move({ point }) {
        const last = points[points.length - 1]
        const apart = Math.hypot(point.x - last.x, point.y - last.y) * placement.zoom
        if (apart >= leastStep && points.length < mostPoints) points.push(point)
        return null
      },
      draft: line,
      up() {
        const change = line()
        return change && shotActions.edited(change)
      },
    }
  },
}

function drawnOn(
  shot: Shot,
  frame: number,
  stroke: { readonly id: string; readonly points: readonly number[] },
  newMarker: string,
): Change {
  const there = allOf(shot.markers).find((one) => one.frame === frame)
  if (there) return { kind: 'draw-stroke', marker: there.id, stroke }
  return {
    kind: 'together',
    changes: [
      { kind: 'add-marker', marker: { id: newMarker, name: nextMarkerName(shot), frame } },
      { kind: 'draw-stroke', marker: newMarker, stroke },
    ],
    label: `Draw on frame ${frame}`,
  }
}
