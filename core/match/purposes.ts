/** What a pair may be compared for: what is compared, by how much both sides may differ, and how that is told. */

import type { GrainLevel } from '../measure/grain-level'
import { rgbOf, type Rgb, type SideReading } from './side-reading'

/**
 * The darkest light, light between, the brightest; the ratios of the channels alone; how soft an edge is that lies in each region;
 * how dark shadows are; whether both stay together; whether one flickers against the other; or how strong the grain on them is.
 */
export const witnessPurposes = [
  ...(['black', 'mid', 'white', 'colour', 'sharpness'] as const),
  ...(['shadow', 'registration', 'flicker', 'grain'] as const),
] as const
export type WitnessPurpose = (typeof witnessPurposes)[number]

export interface Compared {
  readonly drift: Rgb
  readonly error: Rgb
}

export interface Purpose {
  /** what its numbers are: light; shares of a ratio; a ratio of shadow to light; pixels */
  readonly unit: 'light' | 'share' | 'ratio' | 'pixels'
  /** one a channel, one alone (three times the same), or across and down (the third is 0) */
  readonly parts: 'channels' | 'one' | 'across and down'
  /** both sides' light ought to be the same, so that veil and gain follow from it */
  readonly comparesLight: boolean
  /** the element covers its region, or nothing is read */
  readonly covered: boolean
  /** @returns null where there is nothing to compare */
  readonly compare: (reference: SideReading, adjusted: SideReading) => Compared | null
  readonly usual: (reference: SideReading) => Rgb
  /** why there is nothing to compare, and why nothing can be said for noise */
  readonly nothing: string
  readonly tooNoisy: string
}

const usualBlack = 0.002
const usualShare = 0.05
const usualRatio = 0.02
const usualDensity = 0.03
/** A camera's blur is no Gaussian: the same softness gives edges of unlike contrast sigmas that differ by about a tenth. */
const usualSigma = 0.25
const usualSlipPx = 0.3
const usualGrain = 0.1
/** Edges of things are not quite straight, whatever the noise. */
const leastEdgeError = 0.03

const same = (value: number): Rgb => [value, value, value]
const larger = 'the plate is too noisy there: choose a larger region'

const light: Purpose = {
  ...({ unit: 'light', parts: 'channels', comparesLight: true, covered: true } as const),
  compare: (reference, adjusted) => ({
    drift: rgbOf((c) => adjusted.light[c] - reference.light[c]),
    error: rgbOf((c) => Math.hypot(reference.error[c], adjusted.error[c])),
  }),
  usual: (reference) => rgbOf((c) => Math.max(usualBlack, usualShare * Math.abs(reference.light[c]))),
  nothing: 'there is no light to compare',
  tooNoisy: larger,
}

const ratios = { parts: 'channels', comparesLight: false, covered: true } as const

export const purposes: Readonly<Record<WitnessPurpose, Purpose>> = {
  black: light,
  mid: light,
  white: light,
  colour: {
    ...ratios,
    unit: 'share',
    compare: ofColour,
    usual: () => same(usualRatio),
    nothing: 'there is no light to compare colours of',
    tooNoisy: larger,
  },
  sharpness: {
    ...({ unit: 'pixels', parts: 'one', comparesLight: false, covered: false } as const),
    compare: ({ edge: plate }, { edge: element }) =>
      plate && element
        ? {
            drift: same(element.sigma - plate.sigma),
            error: same(Math.hypot(element.error, plate.error, leastEdgeError)),
          }
        : null,
    usual: () => same(usualSigma),
    nothing: 'one of its regions holds no single edge',
    tooNoisy: 'the edge there is too faint for its noise: choose a stronger one',
  },
  shadow: {
    ...ratios,
    unit: 'ratio',
    compare: ({ shadow: plate }, { shadow: made }) =>
      plate && made
        ? {
            drift: rgbOf((c) => made.ratio[c] - plate.ratio[c]),
            error: rgbOf((c) => Math.hypot(made.error[c], plate.error[c])),
          }
        : null,
    usual: () => same(usualDensity),
    nothing: 'the ground is not lit where it ought to be: choose where the same ground is in the light',
    tooNoisy: larger,
  },
  registration: {
    ...({ unit: 'pixels', parts: 'across and down', comparesLight: false, covered: false } as const),
    compare: ({ moved: plate }, { moved: element }) => {
      if (!plate || !element) return null
      const error = Math.hypot(plate.error, element.error)
      return { drift: [element.x - plate.x, element.y - plate.y, 0], error: [error, error, 0] }
    },
    usual: () => same(usualSlipPx),
    nothing: 'one of its regions holds nothing that it could be found again by',
    tooNoisy: 'what it is found by is too faint for its noise: choose stronger texture, or a larger region',
  },
  flicker: {
    ...ratios,
    unit: 'share',
    compare: ({ change: plate }, { change: element }) =>
      plate && element
        ? {
            drift: rgbOf((c) => element.ratio[c] / plate.ratio[c] - 1),
            error: rgbOf((c) => Math.hypot(element.error[c], plate.error[c])),
          }
        : null,
    usual: () => same(usualRatio),
    nothing: 'there is no light to compare with that of the frame before',
    tooNoisy: larger,
  },
  grain: {
    ...ratios,
    unit: 'share',
    compare: ofGrain,
    usual: () => same(usualGrain),
    nothing:
      'its grain cannot be told there: choose a flat place of the plate that is not clipped and where nothing moves',
    tooNoisy: 'grain goes with light, and many pixels tell it: choose larger regions of like light',
  },
}

/**
 * Deviations beside each other, as a share. Grain grows with light, by anything between not at all and its root: where the light of
 * both sides differs half of that is allowed for, and the other half may be wrong.
 */
function ofGrain(reference: SideReading, adjusted: SideReading): Compared | null {
  const [plate, made] = [reference.grain, adjusted.grain]
  if (!plate || !made || plate.sigma.some((one) => !(one > 0))) return null
  if ([...reference.light, ...adjusted.light].some((one) => !(one > 0))) return null
  const byLight = rgbOf((c) => (adjusted.light[c] / reference.light[c]) ** (1 / 4))
  const ratio = rgbOf((c) => made.sigma[c] / (plate.sigma[c] * byLight[c]))
  const share = ({ sigma, error }: GrainLevel, c: number) => (sigma[c] > 0 ? error[c] / sigma[c] : 0)
  return {
    drift: rgbOf((c) => ratio[c] - 1),
    error: rgbOf((c) => ratio[c] * Math.hypot(share(plate, c), share(made, c), Math.log(byLight[c]) / Math.sqrt(3))),
  }
}

/** Red to green and blue to green beside the plate's, as shares; green itself is the measure. */
function ofColour(reference: SideReading, adjusted: SideReading): Compared | null {
  if ([...reference.light, ...adjusted.light].some((one) => one <= 0)) return null
  const ratio = (c: number) => adjusted.light[c] / adjusted.light[1] / (reference.light[c] / reference.light[1]) - 1
  const share = ({ light: of, error }: SideReading, c: number) => Math.hypot(error[c] / of[c], error[1] / of[1])
  const error = (c: number) => (c === 1 ? 0 : Math.hypot(share(reference, c), share(adjusted, c)))
  return { drift: [ratio(0), 0, ratio(2)], error: [error(0), 0, error(2)] }
}
