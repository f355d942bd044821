/** Spill: light of a backing on what was filmed in front of it held back, apart from keying. */

import { point } from '../graph/steps'
import { backingChannels } from './backing-key'
import { oneNumber } from './description'
import type { PictureTreatment } from './treatment'

export const spill: PictureTreatment<'spill'> = {
  kind: 'spill',
  label: 'Spill',
  help: 'Holds the light of a green, blue or red backing to the other two channels, and gives back what is taken in another colour.',
  does: ['spill', 'despill', 'green screen', 'blue screen', 'edge light'],
  stations: ['set'],
  side: 'element',
  parameters: [
    oneNumber('amount', 'Held', 'How far the channel is held to the other two.', '×', [0, 1, 0.01, 1]),
    {
      ...oneNumber(
        'back',
        'Given back',
        'How much of what is taken is given back to each channel: the light of the new background.',
        '×',
        [...([0, 4, 0.01, 0] as const)],
      ),
      channels: 3,
    },
  ],
  choices: [
    {
      name: 'channel',
      label: 'Backing is',
      help: 'The channel that spilt.',
      options: backingChannels.map((name) => ({ name, label: name })),
      initial: 'green',
    },
    {
      name: 'to',
      label: 'Held to',
      help: 'What the channel may not exceed.',
      options: [
        { name: 'larger', label: 'the larger of the other two' },
        { name: 'mean', label: 'the mean of the other two' },
      ],
      initial: 'larger',
    },
  ],
  build(input, { amount, back }, { choices, draw }) {
    if (amount[0] === 0) return input
    const channel = Math.max(0, backingChannels.indexOf(choices.channel as 'green'))
    const settings = [channel, amount[0], choices.to === 'mean' ? 1 : 0, ...back]
    return point(input, 'spill', 1, { settings }, { ...draw, frame: 0 })
  },
  run: (kernels, strip, count, { settings: [channel, amount, toMean, r, g, b] }) =>
    kernels.spillRow(strip, count, channel, amount, toMean, r, g, b),
}
