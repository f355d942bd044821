import { versionIn } from '.'

test.each([
  ['cg/bell_v003.####.exr', 3, 'cg/bell_v012.####.exr'],
  ['cg/v003/bell_v003.####.exr', 3, 'cg/v012/bell_v012.####.exr'],
  ['scan_v2/cg/bell-V07.exr', 7, 'scan_v2/cg/bell-V12.exr'],
])('%s is version %i', (path, number, other) => {
  const version = versionIn(path)
  expect(version?.number).toBe(number)
  expect(version?.with(12)).toBe(other)
  expect(version?.numberOf(other)).toBe(12)
  expect(version?.numberOf(path)).toBe(number)
})

test('what has another name is no version of it', () => {
  const version = versionIn('cg/bell_v003.####.exr')
  for (const other of [
    'cg/rope_v004.####.exr',
    'cg/bell.####.exr',
    'cg/bell_v004.####.dpx',
    'other/bell_v004.####.exr',
  ])
    expect(version?.numberOf(other)).toBeNull()
})

test.each(['plate.####.exr', 'cover3/plate.exr', 'review.exr', 'v/plate.exr'])('%s has no version', (path) => {
  expect(versionIn(path)).toBeNull()
})
