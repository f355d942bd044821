/** Saturation: mixes the element's colour with its own luma, so that CG that is too colourful meets the plate. */

import { lumaWeights } from '../colour'
import { colour } from '../graph/steps'
import type { Rgb } from '../kernels/colour-program'
import type { PictureTreatment } from './treatment'

export const saturation: PictureTreatment<'saturation'> = {
  kind: 'saturation',
  label: 'Saturation',
  help: 'Takes colour towards its luma or away from it; 1 changes nothing, 0 leaves grey.',
  does: ['less colour', 'more colour', 'paler', 'grey', 'vivid'],
  stations: ['set'],
  side: 'element',
  parameters: [
    {
      name: 'amount',
      label: 'Saturation',
      help: 'Factor on the distance of each channel from luma.',
      channels: 1,
      unit: '×',
      least: 0,
      most: 3,
      step: 0.005,
      initial: 1,
    },
  ],
  build(input, { amount: [amount] }, { working }) {
    if (amount === 1) return input
    const weights = lumaWeights(working)
    const row = (own: number): Rgb => {
      const [r, g, b] = weights.map((w, i) => w * (1 - amount) + (i === own ? amount : 0))
      return [r, g, b]
    }
    return colour(input, [{ do: 'matrix', rows: [row(0), row(1), row(2)] }])
  },
}
