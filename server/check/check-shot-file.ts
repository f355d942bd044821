/** The claims check of a shot file: what `enkrasis check` prints. */

import { dirname, resolve } from 'node:path'
import { checkShot, voicesOf, type Finding, type Voices } from '../../core/check'
import { sourcesByName } from '../../core/shot'
import { catalogOf } from '../media/catalog'
import { placeOf } from '../media/media-roots'
import { readShotFile } from '../shots/shot-store'
import { Measurers } from './measurers'

export interface CheckedShot {
  readonly shot: string
  readonly sources: readonly { readonly id: string; readonly name: string; readonly claims: readonly Voices[] }[]
  readonly findings: readonly Finding[]
}

export async function checkShotFile(
  file: string,
  mediaRoots: readonly string[] | undefined,
  threads: number,
  built: URL,
): Promise<CheckedShot> {
  const shot = await readShotFile(resolve(file))
  const folder = dirname(resolve(file))
  const place = placeOf(mediaRoots, folder)
  const measurers = new Measurers(new URL('source-measurer.mjs', built), threads)
  try {
    const reports = await measurers.measure(place, shot, await catalogOf(place, shot))
    return {
      shot: shot.name,
      sources: sourcesByName(shot).map((source) => ({
        id: source.id,
        name: source.name,
        claims: voicesOf(shot, source, reports.find((report) => report.source === source.id) ?? null),
      })),
      findings: checkShot(shot, reports),
    }
  } finally {
    await measurers.close()
  }
}

/** For people: a line per claim that is not agreed on, a few lines per finding. */
export function inWords({ shot, sources, findings }: CheckedShot): string {
  const lines = [`${shot}: ${sources.length} sources, ${findings.length} findings`]
  const nameOf = (id: string) => sources.find((source) => source.id === id)?.name ?? id
  for (const { name, claims } of sources)
    for (const { claim, file, pixels, you, agree } of claims)
      if (!agree)
        lines.push(`  ${name}, ${claim}: file says ${file ?? '-'}, pixels say ${pixels ?? '-'}, you say ${you}`)
  for (const { source, severity, what, where, why, fix } of findings)
    lines.push(
      '',
      `${severity === 'wrong' ? 'WRONG' : 'look '} ${nameOf(source)}: ${what}`,
      `      ${where}`,
      `      ${why}`,
      ...(fix ? [`      to put it right: ${fix.label}`] : []),
    )
  return lines.join('\n')
}
