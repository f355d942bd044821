/**
 * Backing key: something filmed in front of a green, blue or red backing is cut out of it. Coverage is by colour difference (Vlahos
 * 1971), with the excess of what is in front taken from what is surely in front nearby, so that hair that is not neutral comes
 * out as thin as it is.
 */

import { key } from '../graph/steps'
import { oneNumber, type ParameterDescription } from './description'
import { backingSurface, type BackingPick } from './backing-surface'
import type { PictureTreatment } from './treatment'

const place = (name: string, label: string) =>
  oneNumber(name, label, 'Where in the element’s own picture the backing was picked.', 'px', [-131_072, 131_072, 1, 0])

const light = (help: string): ParameterDescription => ({
  ...({ name: 'colour', label: 'Backing', help, channels: 3, unit: '' } as const),
  ...{ least: 0, most: 1000, step: 0.001, initial: 0.18 },
})

export const backingChannels = ['red', 'green', 'blue'] as const

const keyShows = ['all', 'figure', 'shadow'] as const

/** What is next to nothing, or to all, is told over so many pixels. */
const aroundPx = 1.5

export const backingKey: PictureTreatment<'backing-key'> = {
  kind: 'backing-key',
  label: 'Backing key',
  help: 'Takes a green, blue or red backing out of what was filmed in front of it: coverage by colour difference, light without the backing’s, spill held back.',
  does: ['key', 'green screen', 'blue screen', 'cut out', 'spill', 'despill', 'matte'],
  stations: ['set'],
  side: 'element',
  parameters: [
    { ...light('Scene-linear light of the backing, where none is picked.'), initial: 0.1 },
    oneNumber('clear', 'Clear', 'Coverage, softened, up to which nothing is there: two to three times its noise.', '', [
      ...([0, 0.5, 0.002, 0.02] as const),
    ]),
    oneNumber('solid', 'Solid', 'What may be wanting to full coverage, softened, where all is there.', '', [
      ...([0, 0.5, 0.002, 0.05] as const),
    ]),
    oneNumber('spill', 'Spill held', 'How far the backing’s channel is held to the other two.', '×', [
      ...([0, 1, 0.01, 1] as const),
    ]),
    oneNumber('around', 'Around', 'What is in front is known from so far away; 0 takes it to be neutral.', 'px', [
      ...([0, 200, 1, 6] as const),
    ]),
  ],
  choices: [
    {
      name: 'channel',
      label: 'Backing is',
      help: 'The channel in which the backing stands out.',
      options: backingChannels.map((name) => ({ name, label: name })),
      initial: 'green',
    },
    {
      name: 'spill',
      label: 'Spill is held to',
      help: 'What the backing’s channel may not exceed in what is in front.',
      options: [
        { name: 'larger', label: 'the larger of the other two' },
        { name: 'mean', label: 'the mean of the other two' },
      ],
      initial: 'larger',
    },
    {
      name: 'shows',
      label: 'Shows',
      help: 'The shadow on the backing is what covers without light of its own, away from what is surely in front. By itself it is black with coverage: lay it over, or let a matte be its alpha.',
      options: [
        { name: 'all', label: 'all but the backing' },
        { name: 'figure', label: 'without its shadow' },
        { name: 'shadow', label: 'the shadow alone' },
      ],
      initial: 'all',
    },
  ],
  sources: [
    {
      name: 'clean',
      label: 'Clean backing',
      help: 'The backing filmed alone by the same camera, under the same light; picks then do not count.',
      takes: 'rgba',
      without: 'none: as picked',
    },
  ],
  points: {
    label: 'Backing pick',
    help: 'Light of the backing at a place; with several of them it may be lit unevenly.',
    parameters: [place('x', 'Across'), place('y', 'Down'), light('Scene-linear light of the backing there.')],
    fewest: 0,
    most: 64,
  },
  fault({ colour }, { choices, points }) {
    const k = backingChannels.indexOf(choices.channel as 'green')
    const lights = points.length > 0 ? points.map(({ values }) => values.colour) : [colour]
    const stands = lights.some((one) => one[k] > Math.max(...one.filter((_, c) => c !== k)) * 1.1 + 1e-4)
    return stands
      ? null
      : {
          what: `has a backing that does not stand out in ${choices.channel}`,
          remedy: 'Measure or pick the backing, or choose the channel in which it stands out.',
        }
  },
  build(input, { colour, clear, solid, spill, around }, { choices, points, scale, frame, pictures }) {
    const picks = points.map(({ values: { x, y, colour: one } }): BackingPick => ({ x: x[0], y: y[0], light: one }))
    const whole = {
      x: (frame.x + frame.width / 2) * scale,
      y: (frame.y + frame.height / 2) * scale,
      unit: frame.width * scale,
    }
    const surface =
      picks.length > 0
        ? backingSurface(picks, whole)
        : backingSurface([{ x: 0, y: 0, light: colour }], { x: 0, y: 0, unit: 1 })
    const settings = [...surface, whole.x / scale, whole.y / scale, whole.unit / scale]
    const channel = Math.max(0, backingChannels.indexOf(choices.channel as 'green'))
    return key(input, pictures?.clean ?? null, {
      channel,
      backing: settings,
      around: around[0] / scale,
      softened: aroundPx / scale,
      cut: {
        ...{ clear: clear[0], solid: solid[0], spill: spill[0], toMean: choices.spill === 'mean' },
        shows: keyShows[Math.max(0, keyShows.indexOf(choices.shows as 'all'))],
      },
    })
  },
}
