/** Parameters of what is neither a treatment nor a blend: elements, where they lie, their inputs, limits, the shutter. */

import {
  oneNumber,
  type ChoiceDescription,
  type Description,
  type ParameterDescription,
  type PointsDescription,
} from '../treatments/description'

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

/** Of what is moved by hand: keyframes of it go on smoothly. */
const moving = (...of: Parameters<typeof oneNumber>): ParameterDescription => ({ ...oneNumber(...of), way: 'smooth' })

const angle = oneNumber(
  'angle',
  'Shutter angle',
  'How long the shutter is open: 360 is the whole of a frame.',
  '°',
  [0, 720, 1, 180],
)
const opens = oneNumber(
  'opens',
  'Opens at',
  'When the shutter opens, from the frame’s own time: −90 with 180 is around it.',
  '°',
  [-720, 720, 1, -90],
)
const samples = oneNumber(
  'samples',
  'Most samples',
  'As many as the motion needs are taken, and no more than these.',
  '',
  [2, 256, 1, 64],
)

export const shutterDescription: Description = {
  kind: 'shutter',
  label: 'Shutter',
  help: 'Blurs what moves by its keyframes, as long as the shutter is open.',
  parameters: [angle, opens, samples],
}

const far = 131_072
const px = (name: string, label: string, help: string) => moving(name, label, help, 'px', [-far, far, 0.1, 0])

export const cornerNames = ['topLeft', 'topRight', 'bottomRight', 'bottomLeft'] as const
export type CornerName = (typeof cornerNames)[number]
const cornerLabels: Readonly<Record<CornerName, string>> = {
  topLeft: 'Top left',
  topRight: 'Top right',
  bottomRight: 'Bottom right',
  bottomLeft: 'Bottom left',
}
const ofCorner = (corner: CornerName) =>
  (['X', 'Y'] as const).map((axis) =>
    px(
      `${corner}${axis}`,
      `${cornerLabels[corner]} ${axis.toLowerCase()}`,
      'How far this corner of the box is pulled.',
    ),
  )

export const placingDescription: Description = {
  kind: 'placing',
  label: 'Place',
  help: 'Where the element lies: it is sampled once, with the lens and all that moves it.',
  parameters: [
    px('x', 'Across', 'How far it is moved to the right.'),
    px('y', 'Down', 'How far it is moved down.'),
    moving('rotation', 'Rotation', 'Clockwise, about the pivot.', '°', [-36_000, 36_000, 0.1, 0]),
    moving('scale', 'Scale', 'Size, about the pivot.', '×', [-100, 100, 0.005, 1]),
    moving('stretch', 'Stretch', 'Width beside height; −1 turns left and right around.', '×', [-100, 100, 0.005, 1]),
    moving('skew', 'Skew', 'Leans to the right, about the pivot.', '°', [-89, 89, 0.1, 0]),
    px('pivotX', 'Pivot x', 'Place in the frame about which it turns and grows.'),
    px('pivotY', 'Pivot y', 'Place in the frame about which it turns and grows.'),
    ...cornerNames.flatMap(ofCorner),
    moving('bend', 'Bend', 'Bows it up in the middle, as a share of the height of its box.', '', [-2, 2, 0.005, 0]),
    moving('twist', 'Twist', 'Turns the middle of it; the edge of its box stays.', '°', [-360, 360, 0.5, 0]),
    angle,
    opens,
    samples,
  ],
}

const matteParameters: readonly ParameterDescription[] = [
  moving(
    'grow',
    'Grow',
    'How far the edge of the whole matte moves outwards; below 0 inwards.',
    'px',
    [-64, 64, 0.1, 0],
  ),
  moving('soften', 'Soften', 'Blurs the whole of the matte.', 'px', [0, 500, 0.1, 0]),
  share('opacity', 'Opacity', 'How much of the matte counts.'),
]

const light = (name: string, label: string, help: string, initial: number) =>
  oneNumber(name, label, help, '', [-64, 65_536, 0.001, initial])

const depth = (name: string, label: string, help: string, initial: number) =>
  oneNumber(name, label, help, '', [-1e6, 1e6, 0.01, initial])

export const matteDescriptions = {
  drawn: { kind: 'drawn', label: 'Drawn matte', help: 'Outlines drawn on the picture.', parameters: matteParameters },
  painted: {
    kind: 'painted',
    label: 'Painted matte',
    help: 'Strokes of a round brush, added and taken away.',
    parameters: matteParameters,
  },
  channel: {
    kind: 'channel',
    label: 'Channel matte',
    help: 'One channel of a source, held to 0 to 1: a matte that came in.',
    parameters: matteParameters,
  },
  depth: {
    kind: 'depth',
    label: 'Depth slice',
    help: 'What lies between two depths, by a depth pass.',
    parameters: [
      depth('low', 'Starts at', 'Depth up to which the matte is 0.', 0),
      depth('full', 'Full from', 'Depth from which the matte is 1.', 0.01),
      depth('fullTo', 'Full to', 'Depth up to which the matte is 1.', 10),
      depth('high', 'Ends at', 'Depth from which the matte is 0 again.', 11),
      ...matteParameters,
    ],
  },
  objects: {
    kind: 'objects',
    label: 'Objects',
    help: 'Objects of a render, by a pass of ids.',
    parameters: matteParameters,
  },
  band: {
    kind: 'band',
    label: 'Band',
    help: 'What lies near the edge of another matte.',
    parameters: [
      oneNumber('inside', 'Inside', 'How far it reaches inwards from the edge.', 'px', [0, 64, 0.1, 3]),
      oneNumber('outside', 'Outside', 'How far it reaches outwards from the edge.', 'px', [0, 64, 0.1, 3]),
      ...matteParameters,
    ],
  },
  alpha: {
    kind: 'alpha',
    label: 'Alpha matte',
    help: 'The coverage of an element, as it shows by itself.',
    parameters: matteParameters,
  },
  keyed: {
    kind: 'keyed',
    label: 'Keyed matte',
    help: 'By how bright an element or the plate is, or how far from a colour.',
    choices: [
      {
        name: 'by',
        label: 'By',
        help: 'What of the light is looked at.',
        options: [
          { name: 'luma', label: 'brightness' },
          { name: 'red', label: 'red' },
          { name: 'green', label: 'green' },
          { name: 'blue', label: 'blue' },
          { name: 'colour', label: 'distance from a colour' },
        ],
        initial: 'luma',
      },
    ],
    parameters: [
      {
        ...tint,
        help: 'Scene-linear light that distances are from.',
        unit: '',
        most: 1000,
        step: 0.001,
        initial: 0.18,
      },
      light('low', 'Starts at', 'Scene-linear light up to which the matte is 0.', 0.05),
      light('full', 'Full from', 'Scene-linear light from which the matte is 1.', 0.1),
      light('fullTo', 'Full to', 'Scene-linear light up to which the matte is 1.', 60_000),
      light('high', 'Ends at', 'Scene-linear light from which the matte is 0 again.', 65_000),
      ...matteParameters,
    ],
  },
  combined: {
    kind: 'combined',
    label: 'Combined matte',
    help: 'Other mattes added, subtracted and intersected.',
    parameters: matteParameters,
  },
} satisfies Record<string, Description>

export const shapeDescription: Description = {
  kind: 'shape',
  label: 'Shape',
  help: 'A closed outline.',
  parameters: [
    moving('grow', 'Grow', 'Moves the outline outwards; less than 0 inwards.', 'px', [-500, 500, 0.1, 0]),
    moving(
      'inside',
      'Inner',
      'Feather inside: so far inside the outline the edge begins to fall.',
      'px',
      [0, 1000, 0.5, 0],
    ),
    moving('outside', 'Outer', 'Feather outside: so far outside the outline the edge has fallen to 0.', 'px', [
      ...([0, 1000, 0.5, 0] as const),
    ]),
    share('opacity', 'Opacity', 'How much of the shape counts.'),
  ],
}

const gradientShape: ChoiceDescription = {
  name: 'shape',
  label: 'Shape',
  help: 'Along a line, or round a middle.',
  options: [
    { name: 'linear', label: 'Linear' },
    { name: 'radial', label: 'Radial' },
  ],
  initial: 'linear',
}

const stop: PointsDescription = {
  label: 'Stop',
  help: 'A colour at a place of the gradient.',
  parameters: [
    oneNumber('at', 'Place', 'From the start, 0, to the end, 1.', '', [0, 1, 0.005, 0]),
    { ...tint, help: 'Scene-linear light of each channel, before coverage.', initial: 0.18 },
    share('alpha', 'Alpha', 'Coverage.'),
  ],
  fewest: 2,
  most: 8,
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
  gradient: {
    kind: 'gradient',
    label: 'Gradient',
    help: 'Colours that go over into each other along a line or round a middle.',
    choices: [gradientShape],
    points: stop,
    parameters: [
      px('startX', 'Start x', 'Where the first colour is; of a radial one, the middle.'),
      px('startY', 'Start y', 'Where the first colour is; of a radial one, the middle.'),
      { ...px('endX', 'End x', 'Where the last colour is.'), initial: 400 },
      px('endY', 'End y', 'Where the last colour is.'),
    ],
  },
  noise: {
    kind: 'noise',
    label: 'Noise',
    help: 'Soft clouds that drift and change: smoke, haze, uneven light.',
    parameters: [
      { ...tint, help: 'Scene-linear light where the noise is 1, before coverage.', initial: 0.18 },
      oneNumber('size', 'Size', 'Width of the largest clouds.', 'px', [2, 4096, 1, 120]),
      { ...oneNumber('flatness', 'Flatness', 'Above 1 the clouds lie flat.', '×', [0.05, 20, 0.01, 1]) },
      oneNumber('octaves', 'Detail', 'How many finer layers, each half as large and half as strong.', '', [1, 8, 1, 4]),
      oneNumber('middle', 'Middle', 'What of the noise becomes half; more leaves less of it.', '', [0, 1, 0.005, 0.5]),
      oneNumber('contrast', 'Contrast', 'How hard its edges are.', '×', [0, 16, 0.01, 1]),
      px('driftX', 'Drift x', 'How far the clouds have moved to the right: give it a rate.'),
      px('driftY', 'Drift y', 'How far the clouds have moved down: give it a rate.'),
      moving('change', 'Change', 'How far the clouds have changed: give it a rate.', '', [-100_000, 100_000, 0.01, 0]),
      share('alpha', 'Alpha', 'Coverage where the noise is 1; at 0 it is light alone.'),
    ],
  },
  group: { kind: 'group', label: 'Group', help: 'The elements in it, far to near.', parameters: [] },
} satisfies Record<string, Description>

export type InputKind = keyof typeof inputDescriptions
