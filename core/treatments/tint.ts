/** Tint: the plate's own colour at each brightness, mixed into the element. */

import { lightOfEntry, lumaWeights, toneSteps } from '../colour'
import { point } from '../graph/steps'
import type { PictureTreatment } from './treatment'

interface Pick {
  readonly luma: number
  /** of luma 1 */
  readonly colour: readonly [number, number, number]
}

/** Picks by brightness; those without light are left out. */
export function picksByLuma(
  colours: readonly (readonly number[])[],
  weights: readonly [number, number, number],
): readonly Pick[] {
  return colours
    .map(([r, g, b]) => {
      const luma = r * weights[0] + g * weights[1] + b * weights[2]
      return { luma, colour: [r / luma, g / luma, b / luma] as const }
    })
    .filter(({ luma }) => luma > 0)
    .sort((a, b) => a.luma - b.luma)
}

/** The colour at a brightness: between two picks by stops, beyond the first and the last as they are. */
export function colourAt(picks: readonly Pick[], luma: number): readonly [number, number, number] {
  const next = picks.findIndex((pick) => pick.luma > luma)
  if (next === 0) return picks[0].colour
  if (next < 0) return picks[picks.length - 1].colour
  const [a, b] = [picks[next - 1], picks[next]]
  const share = Math.log2(luma / a.luma) / Math.log2(b.luma / a.luma)
  const mixed = (c: number) => a.colour[c] + (b.colour[c] - a.colour[c]) * share
  return [mixed(0), mixed(1), mixed(2)]
}

export const tint: PictureTreatment<'tint'> = {
  kind: 'tint',
  label: 'Tint by brightness',
  help: 'Gives each brightness the colour that picks from the plate have there, in part; luma stays.',
  does: ['tint', 'plate colour', 'shadow colour', 'palette', 'warm highlights', 'cool shadows'],
  stations: ['set'],
  side: 'element',
  parameters: [
    {
      name: 'amount',
      label: 'Amount',
      help: 'How much of the plate’s colour counts.',
      channels: 1,
      unit: '×',
      least: 0,
      most: 1,
      step: 0.005,
      initial: 0.5,
    },
  ],
  points: {
    label: 'Pick',
    help: 'Light of the plate: it counts at its own brightness. Three are usual: a dark, a middle, a bright one.',
    parameters: [
      {
        name: 'colour',
        label: 'Light',
        help: 'Scene-linear light of each channel.',
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
  build(input, { amount }, { points, draw, working }) {
    if (points.length === 0 || amount[0] === 0) return input
    const weights = lumaWeights(working)
    const colours = points.map(({ values }) => values.colour)
    if (picksByLuma(colours, weights).length === 0) return input
    return point(input, 'tint', 1, { amount, colours: colours.flat(), weights }, draw)
  },
  tables({ colours: flat, weights: [r, g, b] }) {
    const colours = flat.flatMap((red, i) => (i % 3 === 0 ? [[red, flat[i + 1], flat[i + 2]]] : []))
    const picks = picksByLuma(colours, [r, g, b])
    const table = new Float32Array(4 * (toneSteps + 1))
    for (let i = 0; i <= toneSteps; i++) table.set(colourAt(picks, lightOfEntry(i)), 4 * i)
    return [table]
  },
  run(kernels, strip, count, { amount: [amount], weights: [r, g, b] }, _draw, _x, _y, _work, _others, [table]) {
    kernels.tintByLuma(strip, count, table, amount, r, g, b)
  },
}
