/** The map of a lens, computed by its numbers: how far from each pixel's middle lies the place that it leads to. */

import type { LensField } from '../graph/steps'
import { eachPlace } from '../motion/lens'
import type { SourceFrame } from './source-frame'

/** @returns offsets across and down in pixels, no number where the lens shows nothing: beyond its fold */
export function computedMap(field: LensField): SourceFrame {
  const { window } = field
  const across = new Float32Array(window.width * window.height)
  const down = new Float32Array(across.length)
  eachPlace(field, (i, x, y, place) => {
    across[i] = place ? place[0] - x : NaN
    down[i] = place ? place[1] - y : NaN
  })
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
