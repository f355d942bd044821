import { smallShot } from '../../../../core/test/small-shot'
import { allOf, applyEdit, usesOf, type Source } from '../../../../core/shot'
import { additionOf, sourcesFor } from './treatment-sources'

const sources = allOf(smallShot.sources)
const table: Source = { ...sources[0], id: 'dusk', path: 'dusk.cube', frames: null }
const cg = { kind: 'element', id: 'cg' } as const

test('a table is read from table files, a map from pictures', () => {
  expect(sourcesFor('table', [...sources, table])).toEqual([table])
  expect(sourcesFor('vec2', [...sources, table])).toEqual(sources)
})

test('a treatment that reads a source names the first that it can read, and is not offered without one', () => {
  expect(additionOf('look-table', cg, smallShot, sources)).toBeNull()
  expect(additionOf('look-table', cg, smallShot, [table])).toMatchObject({
    kind: 'add-treatment',
    settings: { kind: 'look-table', sources: { table: 'dusk' } },
    use: { owner: cg, on: true, limit: null },
  })
})

test('it comes where the light path has it, whatever the order in which treatments are added', () => {
  const kinds = (['grain', 'soften', 'saturation'] as const).reduce((shot, kind) => {
    const edit = additionOf(kind, cg, shot, sources)
    return edit ? applyEdit(shot, edit).shot : shot
  }, smallShot)
  const order = usesOf(kinds, cg).map(({ treatment }) => kinds.treatments.byId[treatment].kind)
  expect(order).toEqual(['veil-and-gain', 'saturation', 'soften', 'grain'])
})

test('two of a kind have ids of their own', () => {
  const ids = [1, 2].map(() => {
    const edit = additionOf('soften', cg, smallShot, [])
    return edit?.kind === 'add-treatment' ? edit.settings.id : ''
  })
  expect(new Set(ids).size).toBe(2)
})
