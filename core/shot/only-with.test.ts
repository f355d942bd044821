import { newTreatment } from './defaults'
import { smallShot, treated, withElement } from '../test/small-shot'
import { allOf } from './find'
import { onlyWith } from './only-with'
import type { Shot } from './types'

/** One element over the plate and nothing else. */

const seen = (shot: Shot | null) =>
  allOf(shot?.elements ?? { byId: {} })
    .filter(({ visible }) => visible)
    .map(({ id }) => id)
    .sort()

test('the plate, the element, the group that it stands in and what it is made of stay; the others are hidden', () => {
  const grouped = withElement(smallShot, 'cg', { parent: 'front' })
  expect(seen(onlyWith(grouped, 'shadow'))).toEqual(['plate', 'shadow'])
  expect(seen(onlyWith(grouped, 'cg'))).toEqual(['cg', 'front', 'plate'])
  expect(seen(onlyWith(grouped, 'front'))).toEqual(['cg', 'front', 'plate'])
})

test('what acts on the whole is left out, what the glass does stays', () => {
  const look = newTreatment('exposure', 'look')
  const shot = (['glass', 'sensor', 'finish'] as const).reduce(
    (now, kind) => treated(now, { kind }, { ...look, id: kind }),
    smallShot,
  )
  const kinds = (only: Shot | null) =>
    allOf(only?.uses ?? { byId: {} })
      .map(({ owner }) => owner.kind)
      .sort()
  expect(kinds(onlyWith(shot, 'cg'))).toEqual(['element', 'glass'])
  expect(kinds(onlyWith(shot, 'cg', ['finish']))).toEqual(['element', 'glass', 'sensor'])
})

test('the plate itself and what is gone are none; the same shot gives the same one', () => {
  expect([onlyWith(smallShot, 'plate'), onlyWith(smallShot, 'gone')]).toEqual([null, null])
  expect(onlyWith(smallShot, 'cg')).toBe(onlyWith(smallShot, 'cg'))
})
