/** Which sources that are made here, and that something uses, have no file yet at a frame. */

import { allOf, usersOf, type Recipe, type Shot, type Source } from '../shot'
import type { Files } from './catalog'
import { PlanMemo } from './memo'
import { notMadeYet } from './source'

export type MadeSource = Source & { readonly made: Recipe }

export const isMadeHere = (source: Source): source is MadeSource => source.made !== undefined

/** Those that another of them is made of come first. */
export function unmadeAt(shot: Shot, frame: number, files: Files): MadeSource[] {
  const planning = { shot, scale: 1 as const, files, memo: new PlanMemo() }
  const unmade = allOf(shot.sources)
    .filter(isMadeHere)
    .filter((source) => usersOf(shot, { kind: 'source', id: source.id }).length > 0)
    .filter((source) => notMadeYet(planning, source, frame) !== null)
  const madeOf = (source: MadeSource, other: MadeSource) =>
    usersOf(shot, { kind: 'source', id: other.id }).includes(source.name)
  return unmade.sort((a, b) => Number(madeOf(a, b)) - Number(madeOf(b, a)))
}
