/**
 * Ways of looking at a picture: exposure, gamma, the crank, one channel, a screen. All of it comes after the picture and
 * none of it is ever in the data.
 */

import { encodeSteps, lumaWeights, primariesSteps, type EncodingName, type PrimariesName } from '../colour'
import { blur, colour, blend, mix, table, type FrameStep, type Step } from '../graph/steps'
import type { ColourStep, Rgb } from '../kernels/colour-program'
import type { ViewSettings } from '../kernels/kernels'

export const screens = ['srgb', 'bt1886', 'p3-d65'] as const
export type Screen = (typeof screens)[number]

/** The crank pushes a picture until a mismatch shows: its dark end, its bright end, or its colour. */
export const cranks = ['none', 'dark', 'bright', 'vivid'] as const
export type Crank = (typeof cranks)[number]

export const lookedChannels = ['all', 'red', 'green', 'blue', 'alpha', 'luma', 'hue', 'saturation', 'value'] as const
export type LookedChannel = (typeof lookedChannels)[number]

export interface Looking {
  /** stops */
  readonly exposure: number
  /** of the eye's picture: 1 leaves it */
  readonly gamma: number
  /** 1 leaves it */
  readonly saturation: number
  readonly crank: Crank
  readonly channel: LookedChannel
  readonly screen: Screen
  readonly marks: boolean
}

export const plainLook: Looking = {
  exposure: 0,
  gamma: 1,
  saturation: 1,
  crank: 'none',
  channel: 'all',
  screen: 'srgb',
  marks: false,
}

export interface Looked {
  readonly step: Step
  readonly view: ViewSettings
}

/** Light up to here fills the screen when the dark end is cranked. */
const darkEnd = 0.15
/** Light between these fills the screen when the bright end is cranked. */
const brightEnd = [0.4, 4] as const
const vivid = 4

const all = (value: number): Rgb => [value, value, value]

/** Saturation about luma: what is grey stays. */
function saturationStep(amount: number, working: PrimariesName): ColourStep {
  const weights = lumaWeights(working)
  const row = (c: number): Rgb =>
    weights.map((weight, i) => (1 - amount) * weight + (i === c ? amount : 0)) as unknown as Rgb
  return { do: 'matrix', rows: [row(0), row(1), row(2)] }
}

function crankSteps(crank: Crank, working: PrimariesName): readonly ColourStep[] {
  switch (crank) {
    case 'none':
      return []
    case 'dark':
      return [{ do: 'affine', gain: all(1 / darkEnd), veil: all(0) }]
    case 'bright': {
      const [least, most] = brightEnd
      return [{ do: 'affine', gain: all(1 / (most - least)), veil: all(-least / (most - least)) }]
    }
    case 'vivid':
      return [saturationStep(vivid, working)]
  }
}

const isHsv = (channel: LookedChannel): channel is 'hue' | 'saturation' | 'value' =>
  channel === 'hue' || channel === 'saturation' || channel === 'value'

/**
 * @param through a table that takes what its source claims (encoding and primaries) to the screen's code values; it takes
 *   the place of the screen's own encoding
 * @returns the picture as it is to be looked at, and how the last step to eight bits is made
 */
export function lookAt(
  picture: Step,
  looking: Looking,
  working: PrimariesName,
  through: FrameStep | null = null,
): Looked {
  const { exposure, gamma, saturation, crank, channel, screen, marks } = looking
  // A stop is a stop of light, whatever is done to the picture after.
  const pushed: ColourStep[] = [
    ...exposedBy(exposure),
    ...(saturation === 1 ? [] : [saturationStep(saturation, working)]),
    ...crankSteps(crank, working),
    ...(gamma === 1 ? [] : [{ do: 'mirrored-power', exponent: 1 / gamma } as const]),
  ]
  if (isHsv(channel)) {
    const step = colour(picture, [...pushed, { do: 'hsv', which: channel }])
    // Hue and saturation are shares, not light.
    const encoding = channel === 'value' ? 'srgb' : 'codes'
    return { step, view: { exposure: 1, channel: 'all', encoding, marks } }
  }
  if (through && channel !== 'alpha') {
    const { encoding, primaries } = through.request.claims
    const before: ColourStep[] = [...pushed, ...primariesSteps(working, primaries), ...encodeSteps(encoding)]
    const coded = table(colour(picture, before), through)
    return {
      step: colour(coded, oneChannel(channel, 'rec709')),
      view: { exposure: 1, channel: 'all', encoding: 'codes', marks },
    }
  }
  if (screen === 'srgb') {
    // Exposing alone is quicker in the last step.
    const alone = pushed.length === exposedBy(exposure).length
    return {
      step: colour(picture, [
        ...(alone ? [] : pushed),
        ...(channel === 'all' ? primariesSteps(working, 'rec709') : []),
      ]),
      view: { exposure: alone ? 2 ** exposure : 1, channel, encoding: 'srgb', marks, weights: lumaWeights(working) },
    }
  }
  const primaries = screen === 'p3-d65' ? 'p3-d65' : 'rec709'
  const encoding = encodeSteps(screen === 'p3-d65' ? 'g26' : 'bt1886')
  const steps = [...pushed, ...oneChannel(channel, working)]
  const converted = channel === 'all' ? primariesSteps(working, primaries) : []
  return {
    step: colour(picture, [...steps, ...converted, ...encoding]),
    view: { exposure: 1, channel: 'all', encoding: 'codes', marks },
  }
}

const exposedBy = (stops: number): readonly ColourStep[] =>
  stops === 0 ? [] : [{ do: 'affine', gain: all(2 ** stops), veil: all(0) }]

/** One channel in all three; alpha has its own view and is not asked for here. */
function oneChannel(channel: LookedChannel, working: PrimariesName): readonly ColourStep[] {
  if (channel === 'all') return []
  const at = ['red', 'green', 'blue'].indexOf(channel)
  const row: Rgb = at < 0 ? lumaWeights(working) : (all(0).map((_, i) => (i === at ? 1 : 0)) as unknown as Rgb)
  return [{ do: 'matrix', rows: [row, row, row] }]
}

/** What is made of a picture when its values are read: without a view they are floats, else the eight bits of the screen. */
export type AsRead = (picture: Step) => { readonly step: Step; readonly view: ViewSettings | null }

export const readAsLight: AsRead = (picture) => ({ step: picture, view: null })

/** As the code values of a file of that encoding and those primaries. */
export function readAsCodes(encoding: EncodingName, primaries: PrimariesName, working: PrimariesName): AsRead {
  const steps = [...primariesSteps(working, primaries), ...encodeSteps(encoding)]
  return (picture) => ({ step: colour(picture, steps), view: null })
}

/** As they stand on the screen, 0 to 255, with whatever is done to the picture there. */
export function readAsShown(looking: Looking, working: PrimariesName, through: FrameStep | null): AsRead {
  return (picture) => lookAt(picture, { ...looking, marks: false }, working, through)
}

/** The plate over a picture at a strength, 0 to 1, to see how they lie on each other. */
export const ghosted = (picture: Step, plate: Step, strength: number): Step => mix(picture, plate, null, strength)

/** |a - b| times a gain. */
export function differenceOf(a: Step, b: Step, gain: number): Step {
  const difference = blend(a, b, null, 'difference', 1, {})
  return gain === 1 ? difference : colour(difference, [{ do: 'affine', gain: all(gain), veil: all(0) }])
}

/** Edges: what a small blur changes, made strong. Sigma in pixels of the picture. */
export function edgesOf(picture: Step): Step {
  return differenceOf(picture, blur(picture, 1, 1, 'extend'), 12)
}

export interface BoardPicture {
  readonly name: string
  readonly looked: Looked
  /** what to look with when it is clicked; null for what is no way of looking at the picture itself */
  readonly looking: Partial<Looking> | null
}

/** The inspection board: the same picture in every way that shows what the usual one hides. */
export function inspectionBoard(picture: Step, looking: Looking, working: PrimariesName): BoardPicture[] {
  const plain: Looking = { ...looking, channel: 'all', crank: 'none', gamma: 1, saturation: 1, marks: false }
  const ways: readonly (readonly [string, Partial<Looking>])[] = [
    ['red', { channel: 'red' }],
    ['green', { channel: 'green' }],
    ['blue', { channel: 'blue' }],
    ['hue', { channel: 'hue' }],
    ['saturation', { channel: 'saturation' }],
    ['value', { channel: 'value' }],
    ['dark end', { crank: 'dark' }],
    ['bright end', { crank: 'bright' }],
    ['colour', { crank: 'vivid' }],
  ]
  return [
    ...ways.map(([name, way]) => ({ name, looked: lookAt(picture, { ...plain, ...way }, working), looking: way })),
    { name: 'edges', looked: lookAt(edgesOf(picture), plain, working), looking: null },
  ]
}
