/** Vignette: light that falls off towards the corners of the frame, as it does through a lens. */

import { point } from '../graph/steps'
import type { ParameterDescription } from './description'
import type { PictureTreatment } from './treatment'

const number = (
  name: string,
  label: string,
  help: string,
  unit: string,
  [least, most, step, initial]: readonly [number, number, number, number],
): ParameterDescription => ({ name, label, help, channels: 1, unit, least, most, step, initial })

export const vignette: PictureTreatment<'vignette'> = {
  kind: 'vignette',
  label: 'Vignette',
  help: 'Takes light away towards the corners of the frame; a negative amount gives it back.',
  does: ['dark corners', 'fall-off', 'lens shading', 'brighten corners'],
  stations: ['glass', 'finish'],
  side: 'frame',
  parameters: [
    number('amount', 'Amount', 'Share of the light that is gone at its end.', '×', [-4, 1, 0.005, 0.3]),
    number(
      'from',
      'From',
      'Where it begins, as a share of the way from the middle to a corner.',
      '×',
      [0, 4, 0.005, 0.4],
    ),
    number('to', 'To', 'Where it has its full amount.', '×', [0, 4, 0.005, 1]),
    number('x', 'Middle across', 'From the middle of the frame.', 'px', [-65_536, 65_536, 1, 0]),
    number('y', 'Middle down', 'From the middle of the frame.', 'px', [-65_536, 65_536, 1, 0]),
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
