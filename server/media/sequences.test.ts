import fc from 'fast-check'
import { groupFiles } from './sequences'

test('frames of a sequence are one entry, with its range and what is missing', () => {
  const names = ['plate.1001.exr', 'plate.1002.exr', 'plate.1005.exr', 'notes.txt', 'matte_v003.exr']
  expect(groupFiles(names)).toEqual([
    { pattern: 'matte_v003.exr', frames: null, count: 1, missing: [] },
    { pattern: 'notes.txt', frames: null, count: 1, missing: [] },
    { pattern: 'plate.####.exr', frames: { first: 1001, last: 1005 }, count: 3, missing: [1003, 1004] },
  ])
})

test('names, versions and extensions keep sequences apart', () => {
  const names = ['a_v1.01.exr', 'a_v1.02.exr', 'a_v2.01.exr', 'a_v2.02.exr', 'a_v1.01.dpx', 'a_v1.02.dpx']
  expect(groupFiles(names).map((g) => g.pattern)).toEqual(['a_v1.##.dpx', 'a_v1.##.exr', 'a_v2.##.exr'])
})

test('numbers may outgrow their padding', () => {
  const names = Array.from({ length: 6 }, (_, i) => `x.${997 + i}.dpx`)
  expect(groupFiles(names)).toMatchObject([{ pattern: 'x.###.dpx', frames: { first: 997, last: 1002 }, count: 6 }])
})

test('a padded number is not the same as one without zeros', () => {
  expect(groupFiles(['x.0001.exr', 'x.0002.exr', 'x.00001.exr']).map((g) => [g.pattern, g.count])).toEqual([
    ['x.####.exr', 2],
    ['x.00001.exr', 1],
  ])
})

test('every file is in exactly one group, whatever the names', () => {
  const name = fc.stringMatching(/^[a-c]{0,2}[._]?[0-9]{0,5}\.(exr|dpx)$/)
  fc.assert(
    fc.property(fc.uniqueArray(name, { maxLength: 60 }), (names) => {
      expect(groupFiles(names).reduce((sum, g) => sum + g.count, 0)).toBe(names.length)
    }),
  )
})
