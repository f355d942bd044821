/** Lens map: bends the element as the plate's lens bent the scene, by a two-channel map; the plate itself is never bent. */

import { warp } from '../graph/steps'
import type { Treatment } from './treatment'

export const lensMap: Treatment<'lens-map'> = {
  kind: 'lens-map',
  label: 'Lens map',
  help: 'Takes each pixel from where a map says (Catmull-Rom); undistorted CG comes to lie as the lens saw it.',
  station: 'glass',
  parameters: [],
  sources: [
    {
      name: 'map',
      label: 'Map',
      help: 'Red and green: shares of width and height, pixel centres at (i + 0.5) / n, green downwards.',
      takes: 'map',
    },
  ],
  build: (input, _values, { sources, frameSize, scale }) =>
    warp(input, sources.map, { width: frameSize.width / scale, height: frameSize.height / scale }, 'catmull-rom'),
}
