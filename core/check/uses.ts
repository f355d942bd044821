/** How a shot reads its sources. */

import { blends } from '../set/blends'
import {
  allOf,
  elementsInOrder,
  find,
  goesThroughGlass,
  inOrder,
  type Arrangement,
  type Shot,
  type TreatmentSettings,
} from '../shot'
import { treatments } from '../treatments'
import type { WayOfReading } from './report'

/** @returns by source id, every different way in which elements and treatments read it; empty for what nothing reads */
export function waysOfReading(shot: Shot): ReadonlyMap<string, readonly WayOfReading[]> {
  const ways = new Map<string, WayOfReading[]>(allOf(shot.sources).map(({ id }) => [id, []]))
  const note = (source: string, way: WayOfReading) => {
    const known = ways.get(source)
    if (known && !known.some((one) => one.part === way.part && one.takes === way.takes)) known.push(way)
  }
  for (const { element } of elementsInOrder(shot)) {
    const { takes, neutral } = element.id === shot.plate ? blends.over : blends[element.blend.kind]
    for (const input of inOrder(element.inputs))
      if (input.kind === 'pass') note(input.source, { part: input.part, takes, neutral })
    const { shows } = element.blend
    if (shows) note(shows.source, { part: shows.part, takes: 'rgba' })
  }
  for (const { kind, sources = {} } of allOf(shot.treatments))
    for (const { name, takes } of treatments[kind].sources ?? [])
      if (Object.hasOwn(sources, name)) note(sources[name], { part: null, takes })
  for (const { limit } of allOf(shot.uses))
    if (limit?.matte?.kind === 'source') note(limit.matte.source, { part: limit.matte.part, takes: 'scalar' })
  for (const matte of allOf(shot.mattes))
    if (matte.kind === 'channel') note(matte.source, { part: matte.part, takes: 'scalar' })
  return ways
}

/** The lenses and lens maps by which elements made of a source are bent, by their own or in the glass. */
export function bendsOver(shot: Arrangement, source: string): ReadonlySet<TreatmentSettings> {
  const bends = new Set<TreatmentSettings>()
  for (const { on, owner, treatment } of allOf(shot.uses)) {
    const settings = find(shot.treatments, treatment)
    if (!on || !settings || treatments[settings.kind].side !== 'mapping') continue
    const element = owner.kind === 'element' ? find(shot.elements, owner.id) : undefined
    const acts =
      owner.kind === 'glass'
        ? allOf(shot.elements).filter((one) => goesThroughGlass(shot, one, settings.kind))
        : element
          ? [element]
          : []
    const reads = acts.some(({ inputs }) =>
      allOf(inputs).some((input) => input.kind === 'pass' && input.source === source),
    )
    if (reads) bends.add(settings)
  }
  return bends
}
