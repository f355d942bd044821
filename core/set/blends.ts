/** Blends: how an element meets what is behind it. Every one leaves a pixel that it does not touch exactly as it was. */

import { separableBlends, type Kernels } from '../kernels/kernels'
import type { Description, ParameterDescription } from '../treatments/description'
import type { BlendKind, ParameterValues } from '../graph/steps'

export type { BlendKind } from '../graph/steps'

export interface Blend extends Description<BlendKind> {
  readonly version: number
  /** `rgba`: the element is a picture; `scalar`: one channel is coverage */
  readonly takes: 'rgba' | 'scalar'
  /** makes what is behind it darker, and so needs something behind it */
  readonly darkens?: boolean
  /** the value of a matte that changes nothing; what a matte is beyond its pixels */
  readonly neutral?: 0 | 1
  /**
   * @param behind address inside a strip of the first of `count` pixels, changed in place
   * @param element address of a strip with as many pixels of the element: a picture, or a matte in every channel
   * @param shown address of a strip with the same pixels of what `reveal` shows
   */
  blend(kernels: Kernels, behind: number, element: number, shown: number, count: number, values: ParameterValues): void
}

const veil: ParameterDescription = {
  name: 'veil',
  label: 'Plate veil',
  help: 'Light of the plate that no shadow can take away. Scene-linear.',
  channels: 3,
  unit: '',
  least: 0,
  most: 0.5,
  step: 0.0005,
  initial: 0,
}

const all: readonly Blend[] = [
  {
    kind: 'over',
    version: 1,
    takes: 'rgba',
    label: 'Over',
    help: 'Covers what is behind by its alpha.',
    parameters: [],
    blend: (kernels, behind, element, _shown, count) => kernels.over(behind, element, count),
  },
  {
    kind: 'plus-lighter',
    version: 1,
    takes: 'rgba',
    label: 'Add (plus-lighter)',
    help: 'Adds its light to what is behind.',
    parameters: [
      {
        name: 'amount',
        label: 'Amount',
        help: 'Factor on the added light.',
        channels: 3,
        unit: '×',
        least: 0,
        most: 4,
        step: 0.005,
        initial: 1,
      },
    ],
    blend: (kernels, behind, element, _shown, count, { amount }) =>
      kernels.addLight(behind, element, count, amount[0], amount[1], amount[2]),
  },
  {
    kind: 'difference',
    version: 1,
    takes: 'rgba',
    label: 'Difference',
    help: 'How far its light is from what is behind (W3C difference, in scene-linear light).',
    parameters: [],
    blend: (kernels, behind, element, _shown, count) =>
      kernels.blend(behind, element, count, separableBlends.indexOf('difference')),
  },
  {
    kind: 'shadow',
    version: 1,
    darkens: true,
    takes: 'scalar',
    label: 'Shadow',
    help: 'Takes the lamps’ light away where the matte says so, down to the ratio that the plate’s own shadows have.',
    parameters: [
      {
        name: 'ratio',
        label: 'Shadowed / lit',
        help: 'Light left in full shadow, measured on the plate’s own shadows.',
        channels: 3,
        unit: '×',
        least: 0,
        most: 1,
        step: 0.005,
        initial: 0.4,
      },
      veil,
    ],
    blend: (kernels, behind, element, _shown, count, v) =>
      kernels.shadow(behind, element, count, v.ratio[0], v.ratio[1], v.ratio[2], v.veil[0], v.veil[1], v.veil[2]),
  },
  {
    kind: 'occlusion',
    version: 1,
    darkens: true,
    takes: 'scalar',
    neutral: 1,
    label: 'Occlusion',
    help: 'Darkens where little sky light arrives; 1 in the pass means open.',
    parameters: [
      {
        name: 'strength',
        label: 'Strength',
        help: 'How much of the pass is used.',
        channels: 1,
        unit: '×',
        least: 0,
        most: 2,
        step: 0.005,
        initial: 1,
      },
      veil,
    ],
    blend: (kernels, behind, element, _shown, count, v) =>
      kernels.occlusion(behind, element, count, v.strength[0], v.veil[0], v.veil[1], v.veil[2]),
  },
  {
    kind: 'reveal',
    version: 1,
    takes: 'scalar',
    label: 'Reveal plate',
    help: 'Shows the plate again where the matte says so: parts of the plate that stand in front.',
    parameters: [],
    blend: (kernels, behind, element, shown, count) => kernels.reveal(behind, element, shown, count),
  },
]

export const blends = Object.fromEntries(all.map((blend) => [blend.kind, blend])) as Readonly<Record<BlendKind, Blend>>
export const blendKinds: readonly BlendKind[] = all.map((blend) => blend.kind)
