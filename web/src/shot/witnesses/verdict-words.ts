/** Verdicts in words and shapes: never by tone alone. */

import type { DriftUnits, Judged, Verdict, WitnessPurpose } from '../../../../core/match'

export const verdictMarks: Readonly<Record<Verdict, string>> = { agrees: '=', drifts: '≠', 'not judged': '?' }

export const purposeWords: Readonly<Record<WitnessPurpose, string>> = {
  black: 'Black',
  mid: 'Middle light',
  white: 'White',
  colour: 'Colour alone',
  sharpness: 'Sharpness of an edge',
}

const number = (value: number) => `${value > 0 ? '+' : value < 0 ? '−' : ''}${Math.abs(value).toFixed(4)}`
const percent = (value: number) => `${value > 0 ? '+' : value < 0 ? '−' : ''}${Math.abs(100 * value).toFixed(1)} %`

const pixels = (value: number) => `${value > 0 ? '+' : value < 0 ? '−' : ''}${Math.abs(value).toFixed(2)} px`

/** Drift of red, green and blue as they are printed; of an edge its softness alone. */
export function driftWords({ drift }: Judged, purpose: WitnessPurpose): readonly string[] {
  const print = purpose === 'colour' ? percent : purpose === 'sharpness' ? pixels : number
  const values = purpose === 'sharpness' ? drift.slice(0, 1) : drift
  return values.map((value) => (Number.isNaN(value) ? '–' : print(value)))
}

/** The drift as a ratio of light. */
export const stopsWords = ({ stops }: DriftUnits): readonly string[] =>
  stops.map((value) =>
    Number.isNaN(value) ? '–' : `${value > 0 ? '+' : value < 0 ? '−' : ''}${Math.abs(value).toFixed(2)} stops`,
  )

export const verdictWords = ({ verdict, why }: Judged): string =>
  verdict === 'not judged'
    ? `Not judged yet: ${why ?? 'it was not read'}.`
    : verdict === 'agrees'
      ? 'Agrees.'
      : 'Drifts.'
