/** Light wrap: light from behind comes round the edge of what stands before it, as flare in the lens and glancing reflection bring it. */

import { alphaOf } from '../graph/alpha-of'
import { blend, blur, colour, combine } from '../graph/steps'
import { oneNumber } from './description'
import type { PictureTreatment } from './treatment'

export const lightWrap: PictureTreatment<'light-wrap'> = {
  kind: 'light-wrap',
  label: 'Light wrap',
  help: 'Light of what is seen behind comes round the edge; it is of the composite, so the element alone does not have it. On what was keyed it gives the edge the light of its new background.',
  does: ['light wrap', 'edge light', 'background light', 'spill', 'bleed'],
  stations: ['glass'],
  side: 'frame',
  byBehind: true,
  ofLight: true,
  parameters: [
    oneNumber('width', 'Width', 'Sigma over which the light behind is spread.', 'px', [0.5, 200, 0.5, 12]),
    {
      ...oneNumber('amount', 'Amount', 'Share of the spread light that is added where the element covers.', '×', [
        ...([0, 2, 0.01, 0.3] as const),
      ]),
      channels: 3,
    },
  ],
  build(input, { width, amount }, { scale, behind }) {
    if (!behind || amount.every((one) => one === 0)) return input
    const sigma = width[0] / scale
    const open = blend(behind, input, null, 'destination-out', 1, {})
    const spread = combine('product', [alphaOf(input), blur(open, sigma, sigma, 'extend')])
    const gain = [amount[0], amount[1], amount[2]] as const
    // A sum adds light, not coverage.
    return combine('sum', [input, colour(spread, [{ do: 'affine', gain, veil: [0, 0, 0] }])])
  },
}
