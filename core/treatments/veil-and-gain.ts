/** Veil and gain: lifts and scales the element's light per channel so that its blacks and colour meet the plate's. */

import type { Kernels } from '../kernels/kernels'
import type { Treatment } from './treatment'

export const veilAndGain: Treatment<'veil-and-gain'> = {
  kind: 'veil-and-gain',
  version: 1,
  label: 'Veil and gain',
  help: 'Adds the light that lies over the plate everywhere (veil) and scales the element (gain), per channel.',
  station: 'set',
  reach: 'point',
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
  apply(kernels: Kernels, pixels: number, count: number, values) {
    const [gammaR, gammaG, gammaB] = values.gamma
    if (gammaR !== 1 || gammaG !== 1 || gammaB !== 1) kernels.power(pixels, count, 1 / gammaR, 1 / gammaG, 1 / gammaB)
    const { gain, veil } = values
    if ([...gain].some((g) => g !== 1) || [...veil].some((v) => v !== 0)) {
      kernels.gainAndVeil(pixels, count, gain[0], gain[1], gain[2], veil[0], veil[1], veil[2])
    }
  },
}
