/** Verdicts by shape, so that no colour is needed to tell them. */

import type { Finding } from '../../../../core/check'

/** What is wrong is told by its mark's shape: a full square, an open one, none. */
export function verdictMark(findings: readonly Finding[]): string {
  if (findings.some(({ severity }) => severity === 'wrong')) return '■'
  return findings.length > 0 ? '□' : ''
}
