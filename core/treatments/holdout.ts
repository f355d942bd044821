/** Holdout: the element is cut away, so that what is behind it is seen there as it was, and nothing need be laid over it. */

import { point } from '../graph/steps'
import type { PictureTreatment } from './treatment'

export const holdout: PictureTreatment<'holdout'> = {
  kind: 'holdout',
  label: 'Holdout',
  help: 'Cuts the element away where its matte is; inverted, everywhere else.',
  does: ['cut out', 'in front', 'mask', 'garbage', 'crop', 'hide'],
  stations: ['set'],
  side: 'frame',
  parameters: [],
  byMatte: true,
  build: (input, values, { draw }) => point(input, 'holdout', 1, values, { seed: draw.seed, frame: 0 }),
  run: (kernels, strip, count) => {
    kernels.clearStrip(strip, count)
  },
}
