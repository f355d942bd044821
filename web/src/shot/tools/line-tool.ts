/** Draws along something straight: the stroke is brought onto the edge beside it, and belongs to the lens whose card is open. */

import type { Change } from '../../../../core/shot'
import { lensActions } from '../../store/lens'
import type { Tool } from './tool'

const fine = (value: number) => Math.round(value * 100) / 100
/** The line while it is drawn; what is kept gets an id of its own. */
const drawing = 'being-drawn'

export const lineTool: Tool = {
  words: 'Draw along straight things',
  cursor: 'crosshair',
  down({ point: from }, { view }) {
    const { lines } = view.screen
    const { frame } = view.playing
    const strokeTo = (to: { readonly x: number; readonly y: number }) => [from.x, from.y, to.x, to.y].map(fine)
    return {
      move: () => null,
      draft({ point }): Change | null {
        if (!lines) return null
        const { treatment, source } = lines
        const line = { id: drawing, frame, points: strokeTo(point), ...(source === null ? {} : { source }) }
        return { kind: 'set-lines', treatment, lines: { [drawing]: line } }
      },
      up({ point }, moved) {
        return moved && lines ? lensActions.wanted({ act: 'draw', ...lines, frame, stroke: strokeTo(point) }) : null
      },
    }
  },
}
