/** Paints in the painted matte that is selected, or in a new one: each drag is a stroke, a press a dot. */

import type { UnknownAction } from '@reduxjs/toolkit'
import type { Spot } from '../../../../core/motion/placing'
import {
  find,
  inOrder,
  lastRank,
  newId,
  newPaintedMatte,
  toMatte,
  type Change,
  type PaintedMatte,
  type PaintStroke,
  type Shot,
} from '../../../../core/shot'
import { shotActions, type Selected } from '../../store/shot-slice'
import type { ViewState } from '../../store/view'
import type { Tool } from './tool'

/** Points of a stroke are so far apart, in pixels of the frame; a long stroke keeps fewer. */
const leastStep = 1.5
const mostPoints = 900
/** The stroke while it is painted; what is kept gets an id of its own. */
const painting = 'being-painted'

function paintedInHand(shot: Shot, drawn: Selected | null): PaintedMatte | null {
  const matte = drawn?.kind === 'matte' ? find(shot.mattes, drawn.id) : undefined
  return matte?.kind === 'painted' ? matte : null
}

const fine = (value: number) => Math.round(value * 100) / 100

function strokeOf(
  shot: Shot,
  matte: PaintedMatte,
  view: ViewState,
  spots: readonly Spot[],
  id: string,
): PaintStroke | null {
  const { frame } = view.playing
  const { radius, hardness, how, onlyHere } = view.outlining.brush
  const own = toMatte({ shot, matte, frame })
  if (!own) return null
  return {
    ...{ id, rank: lastRank(inOrder(matte.strokes)), points: spots.flatMap((spot) => own(spot).map(fine)) },
    ...{ radius, hardness, how },
    ...(onlyHere ? { frame } : {}),
  }
}

export const brushTool: Tool = {
  words: 'Paint in a matte',
  cursor: 'crosshair',
  down({ point: from }, { shot, view, drawn }) {
    const known = paintedInHand(shot, drawn)
    const matte = known ?? newPaintedMatte(shot)
    const spots: Spot[] = [[from.x, from.y]]
    const more = ({ x, y }: { readonly x: number; readonly y: number }) => {
      const [px, py] = spots[spots.length - 1]
      if (spots.length < mostPoints && Math.hypot(x - px, y - py) >= leastStep) spots.push([x, y])
    }
    const edit = (id: string): Change | null => {
      const stroke = strokeOf(shot, matte, view, spots, id)
      if (!stroke) return null
      const strokes: Change = { kind: 'set-strokes', matte: matte.id, strokes: { [id]: stroke } }
      if (known) return strokes
      return { kind: 'together', changes: [{ kind: 'add-matte', matte }, strokes], label: `Paint matte ${matte.name}` }
    }
    return {
      move: ({ point }) => {
        more(point)
        return null
      },
      draft: () => edit(painting),
      up({ point }): readonly UnknownAction[] | null {
        more(point)
        const change = edit(newId())
        if (!change) return null
        return [
          shotActions.edited(change),
          ...(known ? [] : [shotActions.thingSelected({ kind: 'matte', id: matte.id })]),
        ]
      },
    }
  },
}
