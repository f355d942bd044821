/** Contrast about a pivot, in light: what lies at the pivot stays, above and below it stops are spread or drawn together. */

import { colour } from '../graph/steps'
import type { Rgb } from '../kernels/colour-program'
import type { PictureTreatment } from './treatment'

export const contrast: PictureTreatment<'contrast'> = {
  kind: 'contrast',
  label: 'Contrast',
  help: 'Spreads the stops about a pivot, or draws them together: pivot × (light / pivot) ^ contrast.',
  does: ['more contrast', 'less contrast', 'flatter', 'punch', 'gamma'],
  stations: ['set'],
  side: 'element',
  parameters: [
    {
      name: 'contrast',
      label: 'Contrast',
      help: 'Factor on the distance from the pivot in stops.',
      channels: 3,
      unit: '×',
      least: 0.05,
      most: 8,
      step: 0.005,
      initial: 1,
    },
    {
      name: 'pivot',
      label: 'Pivot',
      help: 'The light that stays as it is.',
      channels: 1,
      unit: '',
      least: 0.0001,
      most: 100,
      step: 0.005,
      initial: 0.18,
    },
  ],
  build(input, { contrast: exponents, pivot: [pivot] }) {
    if (exponents.every((one) => one === 1)) return input
    const [r, g, b] = exponents
    // Pivot and power are one gain after the power: p (c / p)^k = p^(1 - k) c^k.
    const gain = exponents.map((k) => pivot ** (1 - k)) as unknown as Rgb
    return colour(input, [
      { do: 'power', exponent: [r, g, b] },
      { do: 'affine', gain, veil: [0, 0, 0] },
    ])
  },
}
