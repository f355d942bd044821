/** Blends: how an element meets what is behind it. Every one leaves a pixel that it does not touch exactly as it was. */

import { hslBlends, porterDuffOperators, separableBlends, type Kernels } from '../kernels/kernels'
import type { Description, ParameterDescription } from '../treatments/description'
import type { BlendKind, ElementCarries, ParameterValues } from '../graph/steps'

export type { BlendKind } from '../graph/steps'

export interface Blend extends Description<BlendKind> {
  readonly version: number
  /** `rgba`: the element is a picture; `rgb-matte`: one channel is coverage, or three, each of its own light */
  readonly takes: ElementCarries
  /** makes what is behind it darker, and so needs something behind it */
  readonly darkens?: boolean
  /** the value of a matte that changes nothing; what a matte is beyond its pixels */
  readonly neutral?: 0 | 1
  /**
   * @param behind address inside a strip of the first of `count` pixels, changed in place
   * @param element address of a strip with as many pixels of the element: a picture, or a matte in every channel or for each
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

type InLight = Extract<BlendKind, (typeof separableBlends)[number]>
type Encoded = InLight | (typeof hslBlends)[number]
type Operator = Extract<BlendKind, (typeof porterDuffOperators)[number]>

const picture = { version: 1, takes: 'rgba', parameters: [] } as const

/** A W3C formula on scene-linear light. */
const inLight = (kind: InLight, label: string, help: string): Blend => ({
  ...{ ...picture, kind, label, help: `${help} In scene-linear light.` },
  blend: (kernels, behind, element, _shown, count) =>
    kernels.blend(behind, element, count, separableBlends.indexOf(kind)),
})

const firstHsl = 16

/** A W3C formula that means display values. */
function encoded(kind: Encoded, label: string, help: string): Blend {
  const hsl = (hslBlends as readonly string[]).indexOf(kind)
  const mode = hsl >= 0 ? firstHsl + hsl : (separableBlends as readonly string[]).indexOf(kind)
  return {
    ...{ ...picture, kind, label, help: `${help} In sRGB encoding, 0 to 1; light above 1 behind it stays.` },
    blend: (kernels, behind, element, _shown, count) => kernels.blendEncoded(behind, element, count, mode),
  }
}

/** Porter and Duff; those that change what lies outside the element are not among them. */
const operator = (kind: Operator, label: string, help: string): Blend => ({
  ...{ ...picture, kind, label, help },
  blend: (kernels, behind, element, _shown, count) =>
    kernels.porterDuff(behind, element, count, porterDuffOperators.indexOf(kind)),
})

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
  inLight('multiply', 'Multiply', 'Multiplies its light with what is behind: darkens.'),
  inLight('screen', 'Screen', 'Lightens; where either is above 1 the lighter counts.'),
  inLight('darken', 'Darken', 'The darker of the two, channel by channel.'),
  inLight('lighten', 'Lighten', 'The lighter of the two, channel by channel.'),
  inLight('difference', 'Difference', 'How far its light is from what is behind.'),
  encoded('overlay', 'Overlay', 'Multiplies dark and screens light parts of what is behind.'),
  encoded('hard-light', 'Hard light', 'Multiplies where it is dark, screens where it is light.'),
  encoded('soft-light', 'Soft light', 'Darkens or lightens gently.'),
  encoded('color-dodge', 'Dodge (color-dodge)', 'Brightens what is behind by its light.'),
  encoded('color-burn', 'Burn (color-burn)', 'Darkens what is behind where it is dark.'),
  encoded('exclusion', 'Exclusion', 'As difference, with less contrast.'),
  encoded('hue', 'Hue', 'Its hue, with the saturation and brightness of what is behind.'),
  encoded('saturation', 'Saturation', 'Its saturation, with the hue and brightness of what is behind.'),
  encoded('color', 'Colour (color)', 'Its hue and saturation, with the brightness of what is behind.'),
  encoded('luminosity', 'Luminosity', 'Its brightness, with the hue and saturation of what is behind.'),
  operator('destination-over', 'Under (destination-over)', 'Stands behind what is there: seen where that is thin.'),
  operator('source-atop', 'Atop (source-atop)', 'Covers only where there is something behind it.'),
  operator('destination-out', 'Holdout (destination-out)', 'Cuts what is behind away by its alpha.'),
  operator('xor', 'Either (xor)', 'Each where the other is not.'),
  {
    kind: 'shadow',
    version: 2,
    darkens: true,
    takes: 'rgb-matte',
    label: 'Shadow',
    help: 'Takes the lamps’ light away where the matte says so, down to the ratio that the plate’s own shadows have. A pass in colour says it for each channel.',
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
    version: 2,
    darkens: true,
    takes: 'rgb-matte',
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
    // By its first channel; taken as the others are, so that a matte which serves several of them is read once.
    takes: 'rgb-matte',
    label: 'Reveal plate',
    help: 'Shows the plate again where the matte says so: parts of the plate that stand in front.',
    parameters: [],
    blend: (kernels, behind, element, shown, count) => kernels.reveal(behind, element, shown, count),
  },
]

export const blends = Object.fromEntries(all.map((blend) => [blend.kind, blend])) as Readonly<Record<BlendKind, Blend>>
export const blendKinds: readonly BlendKind[] = all.map((blend) => blend.kind)
