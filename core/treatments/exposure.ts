/** Exposure: light doubled with every stop. */

import { colour } from '../graph/steps'
import type { PictureTreatment } from './treatment'

export const exposure: PictureTreatment<'exposure'> = {
  kind: 'exposure',
  label: 'Exposure',
  help: 'Doubles the light with every stop.',
  does: ['brighter', 'darker', 'stops', 'printer lights', 'lighten', 'darken'],
  stations: ['set'],
  side: 'element',
  parameters: [
    {
      name: 'stops',
      label: 'Exposure',
      help: 'How many times the light is doubled; below 0 it is halved.',
      channels: 3,
      unit: 'stops',
      least: -16,
      most: 16,
      step: 0.01,
      initial: 0,
    },
  ],
  build(input, { stops: [r, g, b] }) {
    if (r === 0 && g === 0 && b === 0) return input
    return colour(input, [{ do: 'affine', gain: [2 ** r, 2 ** g, 2 ** b], veil: [0, 0, 0] }])
  },
}
