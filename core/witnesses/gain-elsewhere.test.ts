import { applyEdit, find, newTreatment, newUse, type Element, type Parameters, type Shot } from '../shot'
import { smallShot } from '../test/small-shot'
import { gainElsewhere } from './gain-elsewhere'

/** A shot that is to have the gain of another one, where an element of the same name is matched. */

const bare: Shot = { ...smallShot, uses: { byId: {} }, treatments: { byId: {} } }
const element = find(bare.elements, 'cg') as Element

function matched(parameters: Parameters, shot: Shot = { ...bare, name: 'other' }): Shot {
  const settings = newTreatment('veil-and-gain', 'there')
  const set = { ...settings, parameters: { ...settings.parameters, ...parameters } }
  const use = newUse(shot, { kind: 'element', id: element.id }, 'veil-and-gain', set.id)
  return applyEdit(shot, { kind: 'add-treatment', settings: set, use }).shot
}
const gain = [1.3, 1.1, 0.9]
const renamed = (shot: Shot, of: string, name: string): Shot => ({
  ...shot,
  elements: { byId: { ...shot.elements.byId, [of]: { ...(find(shot.elements, of) as Element), name } } },
})
const withCopy = (shot: Shot): Shot => ({
  ...shot,
  elements: { byId: { ...shot.elements.byId, copy: { ...element, id: 'copy' } } },
})

test('the gain of the element with the same name is taken, with a bar that is never sure', () => {
  const found = gainElsewhere(bare, element, matched({ gain, veil: [0.02, 0.03, 0.04] }))
  if (typeof found === 'string') throw new Error(found)
  expect(found.map(({ value }) => value)).toEqual(gain)
  found.forEach(({ bar }, c) => expect(bar).toBeCloseTo(0.1 * gain[c], 9))
})

test('keyframes that all have one value are one value', () => {
  const level = { keyframes: { 1001: 1.3, 1010: 1.3 } }
  expect(gainElsewhere(bare, element, matched({ gain: [level, 1.1, 0.9] }))).toHaveLength(3)
})

test.each<[string, Shot, string]>([
  ['no element of that name', renamed(matched({ gain }), 'cg', 'Something else'), 'other has no element named CG'],
  ['two of that name', withCopy(matched({ gain })), 'other has more than one element named CG'],
  ['nothing set', { ...bare, name: 'other' }, 'no gain is set for CG in other'],
  ['only a veil set', matched({ veil: [0.1, 0.1, 0.1] }), 'no gain is set for CG in other'],
  ['a gamma', matched({ gain, gamma: [1, 1.2, 1] }), 'the gain of CG in other goes with a gamma'],
  [
    'keyframes',
    matched({ gain: [{ keyframes: { 1001: 1.3, 1010: 1.2 } }, 1.1, 0.9] }),
    'the gain of CG in other changes over its frames',
  ],
  [
    'another working space',
    matched({ gain }, { ...bare, name: 'other', workingSpace: 'acescg' }),
    'other has another working space',
  ],
])('with %s there, it is said why it is not taken', (_what, other, why) => {
  expect(gainElsewhere(bare, element, other)).toBe(why)
})
