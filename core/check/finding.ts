/** A finding of the claims check, and what those who find are given. */

import type { Change, Rational, Shot, Source } from '../shot'
import type { PictureHeader, SourceReport, WayOfReading } from './report'

export interface Finding {
  /** the same for the same trouble of the same source, run after run */
  readonly id: string
  readonly source: string
  readonly kind: string
  /** `wrong`: the picture will be wrong; `look`: an eye should judge */
  readonly severity: 'wrong' | 'look'
  readonly what: string
  readonly where: string
  readonly why: string
  readonly fix: { readonly label: string; readonly edit: Change } | null
}

export interface Judged {
  readonly shot: Shot
  readonly source: Source
  readonly report: SourceReport
  readonly uses: readonly WayOfReading[]
  readonly header: PictureHeader
}

export type Draft = Omit<Finding, 'id' | 'source'>
export type Check = (judged: Judged, all: readonly SourceReport[]) => readonly Draft[]

/** A list of frames in words: `1003, 1007 to 1012 and 4 more`. */
export function frameList(frames: readonly (number | null)[], most = 4): string {
  const numbers = frames.filter((frame) => frame !== null)
  if (numbers.length === 0) return 'the still'
  const runs: [number, number][] = []
  for (const n of numbers) {
    const last = runs.at(-1)
    if (last && last[1] === n - 1) last[1] = n
    else runs.push([n, n])
  }
  const text = runs.slice(0, most).map(([a, b]) => (a === b ? `${a}` : b === a + 1 ? `${a}, ${b}` : `${a} to ${b}`))
  const rest = runs.slice(most).reduce((sum, [a, b]) => sum + b - a + 1, 0)
  return `${numbers.length === 1 ? 'frame' : 'frames'} ${text.join(', ')}${rest > 0 ? ` and ${rest} more` : ''}`
}

export const perSecond = ({ numerator, denominator }: Rational) => numerator / denominator
export const rateText = (rate: number) => `${Number(rate.toFixed(3))}`
export const isPicture = (uses: readonly WayOfReading[]) =>
  uses.length === 0 || uses.some(({ takes }) => takes === 'rgba')
