/** The map of a lens, computed by its numbers: how far from each pixel's middle lies the place that it leads to. */

import type { LensField } from '../graph/steps'
import { bent, straightener } from '../motion/lens'
import type { SourceFrame } from './source-frame'

/** @returns offsets across and down in pixels, no number where the lens shows nothing: beyond its fold */
export function computedMap({ lens, leads, window }: LensField): SourceFrame {
  const { x: left, y: top, width, height } = window
  const across = new Float32Array(width * height)
  const down = new Float32Array(width * height)
  const back = straightener(lens)
  const through = leads === 'to-straight' ? back : (x: number, y: number) => bent(lens, [x, y])
  for (let row = 0, i = 0; row < height; row++)
    for (let column = 0; column < width; column++, i++) {
      const [x, y] = [left + column + 0.5, top + row + 0.5]
      const place = through(x, y)
      across[i] = place ? place[0] - x : NaN
      down[i] = place ? place[1] - y : NaN
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
