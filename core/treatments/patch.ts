/**
 * Patch: a place of the picture is filled from elsewhere: from another place, another frame, another source. Its light is brought to
 * that of the picture around it by what differs along the border, which goes on evenly inwards (normalised convolution, Knutsson and
 * Westin 1993).
 */

import {
  blur,
  colour,
  combine,
  constant,
  grow,
  identity,
  mix,
  point,
  resample,
  wayField,
  type Mapping,
  type Way,
} from '../graph/steps'
import { oneNumber } from './description'
import { byField, byMatrix, byShift, joined } from '../motion/mapping'
import { throughLens, wayAtScale, wayBack } from '../motion/way'
import type { Window } from '../image/window'
import type { Followed, PictureTreatment } from './treatment'

const offset = (name: string, label: string, help: string) =>
  ({ ...oneNumber(name, label, help, 'px', [-16_384, 16_384, 0.5, 0]), way: 'smooth' }) as const

/**
 * From a place to where its filling is taken from, full-scale pixels; nothing: from the same place. What follows tracks goes by way of the
 * frame on which they rest: there the offset is as it is set.
 */
function wayToFilling(
  [across, down]: readonly [number, number],
  followed: Followed | undefined,
  from = followed?.time,
): Way {
  const moved = across !== 0 || down !== 0
  const shift: Way = moved ? [{ matrix: byShift(across, down).matrix }] : []
  if (!followed || from === undefined || (!moved && from === followed.time)) return shift
  const { lens, rest } = followed
  const to = (time: number) =>
    throughLens(followed.at(time), lens && time !== rest ? { from: lens(rest), to: lens(time) } : null)
  const back = wayBack(to(followed.time))
  return back ? joined(joined(back, shift), to(from)) : shift
}

/** A way of matrices alone is a matrix. */
function mappingOf(way: Way, scale: number, window: Window): Mapping {
  const [first = { matrix: identity }, ...more] = wayAtScale(way, scale)
  return 'matrix' in first && more.length === 0
    ? byMatrix(first.matrix)
    : byField(wayField({ way: [first, ...more], window }))
}

/** The border that is compared is so wide. */
const borderPx = 6

export const patch: PictureTreatment<'patch'> = {
  kind: 'patch',
  label: 'Patch',
  help: 'Fills what its matte covers from another place, frame or source, and brings its light to that of the border.',
  does: ['patch', 'clone', 'paint out', 'remove', 'repair', 'fill', 'held frame', 'clean plate', 'retouch'],
  stations: ['set'],
  side: 'frame',
  parameters: [
    offset('across', 'Across', 'How far to the right of a place its filling is taken from.'),
    offset('down', 'Down', 'How far below a place its filling is taken from.'),
    oneNumber('frame', 'Frame', 'Of a held frame its number, else how many frames later.', '', [
      ...([-1_000_000, 1_000_000, 1, 0] as const),
    ]),
    oneNumber('border', 'Border', 'How much of its light is brought to that of the picture around it.', '×', [
      ...([0, 1, 0.01, 1] as const),
    ]),
    oneNumber('inwards', 'Inwards', 'How far inwards what differs along the border goes on evenly.', 'px', [
      ...([1, 1000, 1, 40] as const),
    ]),
  ],
  sources: [{ name: 'filling', label: 'Filled from', help: 'Whose pixels fill the place.', takes: 'rgba' }],
  choices: [
    {
      name: 'when',
      label: 'When',
      help: 'Which frame of it fills the place.',
      options: [
        { name: 'same', label: 'the same frame' },
        { name: 'later', label: 'so many frames later', begins: () => ({ frame: 0 }) },
        { name: 'held', label: 'one frame, held', begins: (frame) => ({ frame }) },
      ],
      initial: 'same',
    },
  ],
  byMatte: true,
  pinned: true,
  timeOf({ frame }, { when }, time) {
    if (when === 'held') return Math.round(frame[0])
    return when === 'later' ? time + Math.round(frame[0]) : time
  },
  toLookAt({ frame }, { when }) {
    const number = Math.round(frame[0])
    if (when === 'held') return `Grain not matched: that of frame ${number}, the same on every frame.`
    if (when === 'later' && number !== 0)
      return `Grain not matched: that of ${Math.abs(number)} frame${Math.abs(number) === 1 ? '' : 's'} ${number > 0 ? 'later' : 'earlier'}.`
    return 'Grain not matched: that of the place it is filled from.'
  },
  build(input, values, { pictures, within, scale, draw, frame, followed, choices }) {
    const { across, down, border, inwards } = values
    const filling = pictures?.filling
    if (!filling) return input
    const from = followed ? patch.timeOf?.(values, choices, followed.time) : undefined
    const way = wayToFilling([across[0], down[0]], followed, from)
    const taken = resample(filling, mappingOf(way, scale, frame), 'catmull-rom')
    const quiet = { ...draw, frame: 0 }
    const nothing = constant([0, 0, 0, 0], frame)
    if (!within || border[0] <= 0) return point(input, 'patch', 1, { border: [0] }, quiet, [taken, nothing, nothing])
    // What differs, light and coverage, where both are: nothing of it lies inside what is filled.
    const turned = colour(taken, [{ do: 'affine', gain: [-1, -1, -1], veil: [0, 0, 0] }])
    const differs = combine('where-not-empty', [combine('sum', [input, turned]), taken])
    const ring = mix(grow(within, borderPx / scale, { frame }), nothing, within, 1)
    const weighted = mix(nothing, differs, ring, 1)
    const spread = (px: number) => blur(weighted, px / scale, px / scale, 'empty')
    const others = [taken, spread(inwards[0]), spread(inwards[0] * 4)]
    return point(input, 'patch', 1, { border: [border[0]] }, quiet, others)
  },
  run: (kernels, strip, count, { border }, _draw, _x, _y, _work, [taken, near, wide]) =>
    kernels.patchRow(strip, count, taken, near, wide, border[0]),
}
