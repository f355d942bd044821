/** Draws the line along which picture and other meet; then the usual tool is in hand again. */

import { viewChanged, type Point, type ViewState } from '../../store/view'
import type { Handle, Tool } from './tool'

const splitBetween = (from: Point, to: Point) => ({ how: { way: 'split', from, to } }) as const

export const splitTool: Tool = {
  words: 'Draw the line of the split',
  cursor: 'cell',
  down: ({ point: from }) => ({
    move: ({ point }) => ({ comparing: splitBetween(from, point) }),
    up: () => viewChanged({ screen: { tool: 'look' } }),
  }),
}

/** The ends of the line. */
export function splitHandles({ comparing: { how } }: ViewState): Handle[] {
  if (how.way !== 'split') return []
  const { from, to } = how
  return [
    { name: 'Start of the split', at: from, move: (point) => ({ comparing: splitBetween(point, to) }) },
    { name: 'End of the split', at: to, move: (point) => ({ comparing: splitBetween(from, point) }) },
  ]
}
