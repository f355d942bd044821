import { planFrame } from '../plan/plan'
import { smallShot } from '../test/small-shot'
import { newBlend } from './defaults'
import { applyEdit, describeEdit } from './edits'
import { ImpossibleEditError } from './impossible-edit'
import { parseShot } from './schema'
import { servingFrame, sourceFrame } from './source-files'
import type { Element, Source } from './types'

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
    const there = (number: number) => number !== 1 && number !== 4 && number !== 5
    const at = (missing: Source['missing'], frame: number) => servingFrame({ ...source, missing }, frame, there)
    expect([at('stop', 1004), at(undefined, 1004)]).toEqual([4, 4])
    expect([at('repeat', 1004), at('repeat', 1005), at('repeat', 1006)]).toEqual([3, 3, 6])
    expect(at('repeat', 1001)).toBeUndefined()
    expect([at('empty', 1004), at('empty', 1006)]).toEqual([undefined, 6])
  })

  test('a repeated frame has the key of the one before; an empty one is not in the picture', () => {
    const missing = (how: Source['missing']) => ({
      ...smallShot,
      sources: smallShot.sources.map((one) => (one.id === 'cg' ? { ...one, missing: how } : one)),
    })
    const gone = (one: Source, frame: number | null) => (one.id === 'cg' && frame === 1003 ? 'absent' : 'there')
    const element = (how: Source['missing'], frame: number) =>
      planFrame(missing(how), frame, 1, gone).elements.get('cg')?.key
    expect(element('repeat', 1003)).toBe(element('repeat', 1002))
    expect(element('empty', 1003)).toBeUndefined()
    expect(element('stop', 1003)).not.toBe(element('stop', 1002))
  })
})

describe('edits of sources and elements', () => {
  const withTake = applyEdit(smallShot, { kind: 'add-source', source }).shot
  const element: Element = {
    id: 'second',
    name: 'Second',
    source: 'take',
    part: null,
    visible: true,
    blend: newBlend('over'),
    treatments: [],
  }

  test('what is brought in makes a document that the schema takes', () => {
    expect(parseShot(withTake, 'small').sources.at(-1)).toEqual(source)
    expect(() => applyEdit(withTake, { kind: 'add-source', source })).toThrow(ImpossibleEditError)
  })

  test('a source that something reads stays; read by nothing it goes', () => {
    const shot = applyEdit(withTake, { kind: 'add-element', element }).shot
    expect(() => applyEdit(shot, { kind: 'remove-source', source: 'take' })).toThrow(
      'Second take is read by Second. Remove them first.',
    )
    const without = applyEdit(shot, { kind: 'remove-element', element: 'second' }).shot
    expect(applyEdit(without, { kind: 'remove-source', source: 'take' }).shot).toEqual(smallShot)
  })

  test('the plate stays', () => {
    expect(() => applyEdit(smallShot, { kind: 'remove-element', element: 'plate' })).toThrow(/plate cannot be removed/)
  })

  test('what is said of a source can be taken back to the shot’s own, and every edit undone', () => {
    const edit = { kind: 'set-source', source: 'take', changes: { enlarge: 2, missing: 'repeat' } } as const
    const { shot, inverse } = applyEdit(withTake, edit)
    expect(shot.sources.at(-1)).toMatchObject({ enlarge: 2, missing: 'repeat' })
    expect(applyEdit(shot, { kind: 'restore', what: 'undo', patches: inverse }).shot).toEqual(withTake)
    const back = applyEdit(shot, {
      kind: 'set-source',
      source: 'take',
      changes: { enlarge: undefined, missing: undefined },
    })
    expect(back.shot).toEqual(withTake)
  })

  test('history says what was done', () => {
    expect(describeEdit(smallShot, { kind: 'add-source', source })).toBe('Import Second take')
    expect(describeEdit(withTake, { kind: 'set-source', source: 'take', changes: { offset: 5 } })).toBe(
      'offset of Second take',
    )
    expect(describeEdit(withTake, { kind: 'add-element', element })).toBe('Add Second')
  })

  test.each([
    ['an encoding that is not known', { ...source, claims: { ...source.claims, encoding: 'film' } }, /encoding/],
    ['an enlargement by three', { ...source, enlarge: 3 }, /enlarge/],
    ['a rate of nothing', { ...source, rate: { numerator: 0, denominator: 1 } }, /rate/],
    ['an offset between frames', { ...source, offset: 0.5 }, /offset/],
  ])('%s is refused', (_what, bad, fault) => {
    expect(() => parseShot({ ...smallShot, sources: [...smallShot.sources, bad] }, 'small')).toThrow(fault)
  })
})
