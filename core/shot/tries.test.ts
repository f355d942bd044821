import fc from 'fast-check'
import { smallShot } from '../test/small-shot'
import { applyEdit, describeEdit, ImpossibleEditError, newTreatment, parseShot, type Edit, type Shot } from './index'

const edited = (shot: Shot, ...edits: readonly Edit[]) => edits.reduce((now, edit) => applyEdit(now, edit).shot, shot)
const gain = (value: number): Edit => ({
  kind: 'set-parameter',
  at: { element: 'cg', treatment: 'match', parameter: 'gain', channel: 0 },
  frame: 1001,
  value,
})
const keep: Edit = { kind: 'keep-try' }
const take = (id: string): Edit => ({ kind: 'take-try', id })
const drop = (id: string): Edit => ({ kind: 'drop-try', id })

test('a try stays as it was, and the picture is not made of it', () => {
  const kept = edited(smallShot, keep, gain(2))
  expect(kept.tries).toEqual([{ id: 'try-1', name: 'try 1', elements: smallShot.elements }])
  expect(kept.elements).not.toEqual(smallShot.elements)
  expect(describeEdit(kept, keep)).toBe('Keep try 2')
})

test('taking a try brings back how things stood, and keeps how they stand', () => {
  const shot = edited(smallShot, keep, gain(2), take('try-1'))
  expect(shot.elements).toEqual(smallShot.elements)
  expect(shot.tries?.map(({ name }) => name)).toEqual(['try 1', 'try 2'])
  expect(shot.tries?.[1].elements).toEqual(edited(smallShot, gain(2)).elements)
  // Nothing is kept twice.
  expect(edited(shot, take('try-2'), take('try-1')).tries).toHaveLength(2)
})

test('a finish goes and comes with the try', () => {
  const graded = { ...smallShot, finish: [newTreatment('saturation', 'grade')] }
  const { finish: _, ...rest } = edited(graded, keep)
  expect(edited(rest, take('try-1')).finish).toEqual(graded.finish)
  expect(edited({ ...edited(smallShot, keep), finish: graded.finish }, take('try-1')).finish).toBeUndefined()
})

test('a dropped try is gone, its number is not given again while a later one is there', () => {
  const two = edited(smallShot, keep, keep)
  expect(edited(two, drop('try-1'), keep).tries?.map(({ id }) => id)).toEqual(['try-2', 'try-3'])
  expect(edited(two, drop('try-1'), drop('try-2'))).toEqual(smallShot)
  for (const edit of [take('try-9'), drop('try-9')]) expect(() => applyEdit(two, edit)).toThrow(ImpossibleEditError)
})

test('whatever is kept, taken and dropped, the document is valid and can be taken back', () => {
  const any = fc.oneof(
    fc.constant(keep),
    fc.integer({ min: 1, max: 4 }).map((n) => gain(n)),
    fc.constantFrom('try-1', 'try-2').map(take),
    fc.constantFrom('try-1', 'try-2').map(drop),
  )
  fc.assert(
    fc.property(fc.array(any, { maxLength: 12 }), (edits) => {
      let shot: Shot = smallShot
      const inverses = []
      for (const edit of edits) {
        if ('id' in edit && !shot.tries?.some(({ id }) => id === edit.id)) continue
        const made = applyEdit(shot, edit)
        shot = parseShot(JSON.parse(JSON.stringify(made.shot)), 'edited')
        inverses.unshift(made.inverse)
      }
      for (const patches of inverses) shot = applyEdit(shot, { kind: 'restore', what: 'undo', patches }).shot
      expect(shot).toEqual(smallShot)
    }),
  )
})

test('a source that a try reads stays', () => {
  const elements = smallShot.elements.filter(({ source }) => source !== 'cg')
  const shot = { ...edited(smallShot, keep), elements }
  expect(() => applyEdit(shot, { kind: 'remove-source', source: 'cg' })).toThrow('is read by try 1')
})

test('a try is checked like the shot itself', () => {
  const kept = edited(smallShot, keep)
  const spoilt = { ...kept, sources: kept.sources.filter(({ id }) => id !== 'cg') }
  expect(() => parseShot(spoilt, 'spoilt.json')).toThrow('try-1: element "cg" names the source "cg"')
})

describe('treatments', () => {
  const kinds = (shot: Shot) => shot.elements.find(({ id }) => id === 'cg')?.treatments.map(({ kind }) => kind)
  const add = (kind: Parameters<typeof newTreatment>[0]): Edit => ({
    kind: 'add-treatment',
    element: 'cg',
    settings: newTreatment(kind, kind),
  })

  test('are put where the light path has them, and taken out again', () => {
    const shot = edited(smallShot, add('grain'), add('soften'), add('saturation'))
    expect(kinds(shot)).toEqual(['veil-and-gain', 'saturation', 'soften', 'grain'])
    parseShot(shot, 'treated')
    expect(kinds(edited(shot, { kind: 'remove-treatment', element: 'cg', treatment: 'soften' }))).toEqual([
      'veil-and-gain',
      'saturation',
      'grain',
    ])
    expect(() => applyEdit(shot, add('soften'))).toThrow(ImpossibleEditError)
    expect(() => applyEdit(smallShot, { kind: 'remove-treatment', element: 'cg', treatment: 'soften' })).toThrow(
      ImpossibleEditError,
    )
  })

  test('say which source they read', () => {
    const settings = { ...newTreatment('lens-map', 'bend'), sources: { map: 'matte' } }
    const shot = edited(smallShot, { kind: 'add-treatment', element: 'cg', settings })
    const of = (source: string): Edit => ({
      kind: 'set-treatment-source',
      element: 'cg',
      treatment: 'bend',
      name: 'map',
      source,
    })
    expect(edited(shot, of('plate')).elements[2].treatments[1].sources).toEqual({ map: 'plate' })
    expect(() => applyEdit(shot, of('nothing'))).toThrow(ImpossibleEditError)
  })
})
