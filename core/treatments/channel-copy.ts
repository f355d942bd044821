/** Channel copy: each channel made of another one. */

import { lumaWeights } from '../colour'
import { colour } from '../graph/steps'
import type { Rgb } from '../kernels/colour-program'
import type { ChoiceDescription } from './description'
import type { PictureTreatment } from './treatment'

const from = (name: string, label: string): ChoiceDescription => ({
  name,
  label,
  help: `What ${label.toLowerCase()} is made of.`,
  options: [
    { name: 'red', label: 'Red' },
    { name: 'green', label: 'Green' },
    { name: 'blue', label: 'Blue' },
    { name: 'luma', label: 'Luma' },
    { name: 'coverage', label: 'Coverage' },
    { name: 'nothing', label: 'Nothing' },
  ],
  initial: name,
})

const single: Readonly<Record<string, Rgb>> = { red: [1, 0, 0], green: [0, 1, 0], blue: [0, 0, 1] }

export const channelCopy: PictureTreatment<'channel-copy'> = {
  kind: 'channel-copy',
  label: 'Channel copy',
  help: 'Makes each channel of another one, of luma, or of the coverage.',
  does: ['swap channels', 'copy channel', 'alpha to colour', 'noisy blue'],
  stations: ['set'],
  side: 'element',
  parameters: [],
  choices: [from('red', 'Red'), from('green', 'Green'), from('blue', 'Blue')],
  build(input, _values, { choices, working }) {
    const names = ['red', 'green', 'blue'].map((name) => choices[name] ?? name)
    if (names.join() === 'red,green,blue') return input
    const rows = names.map((name) => (name === 'luma' ? lumaWeights(working) : (single[name] ?? [0, 0, 0])))
    const veil = names.map((name) => (name === 'coverage' ? 1 : 0)) as unknown as Rgb
    return colour(input, [
      { do: 'matrix', rows: rows as unknown as [Rgb, Rgb, Rgb] },
      ...(veil.some((one) => one > 0) ? [{ do: 'affine', gain: [1, 1, 1], veil } as const] : []),
    ])
  },
}
