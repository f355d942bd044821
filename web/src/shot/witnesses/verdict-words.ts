/** Verdicts in words and shapes: never by tone alone. */

import type { Judged, Verdict, WitnessPurpose } from '../../../../core/match'

export const verdictMarks: Readonly<Record<Verdict, string>> = { agrees: '=', drifts: '≠', 'not judged': '?' }

export const purposeWords: Readonly<Record<WitnessPurpose, string>> = {
  black: 'Black',
  mid: 'Middle light',
  white: 'White',
  colour: 'Colour alone',
}

const number = (value: number) => `${value > 0 ? '+' : value < 0 ? '−' : ''}${Math.abs(value).toFixed(4)}`
const percent = (value: number) => `${value > 0 ? '+' : value < 0 ? '−' : ''}${Math.abs(100 * value).toFixed(1)} %`

/** Drift of red, green and blue as they are printed. */
export const driftWords = ({ drift }: Judged, purpose: WitnessPurpose): readonly string[] =>
  drift.map((value) => (Number.isNaN(value) ? '–' : purpose === 'colour' ? percent(value) : number(value)))

export const verdictWords = ({ verdict, why }: Judged): string =>
  verdict === 'not judged'
    ? `Not judged yet: ${why ?? 'it was not read'}.`
    : verdict === 'agrees'
      ? 'Agrees.'
      : 'Drifts.'
