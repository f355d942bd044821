/** The map of a way through lenses, computed by their numbers: how far from each pixel's middle lies the place that it leads to. */

import type { WayField } from '../graph/steps'
import { placesOver } from '../motion/way'
import type { SourceFrame } from './source-frame'

/** @returns offsets across and down in pixels, no number where a lens shows nothing: beyond its fold */
export function computedMap(field: WayField): SourceFrame {
  const { window } = field
  const across = new Float32Array(window.width * window.height)
  const down = new Float32Array(across.length)
  const places = placesOver(field)
  for (let y = 0, i = 0; y < window.height; y++)
    for (let x = 0; x < window.width; x++, i++) {
      across[i] = places[2 * i] - (window.x + x + 0.5)
      down[i] = places[2 * i + 1] - (window.y + y + 0.5)
    }
  return {
    displayWindow: window,
    dataWindow: window,
    planes: [
      { name: 'R', type: 'float', samples: across },
      { name: 'G', type: 'float', samples: down },
    ],
    decoded: true,
  }
}
