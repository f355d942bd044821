import { smallShot } from '../../../../core/test/small-shot'
import { newTreatment, type Source } from '../../../../core/shot'
import { settingsFor, sourcesFor } from './treatment-sources'

const table: Source = { ...smallShot.sources[0], id: 'dusk', path: 'dusk.cube', frames: null }

test('a table is read from table files, a map from pictures', () => {
  const sources = [...smallShot.sources, table]
  expect(sourcesFor('table', sources)).toEqual([table])
  expect(sourcesFor('map', sources)).toEqual(smallShot.sources)
})

test('a treatment that reads a source names the first that it can read, and is not offered without one', () => {
  expect(settingsFor('look-table', [], smallShot.sources)).toBeNull()
  expect(settingsFor('look-table', [], [table])).toEqual({
    ...newTreatment('look-table', 'look-table'),
    sources: { table: 'dusk' },
  })
})

test('ids are not given twice', () => {
  const first = newTreatment('soften', 'soften')
  expect(settingsFor('soften', [first], [])?.id).toBe('soften-2')
})
