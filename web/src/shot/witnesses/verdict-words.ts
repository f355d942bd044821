/** Verdicts in words and shapes: never by tone alone. */

import {
  purposes,
  type DriftUnits,
  type Judged,
  type Purpose,
  type Verdict,
  type WitnessPurpose,
} from '../../../../core/match'

export const verdictMarks: Readonly<Record<Verdict, string>> = { agrees: '=', drifts: '≠', 'not judged': '?' }

export const purposeWords: Readonly<Record<WitnessPurpose, string>> = {
  black: 'Black',
  mid: 'Middle light',
  white: 'White',
  colour: 'Colour alone',
  sharpness: 'Sharpness of an edge',
  shadow: 'Shadow density',
  registration: 'Staying in place',
  flicker: 'Flicker',
  grain: 'Grain',
}

/** What rounds to nothing has no sign. */
function signed(value: number, digits: number, unit = ''): string {
  const text = Math.abs(value).toFixed(digits)
  return `${Number(text) === 0 ? '' : value > 0 ? '+' : '−'}${text}${unit}`
}

/** A drift in its unit. */
const printed: Readonly<Record<Purpose['unit'], (value: number) => string>> = {
  light: (value) => signed(value, 4),
  ratio: (value) => signed(value, 3),
  share: (value) => signed(100 * value, 1, ' %'),
  pixels: (value) => signed(value, 2, ' px'),
}

const partsOf = { channels: 3, one: 1, 'across and down': 2 } as const

/** Drift in its parts, as they are printed. */
export function driftWords({ drift }: Judged, purpose: WitnessPurpose): readonly string[] {
  const { unit, parts } = purposes[purpose]
  return drift.slice(0, partsOf[parts]).map((value) => (Number.isNaN(value) ? '–' : printed[unit](value)))
}

/** What the numbers of a drift are. */
export const driftMeaning: Readonly<Record<WitnessPurpose, string>> = {
  black: 'Element less plate, red, green, blue',
  mid: 'Element less plate, red, green, blue',
  white: 'Element less plate, red, green, blue',
  colour: 'Element less plate, red, green, blue, of the ratio to green',
  sharpness: 'Sigma of the element’s edge less that of the plate’s',
  shadow: 'What is left of the light in the shadow, less that in the plate’s own, red, green, blue',
  registration: 'How far the element slips on the plate, across and down',
  flicker: 'Change from the frame before, beside the plate’s, red, green, blue',
  grain: 'How much stronger the grain is than the plate’s, red, green, blue',
}

/** The drift as a ratio of light. */
export const stopsWords = ({ stops }: DriftUnits): readonly string[] =>
  stops.map((value) => (Number.isNaN(value) ? '–' : signed(value, 2, ' stops')))

export const verdictWords = ({ verdict, why }: Judged): string =>
  verdict === 'not judged'
    ? `Not judged yet: ${why ?? 'it was not read'}.`
    : verdict === 'agrees'
      ? 'Agrees.'
      : 'Drifts.'
