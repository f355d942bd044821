/** Clamp: colour held to a range, where something after it cannot do with more. */

import { point } from '../graph/steps'
import type { PictureTreatment } from './treatment'

const bound = (name: string, label: string, help: string, initial: number) =>
  ({ name, label, help, channels: 1, unit: '', least: -1000, most: 1000, step: 0.005, initial }) as const

export const clamp: PictureTreatment<'clamp'> = {
  kind: 'clamp',
  label: 'Clamp',
  help: 'Holds light to a range; coverage stays as it is.',
  does: ['limit', 'clip', 'fireflies', 'negative values', 'too bright'],
  stations: ['set'],
  side: 'element',
  parameters: [
    bound('least', 'Lowest', 'Light below becomes this.', 0),
    bound('most', 'Highest', 'Light above becomes this.', 1),
  ],
  fault: ({ least: [least], most: [most] }) =>
    least <= most
      ? null
      : { what: 'has a lowest light above its highest', remedy: 'Lower one of them or raise the other.' },
  build: (input, values, { draw }) => point(input, 'clamp', 1, values, draw),
  run: (kernels, strip, count, { least: [least], most: [most] }) =>
    kernels.clampCovered(strip, count, Math.min(least, most), most),
}
