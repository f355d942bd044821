/** Lens: bends the element as the plate's lens bent the scene, by the lens's numbers; the plate itself is never bent. */

import { wayField, type Lens } from '../graph/steps'
import type { Window } from '../image/window'
import { byField, unmoved } from '../motion/mapping'
import { farthestSeen } from '../motion/lens'
import { oneNumber } from './description'
import type { MappingTreatment, ParameterValues } from './treatment'

/** Corners lie one unit from the middle, unless the unit is changed: a few tenths bend much. */
const bend = [-4, 4, 0.0005, 0] as const

export const lens: MappingTreatment<'lens'> = {
  kind: 'lens',
  label: 'Lens',
  help: 'Bends straight CG as the lens bent the scene, by the numbers of the lens: measured from straight lines, or typed.',
  does: ['bend', 'distort', 'lens distortion', 'barrel', 'pincushion', 'straight lines', 'overscan', 'solve'],
  stations: ['glass'],
  side: 'mapping',
  lines: true,
  parameters: [
    oneNumber('k1', 'Bend k1', 'With the square of the distance from the centre; below 0 it is a barrel.', '', bend),
    oneNumber('k2', 'Bend k2', 'With the fourth power of the distance.', '', bend),
    oneNumber('k3', 'Bend k3', 'With the sixth power of the distance.', '', bend),
    oneNumber('x', 'Centre x', 'Right of the middle of the frame.', 'px', [-65_536, 65_536, 0.25, 0]),
    oneNumber('y', 'Centre y', 'Below the middle of the frame.', 'px', [-65_536, 65_536, 0.25, 0]),
    oneNumber('p1', 'Askew p1', 'Of a lens whose glass is not centred: more up and down.', '', [-1, 1, 0.0005, 0]),
    oneNumber('p2', 'Askew p2', 'Of a lens whose glass is not centred: more sideways.', '', [-1, 1, 0.0005, 0]),
    oneNumber(
      'squeeze',
      'Squeeze',
      'How much wider the plate must be shown to be seen right: 2 for most anamorphic lenses.',
      '×',
      [0.25, 4, 0.01, 1],
    ),
    oneNumber(
      'unit',
      'Unit',
      'What is 1 in the numbers, as a share of the way from the middle to a corner. For numbers of a calibration: its focal length by that.',
      '×',
      [0.05, 50, 0.01, 1],
    ),
  ],
  fault: ({ k1: [k1], k2: [k2], k3: [k3], unit: [unit] }) =>
    farthestSeen({ k1, k2, k3 }) * unit >= 1
      ? null
      : {
          what: 'folds inside the frame: beyond the fold nothing is seen',
          remedy: 'Bring the bend nearer to 0, or measure it from lines that reach the corners.',
        },
  mapping(values, { frame, scale }) {
    const { k1, k2, k3, p1, p2 } = values
    if ([k1, k2, k3, p1, p2].every(([value]) => value === 0)) return unmoved
    return byField(wayField({ way: [{ lens: lensOf(values, frame, scale), leads: 'to-straight' }], window: frame }))
  },
}

/**
 * @param frame in the pixels in which the lens is wanted
 * @param scale pixels at full scale in one of these
 */
export function lensOf(values: ParameterValues, { x, y, width, height }: Window, scale: number): Lens {
  const one = (name: string) => values[name][0]
  const squeeze = one('squeeze')
  const unit = (one('unit') * Math.hypot(width * squeeze, height)) / 2
  return {
    centre: [x + width / 2 + one('x') / scale, y + height / 2 + one('y') / scale],
    ...{ unit, squeeze, k1: one('k1'), k2: one('k2'), k3: one('k3'), p1: one('p1'), p2: one('p2') },
  }
}
