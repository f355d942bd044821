/** Chooses points of the shape that is worked on: those inside a frame that is dragged; dragged from inside it, they are moved. */

import { inOrder, movedPoints, seenOutline } from '../../../../core/shot'
import { shotActions } from '../../store/shot-slice'
import { viewChanged } from '../../store/view'
import { boxOfChosen, shapeOnFrame } from './shape-handles'
import { regionBetween } from './look-tool'
import type { Tool } from './tool'

export const pointsTool: Tool = {
  words: 'Choose points of an outline, and move them together',
  cursor: 'crosshair',
  down({ point: from, pixel }, { shot, view, drawn }) {
    const now = drawn?.kind === 'matte' ? shapeOnFrame(drawn.id, { view, shot }) : null
    const { points, keyframes, reach } = view.outlining
    const box = now && boxOfChosen(now, points)
    const inside =
      box && from.x >= box.x && from.y >= box.y && from.x <= box.x + box.width && from.y <= box.y + box.height
    if (now && inside) {
      const edit = ({ point: to }: { readonly point: { readonly x: number; readonly y: number } }) =>
        movedPoints(now, points, [from.x, from.y], [to.x, to.y], keyframes, reach)
      return {
        move: () => null,
        draft: edit,
        up: (at, moved) => {
          const change = moved ? edit(at) : null
          return change && shotActions.edited(change)
        },
      }
    }
    let corner = pixel
    const region = () => (pixel && corner ? regionBetween(pixel, corner) : null)
    return {
      move: ({ pixel: to }) => {
        corner = to ?? corner
        return null
      },
      region: () => region() ?? { x: 0, y: 0, width: 1, height: 1 },
      up({ shift }, moved) {
        const frame = moved ? region() : null
        if (!now || !frame) return viewChanged({ outlining: { points: [] } })
        const order = inOrder(now.shape.points)
        const caught = seenOutline(now).flatMap(({ x, y }, i) =>
          x >= frame.x && y >= frame.y && x <= frame.x + frame.width && y <= frame.y + frame.height
            ? [order[i].id]
            : [],
        )
        const next = shift ? [...new Set([...points, ...caught])] : caught
        return viewChanged({ outlining: { shape: now.shape.id, points: next } })
      },
    }
  },
}
