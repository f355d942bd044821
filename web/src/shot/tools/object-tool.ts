/** Presses on the picture choose objects of a render, for the matte whose card is open; a second press lets one go. */

import { viewChanged } from '../../store/view'
import type { Tool } from './tool'

export const objectTool: Tool = {
  words: 'Press on objects to choose them, and again to let them go',
  cursor: 'crosshair',
  down: () => ({
    move: () => null,
    up: ({ pixel }, moved) => (pixel && !moved ? viewChanged({ outlining: { picked: pixel } }) : null),
  }),
}
