/** Curves: light drawn through points, luma first, then each channel. */

import {
  decode,
  encode,
  encodingNames,
  lumaWeights,
  monotoneLine,
  toneTable,
  withEnds,
  type CurvePoint,
  type EncodingName,
} from '../colour'
import { point } from '../graph/steps'
import { planeBytes } from '../kernels/kernels'
import { encodingChoice, encodingNumber } from './hard-light'
import type { ParameterDescription } from './description'
import type { PictureTreatment, PointValues } from './treatment'

const code = (name: string, label: string, help: string): ParameterDescription => ({
  name,
  label,
  help,
  channels: 1,
  unit: '',
  least: -1,
  most: 64,
  step: 0.002,
  initial: 0.5,
})

export const curveSets = [
  { name: 'luma', label: 'Luma' },
  { name: 'red', label: 'Red' },
  { name: 'green', label: 'Green' },
  { name: 'blue', label: 'Blue' },
] as const

const pointsOf = (points: readonly PointValues[], set: string): readonly CurvePoint[] =>
  points.filter((one) => one.set === set).map(({ values }) => ({ in: values.in[0], out: values.out[0] }))

/** The curve of a set as it is drawn, in code values; null where it has no points. */
export function drawnCurve(points: readonly CurvePoint[]): ((code: number) => number) | null {
  return points.length === 0 ? null : monotoneLine(withEnds(points))
}

/** From light to light. */
export function curveOfLight(encoding: EncodingName, points: readonly CurvePoint[]): (light: number) => number {
  const curve = drawnCurve(points)
  return curve ? (light) => decode(encoding, curve(encode(encoding, light))) : (light) => light
}

export const curves: PictureTreatment<'curves'> = {
  kind: 'curves',
  label: 'Curves',
  help: 'Draws luma, then each channel, through points, in an encoding. A curve without points changes nothing.',
  does: ['curve', 'tone', 'contrast', 'lift shadows', 'roll off highlights', 'too red', 'match by points'],
  stations: ['set'],
  side: 'element',
  parameters: [],
  choices: [encodingChoice('The encoding whose code values the curve is drawn in.')],
  points: {
    label: 'Point',
    help: 'The curve goes through it. Without points at 0 and 1 it goes through these too.',
    sets: curveSets,
    parameters: [code('in', 'In', 'Code value that comes in.'), code('out', 'Out', 'Code value that goes out.')],
    fewest: 0,
    most: 32,
  },
  fault(_values, { points }) {
    const double = curveSets.find(({ name }) => {
      const places = pointsOf(points, name).map((one) => one.in)
      return new Set(places).size < places.length
    })
    return double
      ? { what: `has two points on one place of ${double.label.toLowerCase()}`, remedy: 'Move or remove one of them.' }
      : null
  },
  build(input, _values, { choices, points, draw, working }) {
    if (points.length === 0) return input
    const values = Object.fromEntries(
      curveSets.map(({ name }) => [
        name,
        [...pointsOf(points, name)].sort((a, b) => a.in - b.in || a.out - b.out).flatMap((one) => [one.in, one.out]),
      ]),
    )
    const weights = lumaWeights(working)
    return point(input, 'curves', 1, { ...values, encoding: [encodingNumber(choices)], weights }, draw)
  },
  tables(values) {
    const encoding = encodingNames[values.encoding[0]]
    return curveSets.map(({ name }) => {
      const flat = values[name]
      if (flat.length === 0) return new Float32Array(0)
      const points = flat.flatMap((value, i) => (i % 2 === 0 ? [{ in: value, out: flat[i + 1] }] : []))
      return toneTable(curveOfLight(encoding, points))
    })
  },
  run(kernels, strip, count, values, _draw, _x, _y, _work, _others, tables) {
    const [r, g, b] = values.weights
    if (values.luma.length > 0) kernels.toneLuma(strip, count, tables[0], r, g, b)
    ;(['red', 'green', 'blue'] as const).forEach((name, c) => {
      if (values[name].length > 0)
        kernels.toneChannel(strip + c * planeBytes, strip + 3 * planeBytes, count, tables[c + 1])
    })
  },
}
