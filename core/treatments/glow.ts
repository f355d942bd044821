/** Glow: light above a threshold spreads in the glass and is added around itself. */

import { blur, colour, blend } from '../graph/steps'
import type { PictureTreatment } from './treatment'

/** Widths and shares of the two bells: a close one and a wide one. */
const bells = [
  { width: 0.25, share: 0.6 },
  { width: 1, share: 0.4 },
] as const

export const glow: PictureTreatment<'glow'> = {
  kind: 'glow',
  label: 'Glow',
  help: 'Adds a wide blur of the light above a threshold; the energy added is the amount times that light.',
  does: ['glow', 'bloom', 'halo', 'shine', 'halation'],
  stations: ['glass'],
  side: 'frame',
  ofLight: true,
  parameters: [
    {
      name: 'threshold',
      label: 'Threshold',
      help: 'Scene-linear light below this does not glow.',
      channels: 1,
      unit: '',
      least: 0,
      most: 16,
      step: 0.01,
      initial: 1,
    },
    {
      name: 'width',
      label: 'Width',
      help: 'Sigma of the wide part; the close part has a quarter of it.',
      channels: 1,
      unit: 'px',
      least: 1,
      most: 200,
      step: 0.5,
      initial: 40,
    },
    {
      name: 'amount',
      label: 'Amount',
      help: 'Share of the light above the threshold that is added.',
      channels: 3,
      unit: '×',
      least: 0,
      most: 2,
      step: 0.005,
      initial: 0,
    },
  ],
  build(input, { threshold, width, amount }, { scale, beyond }) {
    if (amount.every((a) => a === 0)) return input
    const bright = colour(input, [{ do: 'light-above', threshold: threshold[0], knee: threshold[0] / 4 }])
    return bells.reduce((behind, bell) => {
      const sigma = (width[0] * bell.width) / scale
      const spread = blur(bright, sigma, sigma, beyond)
      return blend(behind, spread, null, 'plus-lighter', 1, { amount: amount.map((a) => a * bell.share) })
    }, input)
  },
}
