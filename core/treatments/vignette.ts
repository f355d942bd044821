/** Vignette: light that falls off towards the corners of the frame, as it does through a lens. */

import { point } from '../graph/steps'
import { oneNumber } from './description'
import type { PictureTreatment } from './treatment'

export const vignette: PictureTreatment<'vignette'> = {
  kind: 'vignette',
  label: 'Vignette',
  help: 'Takes light away towards the corners of the frame; a negative amount gives it back.',
  does: ['dark corners', 'fall-off', 'lens shading', 'brighten corners'],
  stations: ['glass', 'finish'],
  side: 'frame',
  parameters: [
    oneNumber('amount', 'Amount', 'Share of the light that is gone at its end.', '×', [-4, 1, 0.005, 0.3]),
    oneNumber(
      'from',
      'From',
      'Where it begins, as a share of the way from the middle to a corner.',
      '×',
      [0, 4, 0.005, 0.4],
    ),
    oneNumber('to', 'To', 'Where it has its full amount.', '×', [0, 4, 0.005, 1]),
    oneNumber('x', 'Middle across', 'From the middle of the frame.', 'px', [-65_536, 65_536, 1, 0]),
    oneNumber('y', 'Middle down', 'From the middle of the frame.', 'px', [-65_536, 65_536, 1, 0]),
  ],
  fault: ({ from, to }) =>
    to[0] > from[0]
      ? null
      : { what: 'ends before it begins', remedy: 'Let it begin nearer the middle, or end farther away.' },
  build(input, { amount: [amount], from: [from], to: [to], x: [x], y: [y] }, { frame, scale, draw }) {
    if (amount === 0) return input
    const half = Math.hypot(frame.width, frame.height) / 2
    const middle = [frame.x + frame.width / 2 + x / scale, frame.y + frame.height / 2 + y / scale]
    return point(input, 'vignette', 1, { settings: [...middle, half, half, from, to, amount] }, draw)
  },
  tables: ({ settings }) => [Float64Array.from(settings)],
  run(kernels, strip, count, _values, _draw, x, y, _work, _others, [settings]) {
    kernels.vignetteRow(strip, count, x, y, settings)
  },
}
