import type { ShotSummary } from '../api/client'
import { listRows, type ListWishes } from './list-order'

const shot = (name: string, given: Partial<ShotSummary> = {}): ShotSummary =>
  ({
    ...{
      id: name,
      name,
      revision: 1,
      updatedAt: '2026-01-01T00:00:00Z',
      author: null,
      archived: false,
      removed: false,
    },
    ...{ fault: 'not read here' },
    ...given,
  }) as ShotSummary

const shots = [
  shot('quay-020', { author: 'Ada', updatedAt: '2026-01-03T00:00:00Z' }),
  shot('sea-001', { updatedAt: '2026-01-02T00:00:00Z' }),
  shot('quay-010'),
  shot('quay-030', { archived: true }),
  shot('quay-040', { archived: true, removed: true }),
]
const names = (wishes: Partial<ListWishes>) =>
  listRows(shots, { search: '', sort: 'name', shelf: 'present', ...wishes }).map((row) =>
    row.kind === 'shot' ? row.shot.name : `${row.name}: ${row.count}`,
  )

test('by name, shots stand under their sequence', () => {
  expect(names({})).toEqual(['quay: 2', 'quay-010', 'quay-020', 'sea: 1', 'sea-001'])
})

test('by last change, the newest comes first', () => {
  expect(names({ sort: 'changed' })).toEqual(['quay-020', 'sea-001', 'quay-010'])
})

test('archived and removed shots each have a shelf of their own', () => {
  expect(names({ shelf: 'archived' })).toEqual(['quay: 1', 'quay-030'])
  expect(names({ shelf: 'removed' })).toEqual(['quay: 1', 'quay-040'])
})

test('every word of a search counts, also who changed it', () => {
  expect(names({ search: 'QUAY 0' })).toEqual(['quay: 2', 'quay-010', 'quay-020'])
  expect(names({ search: 'ada qu' })).toEqual(['quay: 1', 'quay-020'])
  expect(names({ search: 'nothing' })).toEqual([])
})
