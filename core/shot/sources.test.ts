import { planFrame } from '../plan/plan'
import { allThere, smallShot, withSource } from '../test/small-shot'
import { newBlend, newElement, newTreatment, passInputs } from './defaults'
import { applyEdit, describeEdit, type Change } from './edits'
import { ImpossibleEditError } from './impossible-edit'
import { parseShot } from './schema'
import { servingFrame, sourceFrame } from './source-files'
import type { Source } from './types'
import { takeBack } from './undo'

const source: Source = {
  id: 'take',
  name: 'Second take',
  path: '../camera/take.####.dpx',
  frames: { first: 1, last: 10 },
  claims: { encoding: 'logc3', primaries: 'wide-gamut-3', alpha: 'none' },
  offset: 1000,
}

describe('files that serve frames', () => {
  test('an offset moves a source’s numbers onto the shot’s', () => {
    expect(sourceFrame(source, 1001)).toBe(1)
    expect(sourceFrame(source, 1010)).toBe(10)
    expect(sourceFrame(source, 1011)).toBeUndefined()
    expect(sourceFrame({ ...source, frames: null }, 5)).toBeNull()
  })

  test('a missing file stops, is repeated, or leaves nothing, as its source says', () => {
    const has = (number: number) => number !== 1 && number !== 4 && number !== 5
    const before = (number: number) => [...Array(number).keys()].reverse().find((n) => n > 1 && has(n))
    const at = (missing: Source['missing'], frame: number) =>
      servingFrame({ ...source, missing }, frame, { has, before })
    expect([at('stop', 1004), at(undefined, 1004)]).toEqual([4, 4])
    expect([at('repeat', 1004), at('repeat', 1005), at('repeat', 1006)]).toEqual([3, 3, 6])
    expect(at('repeat', 1001)).toBeUndefined()
    expect([at('empty', 1004), at('empty', 1006)]).toEqual([undefined, 6])
  })

  test('a repeated frame has the key of the one before; an empty one is not in the picture', () => {
    const oneMissing = allThere((one, number) => (one.id === 'cg' && number === 1003 ? 'absent' : 'there'))
    const element = (missing: Source['missing'], frame: number) =>
      planFrame(withSource(smallShot, 'cg', { missing }), frame, 1, oneMissing).elements.get('cg')?.key
    expect(element('repeat', 1003)).toBe(element('repeat', 1002))
    expect(element('empty', 1003)).toBeUndefined()
    expect(element('stop', 1003)).not.toBe(element('stop', 1002))
  })
})

describe('edits of sources and elements', () => {
  const add: Change = { kind: 'add-source', source }
  const withTake = applyEdit(smallShot, add).shot
  const element = newElement('second', 'Second', 'a9', newBlend('over'), passInputs('take'))
  const addElement: Change = { kind: 'add-element', element, treatments: [], uses: [] }

  test('what is imported makes a document that the schema takes', () => {
    expect(parseShot(withTake, 'small').sources.byId.take).toEqual(source)
    expect(() => applyEdit(withTake, add)).toThrow(ImpossibleEditError)
  })

  test('what is said of a source can be taken back to the shot’s own, and every edit undone', () => {
    const edit: Change = { kind: 'set-source', source: 'take', changes: { enlarge: 2, missing: 'repeat' } }
    const made = applyEdit(withTake, edit)
    expect(made.shot.sources.byId.take).toMatchObject({ enlarge: 2, missing: 'repeat' })
    expect(takeBack(made.shot, made).shot).toEqual(withTake)
    const back: Change = { kind: 'set-source', source: 'take', changes: { enlarge: null, missing: null } }
    expect(applyEdit(made.shot, back).shot).toEqual(withTake)
  })

  test('history says what was done', () => {
    expect(describeEdit(smallShot, add)).toBe('Import Second take')
    const offset: Change = { kind: 'set-source', source: 'take', changes: { offset: 5 } }
    expect(describeEdit(withTake, offset)).toBe('offset of Second take')
    expect(describeEdit(withTake, addElement)).toBe('Add Second')
  })

  test.each([
    ['an encoding that is not known', { ...source, claims: { ...source.claims, encoding: 'film' } }, /encoding/],
    ['an enlargement by three', { ...source, enlarge: 3 }, /enlarge/],
    ['a rate of nothing', { ...source, rate: { numerator: 0, denominator: 1 } }, /rate/],
    ['an offset between frames', { ...source, offset: 0.5 }, /offset/],
  ])('%s is refused, in a file and in an edit', (_what, bad, fault) => {
    const spoilt = { ...smallShot, sources: { byId: { ...smallShot.sources.byId, take: bad } } }
    expect(() => parseShot(spoilt, 'small')).toThrow(fault)
    expect(() => applyEdit(smallShot, { kind: 'add-source', source: bad as Source })).toThrow(ImpossibleEditError)
  })

  test.each([
    ['a range without a # for its numbers', { path: 'take.dpx' }, 'no # in its file name'],
    ['a # in the name of a folder', { path: '##/take.####.dpx' }, '# in the name of a folder'],
  ])('%s is refused', (_what, changes, sentence) => {
    expect(() => applyEdit(smallShot, { kind: 'add-source', source: { ...source, ...changes } })).toThrow(sentence)
  })
})

test('a treatment that can do without a source lets go of it; one that cannot refuses, with a sentence', () => {
  const add = (kind: 'backing-key' | 'patch', sources: object): Change => ({
    kind: 'add-treatment',
    settings: { ...newTreatment(kind, kind), ...sources },
    use: {
      ...{ id: kind, rank: 'a5', owner: { kind: 'element', id: 'cg' }, treatment: kind, on: true, limit: null },
    },
  })
  const shot = [add('backing-key', {}), add('patch', { sources: { filling: 'plate' } })].reduce(
    (now, change) => applyEdit(now, change).shot,
    smallShot,
  )
  const set = (treatment: string, name: string, source: string | null): Change => ({
    ...{ kind: 'set-treatment-source', treatment, name, source },
  })
  const keyed = applyEdit(shot, set('backing-key', 'clean', 'cg')).shot
  expect(keyed.treatments.byId['backing-key'].sources).toEqual({ clean: 'cg' })
  expect(
    applyEdit(keyed, set('backing-key', 'clean', null)).shot.treatments.byId['backing-key'].sources,
  ).toBeUndefined()
  expect(() => applyEdit(shot, set('patch', 'filling', null))).toThrow('Patch cannot do without filled from.')
})
