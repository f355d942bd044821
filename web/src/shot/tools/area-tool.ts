/** Draws the only part of the picture that is made, so that heavy work stays quick; a press without a movement makes all of it again. */

import { viewChanged } from '../../store/view'
import { regionBetween } from './look-tool'
import type { Tool } from './tool'

export const areaTool: Tool = {
  words: 'Draw the part of the picture that is made',
  cursor: 'cell',
  down({ pixel: from }) {
    let corner = from
    const area = () => (from && corner ? regionBetween(from, corner) : null)
    return {
      move: ({ pixel }) => {
        corner = pixel ?? corner
        return null
      },
      up: (_at, moved) => viewChanged({ framing: { area: moved ? area() : null }, screen: { tool: 'look' } }),
      region: () => area() ?? { x: 0, y: 0, width: 1, height: 1 },
    }
  },
}
