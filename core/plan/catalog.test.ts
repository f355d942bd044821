import { smallShot } from '../test/small-shot'
import { fingerprintFrom, firstFrameThere, stillKey } from './catalog'
import { absent, planFrame } from './plan'

const [plate, , matte] = smallShot.sources
const catalog = { plate: { 1003: 'a', 1002: 'b' }, matte: { [stillKey]: 'c' } }

test('files that are there have their fingerprints, others have one that says they are not', () => {
  const fingerprint = fingerprintFrom(catalog)
  expect([fingerprint(plate, 1002), fingerprint(plate, 1009), fingerprint(matte, null)]).toEqual(['b', absent, 'c'])
})

test('a file that arrives makes another plate', () => {
  const key = (frames: Record<string, string>) =>
    planFrame(smallShot, 1001, 1, fingerprintFrom({ ...catalog, plate: frames })).plate.key
  expect(key({})).not.toBe(key({ 1001: 'new' }))
  expect(key({ 1001: 'new' })).toBe(key({ 1001: 'new', 1002: 'other' }))
})

test('a shot opens on the first frame that is there, or on its first', () => {
  expect(firstFrameThere(smallShot, catalog)).toBe(1002)
  expect(firstFrameThere(smallShot, {})).toBe(1001)
})
