/** How a shot uses its sources. */

import { blends } from '../set/blends'
import type { Shot } from '../shot'
import { treatments } from '../treatments'
import type { Use } from './report'

/** @returns by source id, every different way in which elements and treatments read it; empty for what nothing reads */
export function usesOf(shot: Shot): ReadonlyMap<string, readonly Use[]> {
  const uses = new Map<string, Use[]>(shot.sources.map(({ id }) => [id, []]))
  const note = (source: string, use: Use) => {
    const known = uses.get(source)
    if (known && !known.some((one) => one.part === use.part && one.takes === use.takes)) known.push(use)
  }
  for (const { source, part, blend, rebuild = [], treatments: settings } of shot.elements) {
    const { takes, neutral } = blends[blend.kind]
    for (const one of [part, ...rebuild]) note(source, { part: one, takes, neutral })
    for (const { kind, sources: named = {} } of settings)
      for (const { name, takes: taken } of treatments[kind].sources ?? [])
        if (named[name]) note(named[name], { part: null, takes: taken })
  }
  return uses
}
