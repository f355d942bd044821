/** Parameters of what is neither a treatment nor a blend: elements, their inputs, and limits. */

import type { Description, ParameterDescription } from '../treatments/description'

const exposure: ParameterDescription = {
  name: 'exposure',
  label: 'Exposure',
  help: 'Doubles the light with every stop.',
  channels: 1,
  unit: 'stops',
  least: -16,
  most: 16,
  step: 0.01,
  initial: 0,
}

const tint: ParameterDescription = {
  name: 'colour',
  label: 'Colour',
  help: 'Factor on the light of each channel.',
  channels: 3,
  unit: '×',
  least: 0,
  most: 16,
  step: 0.005,
  initial: 1,
}

const share = (name: string, label: string, help: string): ParameterDescription => ({
  name,
  label,
  help,
  channels: 1,
  unit: '×',
  least: 0,
  most: 1,
  step: 0.005,
  initial: 1,
})

export const elementDescription: Description = {
  kind: 'element',
  label: 'Element',
  help: 'One thing in the picture.',
  parameters: [share('opacity', 'Opacity', 'How much of the element counts; at 0 what is behind stays as it is.')],
}

export const limitDescription: Description = {
  kind: 'limit',
  label: 'Limit',
  help: 'How far the treatment counts, and where.',
  parameters: [share('amount', 'Amount', 'At 0 the pixels stay as they were, at 1 they are the treatment’s.')],
}

export const inputDescriptions = {
  pass: { kind: 'pass', label: 'Pass', help: 'One part of a source’s files.', parameters: [exposure, tint] },
  element: {
    kind: 'element',
    label: 'Element',
    help: 'What another element shows by itself.',
    parameters: [exposure, tint],
  },
  constant: {
    kind: 'constant',
    label: 'Constant',
    help: 'One colour all over the frame.',
    parameters: [
      { ...tint, help: 'Scene-linear light of each channel, before coverage.', initial: 0.18 },
      share('alpha', 'Alpha', 'Coverage everywhere.'),
    ],
  },
  sum: { kind: 'sum', label: 'Sum', help: 'The light of its parts added up.', parameters: [] },
  product: { kind: 'product', label: 'Product', help: 'The light of its parts multiplied.', parameters: [] },
  group: { kind: 'group', label: 'Group', help: 'The elements in it, far to near.', parameters: [] },
} as const satisfies Record<string, Description>

export type InputKind = keyof typeof inputDescriptions
