import fc from 'fast-check'
import { smallShot } from '../test/small-shot'
import {
  allOf,
  applyEdit,
  copyElements,
  duplicateElements,
  elementsInOrder,
  find,
  group,
  moveTo,
  parseShot,
  pasteElements,
  readCopied,
  removeAll,
  rootInput,
  step,
  takeBack,
  ungroup,
  usesOf,
  type Change,
  type Element,
  type Shot,
} from '.'

const order = (shot: Shot) => elementsInOrder(shot).map(({ element, depth }) => `${'>'.repeat(depth)}${element.id}`)
const edited = (shot: Shot, edit: Change | null) => {
  if (!edit) throw new Error('There is no edit.')
  return applyEdit(shot, edit).shot
}
const grouped = () => {
  const made = group(smallShot, ['cg', 'front'], 'Bell')
  if (!made) throw new Error('There is no group.')
  return { id: made.id, shot: edited(smallShot, made.edit) }
}

describe('moving', () => {
  test('several go together, in their order, right behind another', () => {
    expect(order(smallShot)).toEqual(['plate', 'shadow', 'cg', 'front'])
    const moved = edited(smallShot, moveTo(smallShot, ['front', 'cg'], { parent: null, behind: 'shadow' }))
    expect(order(moved)).toEqual(['plate', 'cg', 'front', 'shadow'])
    expect(order(edited(moved, moveTo(moved, ['cg'], { parent: null, behind: null })))).toEqual([
      ...['plate', 'front', 'shadow', 'cg'],
    ])
  })

  test('one step nearer or farther; never behind the plate, never beyond the nearest', () => {
    expect(order(edited(smallShot, step(smallShot, 'shadow', 'nearer')))).toEqual(['plate', 'cg', 'shadow', 'front'])
    expect(order(edited(smallShot, step(smallShot, 'front', 'farther')))).toEqual(['plate', 'shadow', 'front', 'cg'])
    expect(step(smallShot, 'shadow', 'farther')).toBeNull()
    expect(step(smallShot, 'front', 'nearer')).toBeNull()
    expect(step(smallShot, 'plate', 'nearer')).toBeNull()
    expect(moveTo(smallShot, ['plate'], { parent: null, behind: null })).toBeNull()
  })

  test('whatever is moved where, the order of all others stays', () => {
    const ids = ['shadow', 'cg', 'front']
    fc.assert(
      fc.property(fc.subarray(ids, { minLength: 1 }), fc.option(fc.constantFrom(...ids)), (moved, behind) => {
        fc.pre(behind === null || !moved.includes(behind))
        const after = order(edited(smallShot, moveTo(smallShot, moved, { parent: null, behind })))
        const stays = (all: readonly string[]) => all.filter((id) => !moved.includes(id))
        const goes = (all: readonly string[]) => all.filter((id) => moved.includes(id))
        expect(stays(after)).toEqual(stays(order(smallShot)))
        expect(goes(after)).toEqual(goes(order(smallShot)))
        if (behind !== null) expect(after[after.indexOf(behind) - 1]).toBe(goes(order(smallShot)).at(-1))
      }),
    )
  })
})

describe('groups', () => {
  test('a group stands where the nearest stood, and is taken apart again as it was', () => {
    const { id, shot } = grouped()
    expect(order(shot)).toEqual(['plate', 'shadow', id, '>cg', '>front'])
    expect(order(edited(shot, ungroup(shot, id)))).toEqual(order(smallShot))
  })

  test('an element is moved into a group and out of it', () => {
    const { id, shot } = grouped()
    const out = edited(shot, moveTo(shot, ['cg'], { parent: null, behind: 'shadow' }))
    expect(order(out)).toEqual(['plate', 'cg', 'shadow', id, '>front'])
    expect(order(edited(out, moveTo(out, ['cg'], { parent: id, behind: null })))).toEqual([
      ...['plate', 'shadow', id, '>front', '>cg'],
    ])
    expect(() => edited(shot, moveTo(shot, [id], { parent: id, behind: null }))).toThrow(
      'cannot be in a group that is in',
    )
  })

  test('what is in a group that is removed goes with it, as one step', () => {
    const { id, shot } = grouped()
    const made = applyEdit(shot, removeAll(shot, [id, 'cg']) as Change)
    expect(order(made.shot)).toEqual(['plate', 'shadow'])
    expect(made.label).toBe('Remove Bell')
    expect(takeBack(made.shot, made).shot).toEqual(shot)
  })
})

describe('copies', () => {
  test('a duplicate stands right in front, with settings of its own', () => {
    const made = duplicateElements(smallShot, ['cg'])
    if (!made) throw new Error('There is no copy.')
    const shot = edited(smallShot, made.edit)
    const [copy] = made.ids
    expect(order(shot)).toEqual(['plate', 'shadow', 'cg', copy, 'front'])
    const [own, its] = ['cg', copy].map((id) => usesOf(shot, { kind: 'element', id }).map(({ treatment }) => treatment))
    expect(its).toHaveLength(own.length)
    const settings = (ids: readonly string[]) => ids.map((id) => ({ ...find(shot.treatments, id), id: '' }))
    expect(settings(its)).toEqual(settings(own))
    expect(its.some((id) => own.includes(id))).toBe(false)
    expect(parseShot(JSON.parse(JSON.stringify(shot)), 'copy')).toEqual(shot)
  })

  test('a treatment that others use too stays shared by the duplicate', () => {
    const shared = applyEdit(smallShot, {
      kind: 'share-treatment',
      use: {
        id: 'also',
        rank: 'a0',
        owner: { kind: 'element', id: 'front' },
        treatment: 'match',
        on: true,
        limit: null,
      },
    }).shot
    const made = duplicateElements(shared, ['cg'])
    const after = edited(shared, made?.edit ?? null)
    expect(allOf(after.uses).filter(({ treatment }) => treatment === 'match')).toHaveLength(3)
  })

  test('a group is copied with what is in it, and its copies refer to each other', () => {
    const { id, shot } = grouped()
    const made = duplicateElements(shot, [id, 'cg'])
    const after = edited(shot, made?.edit ?? null)
    const [copy] = made?.ids ?? []
    expect(made?.ids).toHaveLength(1)
    const inside = allOf(after.elements).filter(({ parent }) => parent === copy)
    expect(inside.map(({ name }) => name).sort()).toEqual(['CG', 'Front'].sort())
  })

  test('through text into another shot: sources of the same path are the same, others come along and are named', () => {
    const text = JSON.stringify(copyElements(smallShot, ['cg', 'shadow']))
    const other: Shot = { ...smallShot, sources: { byId: { ...smallShot.sources.byId } } }
    delete (other.sources.byId as Record<string, unknown>).cg
    const pasted = pasteElements(other, readCopied(text), 'front')
    expect(pasted.added).toHaveLength(1)
    const shot = edited(other, pasted.edit)
    expect(order(shot).slice(-2)).toEqual(pasted.ids)
    expect(Object.keys(shot.sources.byId)).toHaveLength(Object.keys(smallShot.sources.byId).length)
    const read = (of: Shot, id: string) => {
      const input = rootInput(find(of.elements, id) as Element)
      return input?.kind === 'pass' ? find(of.sources, input.source)?.path : undefined
    }
    expect(pasted.ids.map((id) => read(shot, id))).toEqual([read(smallShot, 'shadow'), read(smallShot, 'cg')])
    const here = pasteElements(smallShot, readCopied(text), null)
    expect(here.added).toEqual([])
  })

  test.each([
    ['some words', 'it is some other text'],
    ['{"kind":"else"}', 'not from this version'],
    ['{"schema":2,"kind":"enkrasis-elements","sources":[],"elements":[],"treatments":[],"uses":[]}', 'elements'],
    ['null', 'not from this version'],
  ])('%s is nothing to paste', (text, reason) => {
    expect(() => readCopied(text)).toThrow(reason)
  })
})

test('another blend keeps the settings that it has too, at their values, and no others', () => {
  const at = { owner: { kind: 'blend', element: 'shadow' }, parameter: 'veil', channel: 1 } as const
  const veiled = edited(smallShot, { kind: 'set-parameter', at, frame: 1001, value: 0.03 })
  const shot = edited(veiled, { kind: 'set-blend', element: 'shadow', blend: 'occlusion' })
  expect(find(shot.elements, 'shadow')?.blend).toEqual({
    kind: 'occlusion',
    parameters: { strength: [1], veil: [0, 0.03, 0] },
  })
  expect(() => edited(shot, { kind: 'set-blend', element: 'plate', blend: 'screen' })).toThrow(
    'The plate is not blended',
  )
})
