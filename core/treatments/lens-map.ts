/** Lens map: bends the element as the plate's lens bent the scene, by a two-channel map; the plate itself is never bent. */

import { byField } from '../motion/mapping'
import type { MappingTreatment } from './treatment'

export const lensMap: MappingTreatment<'lens-map'> = {
  kind: 'lens-map',
  label: 'Lens map',
  help: 'Takes each pixel from where a map says (Catmull-Rom); undistorted CG comes to lie as the lens saw it.',
  does: ['bend', 'distort', 'lens distortion', 'barrel', 'overscan'],
  stations: ['glass'],
  side: 'mapping',
  parameters: [],
  sources: [
    {
      name: 'map',
      label: 'Map',
      help: 'Red and green: shares of width and height, pixel centres at (i + 0.5) / n, green downwards.',
      takes: 'vec2',
    },
  ],
  mapping: (_values, { sources }) => byField(sources.map),
}
