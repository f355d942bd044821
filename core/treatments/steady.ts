/** Stabilise: takes the motion of tracks out of the picture, all of it or what is quicker than so many frames. */

import { identity, wayField, type Lens, type Matrix3 } from '../graph/steps'
import { about, byField, byMatrix, isIdentity, joined, multiplied } from '../motion/mapping'
import { atScale } from '../motion/placing'
import { steadied } from '../motion/steadied'
import { throughLens, wayAtScale } from '../motion/way'
import { oneNumber } from './description'
import type { Followed, MappingTreatment, ParameterValues } from './treatment'

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
  mapping(values, { frame, scale, followed }) {
    const [x, y] = [(frame.x + frame.width / 2) * scale, (frame.y + frame.height / 2) * scale]
    const by = 1 / values.scale[0]
    const smaller = about([x, y], [by, 0, 0, by])
    const taken = followed && takenMotion(followed, values, [x, y])
    if (!taken?.lens) return byMatrix(atScale(multiplied(taken?.matrix ?? identity, smaller), scale))
    const way = joined([{ matrix: smaller }], throughLens(taken.matrix, taken.lens))
    return byField(wayField({ way: wayAtScale(way, scale), window: frame }))
  },
}

/** From the steady picture to the picture as it came: a matrix of the straight picture, with the lenses before and after it. */
function takenMotion(
  { at, lens, rest, frames, time }: Followed,
  { smoothing: [smoothing], amount: [amount] }: ParameterValues,
  middle: readonly [number, number],
): { readonly matrix: Matrix3; readonly lens: { readonly from: Lens; readonly to: Lens } | null } {
  const matrix = steadied({ at, frames, middle, smoothing, amount }, time)
  if (!lens) return { matrix, lens: null }
  const to = lens(time)
  // Held still it looks as on the resting frame, its lens too; what changes slowly is kept where it is smoothed.
  const from = smoothing === 0 ? between(to, lens(rest), amount) : to
  return isIdentity(matrix) && alike(from, to) ? { matrix, lens: null } : { matrix, lens: { from, to } }
}

const alike = (one: Lens, other: Lens) => one === other || JSON.stringify(one) === JSON.stringify(other)

/** The lens whose numbers lie so far between two. */
function between(one: Lens, other: Lens, share: number): Lens {
  if (one === other || share === 0) return one
  const mean = (a: number, b: number) => a + share * (b - a)
  const numbers = (['unit', 'squeeze', 'k1', 'k2', 'k3', 'p1', 'p2'] as const).map(
    (name) => [name, mean(one[name], other[name])] as const,
  )
  const centre = [mean(one.centre[0], other.centre[0]), mean(one.centre[1], other.centre[1])] as const
  return { ...one, ...Object.fromEntries(numbers), centre }
}
