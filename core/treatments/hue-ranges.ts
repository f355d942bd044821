/** Hue ranges: hue, saturation and light of what has a certain hue, changed. */

import { lumaWeights } from '../colour'
import { point } from '../graph/steps'
import type { PictureTreatment } from './treatment'

/** Entries of the kernel's table round the turn. */
const hues = 720

export interface HueRange {
  /** degrees, from red */
  readonly hue: number
  readonly width: number
  readonly shift: number
  readonly saturation: number
  readonly stops: number
}

/** What is done to a hue by all ranges: a turn in degrees, a factor on saturation, one on light. */
export function changeOfHue(ranges: readonly HueRange[], hue: number) {
  let [shift, saturation, stops] = [0, 1, 0]
  for (const range of ranges) {
    const away = Math.abs(((((hue - range.hue) % 360) + 540) % 360) - 180)
    if (away >= range.width) continue
    const weight = 0.5 + 0.5 * Math.cos((Math.PI * away) / range.width)
    shift += range.shift * weight
    saturation *= 1 + (range.saturation - 1) * weight
    stops += range.stops * weight
  }
  return { shift, saturation, light: 2 ** stops }
}

export const hueRanges: PictureTreatment<'hue-ranges'> = {
  kind: 'hue-ranges',
  label: 'Hue ranges',
  help: 'Changes hue, saturation and light of chosen hues; what has no colour stays as it is.',
  does: ['hue', 'shift colour', 'less red', 'green grass', 'selective colour', 'saturation of one colour'],
  stations: ['set'],
  side: 'element',
  parameters: [],
  points: {
    label: 'Range',
    help: 'A hue and what lies about it.',
    parameters: [
      ofRange('hue', 'Hue', 'Middle of the range: 0 is red, 120 green, 240 blue.', '°', [0, 360, 1, 0]),
      ofRange('width', 'Width', 'Hues so far from the middle are left alone.', '°', [1, 180, 1, 45]),
      ofRange('shift', 'Turn', 'How far hue is turned, towards green from red.', '°', [-180, 180, 0.5, 0]),
      ofRange('saturation', 'Saturation', 'Factor on the distance from luma.', '×', [0, 4, 0.005, 1]),
      ofRange('stops', 'Light', 'As far as there is colour.', 'stops', [-4, 4, 0.01, 0]),
    ],
    fewest: 0,
    most: 8,
  },
  build(input, _values, { points, draw, working }) {
    if (points.length === 0) return input
    const names = ['hue', 'width', 'shift', 'saturation', 'stops'] as const
    const ranges = points.map(({ values }) => names.map((name) => values[name][0]))
    return point(input, 'hue-ranges', 1, { ranges: ranges.flat(), weights: lumaWeights(working) }, draw)
  },
  tables({ ranges: flat }) {
    const ranges = flat.flatMap((hue, i) =>
      i % 5 === 0 ? [{ hue, width: flat[i + 1], shift: flat[i + 2], saturation: flat[i + 3], stops: flat[i + 4] }] : [],
    )
    const table = Float32Array.from(
      Array.from({ length: hues + 1 }, (_, i) => {
        const { shift, saturation, light } = changeOfHue(ranges, (i * 360) / hues)
        const angle = (shift * Math.PI) / 180
        const sum = ((1 - Math.cos(angle)) / 3) * saturation
        return [Math.cos(angle) * saturation, sum, (Math.sin(angle) / Math.sqrt(3)) * saturation, light]
      }).flat(),
    )
    return [table]
  },
  run(kernels, strip, count, { weights: [r, g, b] }, _draw, _x, _y, _work, _others, [table]) {
    kernels.changeByHue(strip, count, table, r, g, b)
  },
}

function ofRange(
  name: string,
  label: string,
  help: string,
  unit: string,
  [least, most, step, initial]: readonly [number, number, number, number],
) {
  return { name, label, help, channels: 1, unit, least, most, step, initial } as const
}
