import { pictureOf, smallShot, withSource } from '../test/small-shot'
import { absent, filesIn, firstFrameThere, sameIfEqual, stillKey } from './catalog'

const { plate, matte } = smallShot.sources.byId
const catalog = { plate: { 1003: 'a', 1002: 'b' }, matte: { [stillKey]: 'c' } }

test('files that are there have their fingerprints, others have one that says they are not', () => {
  const files = filesIn(catalog)
  expect([files.fingerprint(plate, 1002), files.fingerprint(plate, 1009), files.fingerprint(matte, null)]).toEqual([
    'b',
    absent,
    'c',
  ])
  expect(files.fingerprint({ ...plate, id: 'constructor' }, 1002)).toBe(absent)
})

test('the last file before a number is found among those there are', () => {
  const { before } = filesIn(catalog)
  expect([1002, 1003, 1004, 99999].map((number) => before(plate, number))).toEqual([undefined, 1002, 1003, 1003])
})

test('a file that arrives makes another plate', () => {
  const key = (frames: Record<string, string>) =>
    pictureOf(smallShot, 1001, 1, filesIn({ ...catalog, plate: frames })).plate.key
  expect(key({})).not.toBe(key({ 1001: 'new' }))
  expect(key({ 1001: 'new' })).toBe(key({ 1001: 'new', 1002: 'other' }))
})

test('which file serves a missing frame is part of the plan, also when another arrives before it', () => {
  const repeating = withSource(smallShot, 'plate', { missing: 'repeat' })
  const path = (frames: Record<string, string>) => {
    const { plate: step } = pictureOf(repeating, 1005, 1, filesIn({ ...catalog, plate: frames }))
    return step.op === 'frame' ? step.request.path : step.op
  }
  expect(path({ 1001: 'a' })).toBe('plate.1001.exr')
  expect(path({ 1001: 'a', 1003: 'b' })).toBe('plate.1003.exr')
})

test('a shot opens on the first frame that is there, or on its first', () => {
  expect(firstFrameThere(smallShot, catalog)).toBe(1002)
  expect(firstFrameThere(smallShot, {})).toBe(1001)
  // A plate that was moved off the shot does not open it outside.
  expect(firstFrameThere(withSource(smallShot, 'plate', { offset: 500 }), catalog)).toBe(1001)
})

test('a catalog in which nothing changed is the one before, and so is each source in it', () => {
  const again = JSON.parse(JSON.stringify(catalog))
  expect(sameIfEqual(catalog, again)).toBe(catalog)
  const more = sameIfEqual(catalog, { ...again, plate: { ...again.plate, 1004: 'd' } })
  expect(more).not.toBe(catalog)
  expect(more.matte).toBe(catalog.matte)
})
