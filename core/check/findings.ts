/**
 * Claims check: what does not fit together, source by source. Each finding says where it is, why it matters, and offers a
 * way out as an edit where there is one.
 */

import { sourcesByName, type Shot } from '../shot'
import type { Check, Finding } from './finding'
import { alpha, encoding, primariesSaid } from './findings-in-colour'
import { files, range, rate, uneven } from './findings-in-files'
import { edges, map, odd, overscan, run, size } from './findings-in-pixels'
import { uncovered } from './findings-in-places'
import type { PictureHeader, SourceReport } from './report'
import { waysOfReading } from './uses'

const checks: readonly Check[] = [
  rate,
  uneven,
  range,
  size,
  map,
  encoding,
  primariesSaid,
  alpha,
  odd,
  run,
  edges,
  overscan,
  uncovered,
]

/** @returns what does not fit, the worst first; sources by name */
export function checkShot(shot: Shot, reports: readonly SourceReport[]): Finding[] {
  const uses = waysOfReading(shot)
  const found = sourcesByName(shot).flatMap((source) => {
    const report = reports.find((one) => one.source === source.id)
    if (!report) return []
    const { header } = report
    const judged = header && { shot, source, report, uses: uses.get(source.id) ?? [], header }
    const drafts = [
      ...files({ shot, source, report, uses: uses.get(source.id) ?? [], header: header as PictureHeader }, reports),
      ...(judged ? checks.flatMap((check) => check(judged, reports)) : []),
    ]
    return drafts.map((draft): Finding => ({ ...draft, id: `${source.id}:${draft.kind}`, source: source.id }))
  })
  return [
    ...found.filter(({ severity }) => severity === 'wrong'),
    ...found.filter(({ severity }) => severity === 'look'),
  ]
}
