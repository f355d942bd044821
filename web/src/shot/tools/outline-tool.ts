/**
 * Draws an outline: in one stroke, which becomes a clean line; or place by place, closed at the first place or with Enter. A press
 * on the line of the shape that is worked on puts a point there.
 */

import type { UnknownAction } from '@reduxjs/toolkit'
import { fittedStroke, nearestOn, type Outline } from '../../../../core/outline'
import {
  drawnShape,
  find,
  inOrder,
  newId,
  seenOutline,
  throughSpots,
  type DrawnMatte,
  type Shot,
} from '../../../../core/shot'
import { shotActions, type Selected } from '../../store/shot-slice'
import { viewChanged, type ViewState } from '../../store/view'
import { shapeOnFrame } from './shape-handles'
import type { Pointed, Tool } from './tool'

/** Screen pixels within which a line or the first place is meant. */
const nearPx = 7
/** A stroke is drawn by hand: it is kept to so many screen pixels. */
const strokePx = 0.75

const matteInHand = (shot: Shot, drawn: Selected | null): DrawnMatte | null => {
  const matte = drawn?.kind === 'matte' ? find(shot.mattes, drawn.id) : undefined
  return matte?.kind === 'drawn' ? matte : null
}

/** A new shape in the matte that is selected, or in a new one. */
export function drawnActions(
  shot: Shot,
  view: ViewState,
  drawn: Selected | null,
  outline: Outline,
  corners: readonly boolean[],
): readonly UnknownAction[] {
  const matte = matteInHand(shot, drawn)
  const made = drawnShape(shot, matte, view.playing.frame, outline, corners)
  // What was drawn is seen to next: its points are taken hold of with no tool in hand.
  const begun = viewChanged({ outlining: { pressed: [], stroke: [] }, screen: { tool: 'look' } })
  if (!made) return [begun]
  return [
    begun,
    shotActions.edited(made.edit),
    ...(matte ? [] : [shotActions.thingSelected({ kind: 'matte', id: made.matte })]),
    viewChanged({ outlining: { shape: made.shape, points: [] } }),
  ]
}

/** What was pressed place by place becomes an outline; nothing where there are too few. */
export function closedActions(shot: Shot, view: ViewState, drawn: Selected | null): readonly UnknownAction[] {
  const { pressed } = view.outlining
  if (pressed.length < 3) return []
  return drawnActions(
    shot,
    view,
    drawn,
    throughSpots(pressed),
    pressed.map(({ corner }) => corner),
  )
}

export const outlineTool: Tool = {
  words: 'Draw an outline',
  cursor: 'crosshair',
  down({ point: from }, { shot, view, drawn, placement: { zoom } }) {
    const stroke: (readonly [number, number])[] = [[from.x, from.y]]
    const near = nearPx / zoom
    return {
      move: ({ point: { x, y } }) => {
        stroke.push([x, y])
        return { outlining: { stroke: [...stroke], pressed: [] } }
      },
      up(at, moved) {
        if (moved) {
          const fitted = fittedStroke(stroke, Math.max(0.5, strokePx / zoom))
          if (!fitted) return viewChanged({ outlining: { stroke: [] } })
          return drawnActions(shot, view, drawn, fitted.outline, fitted.corners)
        }
        return pressedAt(at, shot, view, drawn, near)
      },
    }
  },
}

function pressedAt(
  { point: { x, y }, shift }: Pointed,
  shot: Shot,
  view: ViewState,
  drawn: Selected | null,
  near: number,
): UnknownAction | readonly UnknownAction[] | null {
  const { pressed } = view.outlining
  if (pressed.length >= 3 && Math.hypot(pressed[0].spot[0] - x, pressed[0].spot[1] - y) <= near)
    return closedActions(shot, view, drawn)
  const now = pressed.length === 0 && drawn?.kind === 'matte' ? shapeOnFrame(drawn.id, { view, shot }) : null
  const on = now && nearestOn(seenOutline(now), x, y)
  if (now && on && on.distance <= near && on.share > 0 && on.share < 1) {
    const point = newId()
    const after = inOrder(now.shape.points)[on.at].id
    return [
      shotActions.edited({
        kind: 'add-shape-point',
        ...{ matte: now.matte.id, shape: now.shape.id, point, after, share: on.share },
      }),
      viewChanged({ outlining: { points: [point] } }),
    ]
  }
  return viewChanged({ outlining: { pressed: [...pressed, { spot: [x, y], corner: shift }] } })
}
