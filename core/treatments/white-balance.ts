/** White balance: from the light that something was lit by to another, once for all or by places of the frame. */

import {
  chromaticityOf,
  leastDaylight,
  multiply,
  primaries,
  whiteMatrix,
  whiteOf,
  type Locus,
  type Matrix,
} from '../colour'
import { colour, point } from '../graph/steps'
import type { Rgb } from '../kernels/colour-program'
import type { ParameterDescription } from './description'
import type { PictureTreatment } from './treatment'

const kelvin = (name: string, label: string, help: string): ParameterDescription => ({
  name,
  label,
  help,
  channels: 1,
  unit: 'K',
  least: 1000,
  most: 25_000,
  step: 10,
  initial: 6500,
})

const place = (name: string, label: string): ParameterDescription => ({
  name,
  label,
  help: 'Where in the frame this white was picked.',
  channels: 1,
  unit: 'px',
  least: -131_072,
  most: 131_072,
  step: 1,
  initial: 0,
})

const isIdentity = (matrix: Matrix) =>
  matrix.every((row, r) => row.every((value, c) => Math.abs(value - (r === c ? 1 : 0)) < 1e-12))

export const whiteBalance: PictureTreatment<'white-balance'> = {
  kind: 'white-balance',
  label: 'White balance',
  help: 'Brings light of one colour temperature to another, by Bradford’s adaptation. With whites picked at places of the frame, mixed light is balanced from place to place.',
  does: ['kelvin', 'colour temperature', 'warmer', 'cooler', 'mixed light', 'neutral', 'white point'],
  stations: ['set'],
  side: 'frame',
  parameters: [
    kelvin('from', 'Lit by', 'Temperature of the light that it was lit by.'),
    kelvin('to', 'As lit by', 'Temperature of the light that it should look lit by.'),
  ],
  choices: [
    {
      name: 'locus',
      label: 'Temperatures of',
      help: 'Daylight is a little greener than what glows.',
      options: [
        { name: 'daylight', label: 'Daylight' },
        { name: 'planckian', label: 'What glows (Planckian)' },
      ],
      initial: 'daylight',
    },
  ],
  points: {
    label: 'White',
    help: 'Light of something white at a place; with one or more of them the first temperature does not count.',
    parameters: [
      place('x', 'Across'),
      place('y', 'Down'),
      {
        name: 'colour',
        label: 'Light',
        help: 'Scene-linear light of what ought to be white.',
        channels: 3,
        unit: '',
        least: 0,
        most: 1000,
        step: 0.001,
        initial: 0.18,
      },
    ],
    fewest: 0,
    most: 8,
  },
  fault({ from, to }, { choices, points }) {
    if (choices.locus === 'daylight' && (to[0] < leastDaylight || (points.length === 0 && from[0] < leastDaylight)))
      return {
        what: `asks for daylight below ${leastDaylight} K, which there is not: the colour of what glows is taken`,
        remedy: 'Choose what glows, or a higher temperature.',
      }
    const dark = points.some(
      ({ values: { colour: light } }) => chromaticityOf(light as unknown as Rgb, 'rec709') === null,
    )
    return dark ? { what: 'has a white without light, which is left out', remedy: 'Pick it anew.' } : null
  },
  build(input, { from, to }, { choices, points, draw, working, scale }) {
    const locus = (choices.locus ?? 'daylight') as Locus
    // White of the working space stands for 6,500 K: a change from there to there is none.
    const white = (temperature: number) => whiteOf(temperature, locus)
    const target = white(to[0])
    if (points.length === 0) {
      const matrix = whiteMatrix(white(from[0]), target, working)
      return isIdentity(matrix) ? input : colour(input, [{ do: 'matrix', rows: matrix }])
    }
    // Where a picked white is neutral in the working space it is 6,500 K; then on to what is asked for.
    const neutral = primaries[working].white
    const onward = whiteMatrix(white(6500), target, working)
    const places = points.flatMap(({ values: { x, y, colour: light } }) => {
      const picked = chromaticityOf(light as unknown as Rgb, working)
      if (!picked) return []
      const matrix = multiply(onward, whiteMatrix(picked, neutral, working))
      return [[x[0] / scale, y[0] / scale, ...matrix.flat()]]
    })
    if (places.length === 0) return input
    if (places.length === 1) {
      const [, , a, b, c, d, e, f, g, h, i] = places[0]
      return colour(input, [
        {
          do: 'matrix',
          rows: [
            [a, b, c],
            [d, e, f],
            [g, h, i],
          ],
        },
      ])
    }
    return point(input, 'white-balance', 1, { places: places.flat(), scale: [scale] }, draw)
  },
  tables: ({ places }) => [Float64Array.from(places)],
  run(kernels, strip, count, { places }, _draw, x, y, _work, _others, [address]) {
    kernels.whitesRow(strip, count, x, y, address, places.length / 11)
  },
}
