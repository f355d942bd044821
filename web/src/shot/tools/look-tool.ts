/** The tool that is in hand unless another is taken: moves the picture, selects what is seen, keeps places and regions in sight. */

import { newSample, type Shot } from '../../../../core/shot'
import { shotActions } from '../../store/shot-slice'
import { viewChanged, type Point, type Region } from '../../store/view'
import { shapeAt } from './shape-handles'
import type { Gesture, Tool } from './tool'

/** Screen pixels within which an outline is meant. */
const outlinePx = 6

/** Whole pixels, both corners included. */
export function regionBetween(a: Point, b: Point): Region {
  const [x, y] = [Math.min(a.x, b.x), Math.min(a.y, b.y)]
  return { x, y, width: Math.abs(a.x - b.x) + 1, height: Math.abs(a.y - b.y) + 1 }
}

const keep = (shot: Shot, region: Region) =>
  shotActions.edited({ kind: 'keep-sample', sample: newSample(shot, region) })

/** The farthest corner that the pointer reached stays when it leaves the picture. */
function keepRegion(from: Point, shot: Shot): Gesture {
  let corner = from
  const region = () => regionBetween(from, corner)
  return {
    move: ({ pixel }) => {
      corner = pixel ?? corner
      return null
    },
    up: () => keep(shot, region()),
    region,
  }
}

export const lookTool: Tool = {
  words: 'Move the picture, select, keep places',
  cursor: 'crosshair',
  down({ screen, pixel, shift, control }, { view, shot, frame, drawn, placement: { zoom } }) {
    if (shift && pixel) return keepRegion(pixel, shot)
    const from = view.framing.zoom === null ? { x: frame.width / 2, y: frame.height / 2 } : view.framing.centre
    return {
      move: ({ screen: now }) => ({
        framing: { zoom, centre: { x: from.x - (now.x - screen.x) / zoom, y: from.y - (now.y - screen.y) / zoom } },
      }),
      up: (at, moved) => {
        if (moved || !at.pixel) return null
        // A press on an outline of the selected matte works on that shape from then on.
        const shape = drawn?.kind === 'matte' ? shapeAt(drawn.id, { view, shot }, at.point, outlinePx / zoom) : null
        if (shape !== null) return viewChanged({ outlining: { shape, points: [] } })
        return control ? keep(shot, { ...at.pixel, width: 1, height: 1 }) : { pick: at.pixel }
      },
    }
  },
}
