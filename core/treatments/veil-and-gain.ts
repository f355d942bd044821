/** Veil and gain: lifts and scales the element's light per channel so that its blacks and colour meet the plate's. */

import { colour } from '../graph/steps'
import type { ColourStep, Rgb } from '../kernels/colour-program'
import type { PictureTreatment } from './treatment'

export const veilAndGain: PictureTreatment<'veil-and-gain'> = {
  kind: 'veil-and-gain',
  label: 'Veil and gain',
  help: 'Adds the light that lies over the plate everywhere (veil) and scales the element (gain), per channel.',
  does: [
    'lift the blacks',
    'brighter',
    'darker',
    'black level',
    'exposure',
    'colour balance',
    'warmer',
    'cooler',
    'contrast',
    'gamma',
    'tint',
  ],
  stations: ['set'],
  side: 'element',
  parameters: [
    {
      name: 'veil',
      label: 'Veil',
      help: 'Light added evenly; lifts the blacks. Scene-linear.',
      channels: 3,
      unit: '',
      least: -0.2,
      most: 0.5,
      step: 0.0005,
      initial: 0,
    },
    {
      name: 'gain',
      label: 'Gain',
      help: 'Factor on the element’s light.',
      channels: 3,
      unit: '×',
      least: 0,
      most: 8,
      step: 0.005,
      initial: 1,
    },
    {
      name: 'gamma',
      label: 'Gamma',
      help: 'Power applied before gain; 1 changes nothing.',
      channels: 3,
      unit: '',
      least: 0.2,
      most: 5,
      step: 0.005,
      initial: 1,
    },
  ],
  build(input, { veil, gain, gamma }) {
    const steps: ColourStep[] = []
    if (gamma.some((g) => g !== 1)) steps.push({ do: 'power', exponent: rgb(gamma.map((g) => 1 / g)) })
    if (gain.some((g) => g !== 1) || veil.some((v) => v !== 0))
      steps.push({ do: 'affine', gain: rgb(gain), veil: rgb(veil) })
    return colour(input, steps)
  },
}

function rgb([r, g, b]: readonly number[]): Rgb {
  return [r, g, b]
}
