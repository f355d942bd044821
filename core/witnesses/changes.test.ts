import { newTreatment } from '../shot'
import { smallShot, treated } from '../test/small-shot'
import { changesOf, isSet } from './changes'
import type { MatchedPart } from './parts'

/** What is set by hand stays, wherever it is set. */

const bar = 0.01
const softness: MatchedPart = {
  ...{ element: 'cg', what: 'softness', sure: true, rests: ['Ball'], surer: null, sharedBy: [] },
  values: [0.6, 0.7].map((value) => ({ value, bar })),
}
const changes = (shot = smallShot) => changesOf(shot, { parts: [softness], witnesses: [] })

test('what was found is added and set', () => {
  expect(changes().map(({ kind }) => kind)).toEqual(['add-treatment', 'set-channels', 'set-channels'])
})

test('set on the element, or for all of them in the glass, it stays as it is', () => {
  const soft = newTreatment('soften', 'soft', { across: [0.4], down: [0.4] })
  for (const owner of [{ kind: 'element', id: 'cg' }, { kind: 'glass' }] as const) {
    const shot = treated(smallShot, owner, soft)
    expect(isSet(shot, 'cg', 'softness')).toBe(true)
    expect(changes(shot)).toEqual([])
  }
  // Off, or at its beginning, it is not set.
  expect(isSet(treated(smallShot, { kind: 'glass' }, soft, { on: false }), 'cg', 'softness')).toBe(false)
  expect(isSet(treated(smallShot, { kind: 'glass' }, newTreatment('soften', 'soft')), 'cg', 'softness')).toBe(false)
})

test('an element that is gone meanwhile is left out', () => {
  expect(changesOf(smallShot, { parts: [{ ...softness, element: 'gone' }], witnesses: [] })).toEqual([])
})
