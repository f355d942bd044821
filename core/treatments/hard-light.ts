/** Hard-light contrast: the element blended with itself by hard light (W3C Compositing and Blending Level 1, 9.1.9). */

import { decode, encode, encodingNames, encodings, toneTable, type EncodingName } from '../colour'
import { point } from '../graph/steps'
import { planeBytes } from '../kernels/kernels'
import type { ChoiceDescription } from './description'
import type { PictureTreatment } from './treatment'

/** The encoding in which something is done to code values. */
export const encodingChoice = (help: string): ChoiceDescription => ({
  name: 'encoding',
  label: 'Encoding',
  help,
  options: encodingNames.map((name) => ({ name, label: name === 'linear' ? 'Light' : encodings[name].label })),
  initial: 'srgb',
})

/** Its number, as steps keep it. */
export const encodingNumber = (choices: Readonly<Record<string, string>>) =>
  encodingNames.indexOf((choices.encoding ?? 'srgb') as EncodingName)

/** Of a code value with itself: twice its square below a half, the complement of that above. */
const hardLight = (code: number) => (code <= 0.5 ? 2 * code * code : 1 - 2 * (1 - code) ** 2)

export const hardLightContrast: PictureTreatment<'hard-light'> = {
  kind: 'hard-light',
  label: 'Hard-light contrast',
  help: 'Blends the element with itself by hard light, in an encoding. Code values from 0 to 1 are changed, others stay.',
  does: ['contrast', 'punch', 'crisp', 'depth'],
  stations: ['set'],
  side: 'element',
  parameters: [
    {
      name: 'amount',
      label: 'Amount',
      help: 'How much of the blend counts.',
      channels: 1,
      unit: '×',
      least: 0,
      most: 1,
      step: 0.005,
      initial: 0.5,
    },
  ],
  choices: [encodingChoice('The encoding whose code values are blended.')],
  build(input, { amount }, { choices, draw }) {
    if (amount[0] === 0) return input
    return point(input, 'hard-light', 1, { amount, encoding: [encodingNumber(choices)] }, draw)
  },
  tables({ amount: [amount], encoding: [number] }) {
    const encoding = encodingNames[number]
    const curve = (light: number) => {
      const code = encode(encoding, light)
      if (!(code > 0 && code < 1)) return light
      return decode(encoding, code + amount * (hardLight(code) - code))
    }
    return [toneTable(curve)]
  },
  run(kernels, strip, count, _values, _draw, _x, _y, _work, _others, [table]) {
    for (let c = 0; c < 3; c++) kernels.toneChannel(strip + c * planeBytes, strip + 3 * planeBytes, count, table)
  },
}
