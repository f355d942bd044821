/** Stabilise: takes the motion of tracks out of the picture, all of it or what is quicker than so many frames. */

import { byMatrix, byShift, multiplied, unmoved } from '../motion/mapping'
import { atScale } from '../motion/placing'
import { steadied } from '../motion/steadied'
import { oneNumber } from './description'
import type { MappingTreatment } from './treatment'

export const steady: MappingTreatment<'steady'> = {
  kind: 'steady',
  label: 'Stabilise',
  help: 'Takes the motion of tracks out of the picture. The plate is resampled by it, once; grain of the sensor comes after.',
  does: ['steady', 'stabilize', 'smooth the camera', 'hold still', 'shake', 'sway'],
  stations: ['finish'],
  side: 'mapping',
  pinned: true,
  parameters: [
    oneNumber(
      'smoothing',
      'Smooth',
      'Motions slower than so many frames are kept; at 0 the picture is held still.',
      'frames',
      [0, 10_000, 1, 0],
    ),
    oneNumber('amount', 'Amount', 'How much of the motion is taken away.', '×', [0, 1, 0.01, 1]),
    oneNumber(
      'scale',
      'Scale',
      'Enlarges the picture about its middle, so that its border stays out of the frame.',
      '×',
      [0.25, 4, 0.005, 1],
    ),
  ],
  mapping({ smoothing: [smoothing], amount: [amount], scale: [factor] }, { frame, scale, followed }) {
    const size = { width: frame.width * scale, height: frame.height * scale }
    const middle = [frame.x * scale + size.width / 2, frame.y * scale + size.height / 2] as const
    const motion = followed
      ? steadied({ at: followed.at, frames: followed.frames, middle, smoothing, amount }, followed.time)
      : unmoved.matrix
    const [x, y] = middle
    const smaller = multiplied(
      byShift(x, y).matrix,
      multiplied([1 / factor, 0, 0, 0, 1 / factor, 0, 0, 0, 1], byShift(-x, -y).matrix),
    )
    return byMatrix(atScale(multiplied(motion, smaller), scale))
  },
}
