/** Soften: takes CG that is sharper than the plate down by fractions of a pixel. */

import { blur } from '../graph/steps'
import type { PictureTreatment } from './treatment'

const sigma = (name: string, label: string, direction: string) =>
  ({
    name,
    label,
    help: `Sigma of the Gaussian ${direction}.`,
    channels: 1,
    unit: 'px',
    least: 0,
    most: 200,
    step: 0.01,
    initial: 0,
  }) as const

export const soften: PictureTreatment<'soften'> = {
  kind: 'soften',
  label: 'Soften',
  help: 'Blurs by a Gaussian, across and down apart; below 0.1 px nothing changes.',
  does: ['softer', 'blur', 'less sharp', 'out of focus', 'sharpness'],
  stations: ['glass', 'sensor'],
  side: 'frame',
  parameters: [sigma('across', 'Across', 'across'), sigma('down', 'Down', 'downwards')],
  build: (input, { across, down }, { scale, beyond }) => blur(input, across[0] / scale, down[0] / scale, beyond),
}
