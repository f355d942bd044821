/** Which shots the list shows, and in which order: pure, so that it is tested by itself. */

import { sequenceOf } from '../../../core/shot'
import type { ShotSummary } from '../api/client'

export type ListSort = 'name' | 'changed'
/** `present`: neither archived nor removed. */
export type ListShelf = 'present' | 'archived' | 'removed'

export interface ListWishes {
  readonly search: string
  readonly sort: ListSort
  readonly shelf: ListShelf
}

export type ListRow =
  | { readonly kind: 'sequence'; readonly name: string; readonly count: number }
  | { readonly kind: 'shot'; readonly shot: ShotSummary }

const shelfOf = ({ archived, removed }: ShotSummary): ListShelf =>
  removed ? 'removed' : archived ? 'archived' : 'present'

/** Every word of the search must stand in the name, or in who changed it last. */
function found(shot: ShotSummary, search: string): boolean {
  const text = `${shot.name} ${shot.author ?? ''}`.toLowerCase()
  return search
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word))
}

/** By name: under their sequences. By last change: the newest first, without sequences. */
export function listRows(shots: readonly ShotSummary[], { search, sort, shelf }: ListWishes): readonly ListRow[] {
  const shown = shots.filter((shot) => shelfOf(shot) === shelf && found(shot, search))
  const row = (shot: ShotSummary): ListRow => ({ kind: 'shot', shot })
  if (sort === 'changed')
    return [...shown].sort((a, b) => (a.updatedAt < b.updatedAt ? 1 : a.updatedAt > b.updatedAt ? -1 : 0)).map(row)
  const sequences = new Map<string, ShotSummary[]>()
  for (const shot of [...shown].sort((a, b) => (a.name < b.name ? -1 : 1))) {
    const name = sequenceOf(shot.name)
    sequences.set(name, [...(sequences.get(name) ?? []), shot])
  }
  return [...sequences].flatMap(([name, own]): ListRow[] => [
    { kind: 'sequence', name, count: own.length },
    ...own.map(row),
  ])
}
