/** Reframe: another part of the picture fills the frame; the whole picture is sampled once, the plate too. */

import { byMatrix, inverseOf, unmoved } from '../motion/mapping'
import { atScale, placementMatrix } from '../motion/placing'
import { oneNumber, type ParameterDescription } from './description'
import type { MappingTreatment } from './treatment'

/** Keyframes of it go on smoothly. */
const moving = (...of: Parameters<typeof oneNumber>): ParameterDescription => ({ ...oneNumber(...of), way: 'smooth' })

export const reframe: MappingTreatment<'reframe'> = {
  kind: 'reframe',
  label: 'Reframe',
  help: 'Moves, turns and enlarges the whole picture in its frame. The plate is resampled by it, once; grain of the sensor comes after.',
  does: ['punch in', 'crop', 'pan and scan', 'zoom', 'move the picture', 'enlarge the picture'],
  stations: ['finish'],
  side: 'mapping',
  parameters: [
    moving('x', 'Across', 'Of the picture, to the right.', 'px', [-65_536, 65_536, 1, 0]),
    moving('y', 'Down', 'Of the picture.', 'px', [-65_536, 65_536, 1, 0]),
    moving('scale', 'Scale', 'About the middle of the frame.', '×', [0.05, 20, 0.005, 1]),
    moving('rotation', 'Rotation', 'About the middle of the frame, clockwise.', '°', [-3600, 3600, 0.1, 0]),
  ],
  mapping({ x: [x], y: [y], scale: [factor], rotation: [rotation] }, { frame, scale }) {
    if (x === 0 && y === 0 && factor === 1 && rotation === 0) return unmoved
    const [pivotX, pivotY] = [(frame.x + frame.width / 2) * scale, (frame.y + frame.height / 2) * scale]
    const placed = placementMatrix({ x, y, rotation, scale: factor, stretch: 1, skew: 0, pivotX, pivotY })
    const back = inverseOf(atScale(placed, scale))
    return back ? byMatrix(back) : unmoved
  },
}
