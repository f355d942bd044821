import { smallShot, treated, withSource } from '../test/small-shot'
import { applyEdit, newLimit, newTreatment, takeBack, usesOf, type Shot, type UseOwner } from '.'
import { copyTreatments, makeOwn, pasteTreatments, readCopiedTreatments } from './copying-treatments'

const on = (id: string): UseOwner => ({ kind: 'element', id })
const soft = newTreatment('soften', 'soft', { across: [2], down: [3] })
const bend = { ...newTreatment('lens-map', 'bend'), sources: { map: 'matte' } }
const shot = treated(
  treated(smallShot, on('cg'), soft, { limit: newLimit({ kind: 'element', element: 'front' }) }),
  on('cg'),
  bend,
)
const kinds = (of: Shot, owner: UseOwner) =>
  usesOf(of, owner).map(({ treatment }) => of.treatments.byId[treatment].kind)
const roundTrip = (from: Shot, ids: readonly string[]) => {
  const copied = readCopiedTreatments(JSON.stringify(copyTreatments(from, ids)))
  if (!copied) throw new Error('Nothing was copied.')
  return copied
}

test('are pasted onto several elements, after what these have, as one step', () => {
  const { edit, added } = pasteTreatments(shot, roundTrip(shot, ['soft', 'bend']), [on('shadow'), on('cg')])
  const done = applyEdit(shot, edit)
  expect(kinds(done.shot, on('shadow'))).toEqual(['soften', 'lens-map'])
  expect(kinds(done.shot, on('cg'))).toEqual(['veil-and-gain', 'soften', 'lens-map', 'soften', 'lens-map'])
  expect(added).toEqual([])
  expect(done.label).toBe('Paste soften, lens map')
  const [pasted] = usesOf(done.shot, on('shadow'))
  expect(pasted.limit?.matte).toEqual({ kind: 'element', element: 'front' })
  // Settings of their own: nothing is shared with what was copied.
  expect(pasted.treatment).not.toBe('soft')
  expect(done.shot.treatments.byId[pasted.treatment].parameters).toEqual(soft.parameters)
  expect(takeBack(done.shot, done).shot).toEqual(shot)
})

test('in another shot sources of the same path are the same; others come along and are named', () => {
  const copied = roundTrip(shot, ['bend'])
  const same = withSource(smallShot, 'matte', { name: 'Other name' })
  const known = applyEdit(same, pasteTreatments(same, copied, [on('front')]).edit).shot
  expect(Object.keys(known.sources.byId)).toHaveLength(3)
  const other = withSource(smallShot, 'matte', { path: 'elsewhere.exr' })
  const { edit, added } = pasteTreatments(other, copied, [on('front')])
  expect(added).toEqual(['Matte (matte.exr)'])
  const [use] = usesOf(applyEdit(other, edit).shot, on('front'))
  const map = applyEdit(other, edit).shot.treatments.byId[use.treatment].sources?.map ?? ''
  expect(applyEdit(other, edit).shot.sources.byId[map].path).toBe('matte.exr')
})

test('a limit by an element that is not there is left away', () => {
  const { edit } = pasteTreatments(
    smallShot,
    {
      ...roundTrip(shot, ['soft']),
      uses: [{ ...shot.uses.byId.soft, limit: newLimit({ kind: 'element', element: 'gone' }) }],
    },
    [on('shadow')],
  )
  expect(usesOf(applyEdit(smallShot, edit).shot, on('shadow'))[0].limit).toBeNull()
})

test('other text is no treatment; damaged ones say what is wrong', () => {
  expect(readCopiedTreatments('Tomorrow at nine')).toBeNull()
  expect(readCopiedTreatments('{"kind":"enkrasis-elements"}')).toBeNull()
  expect(() => readCopiedTreatments('{"kind":"enkrasis-treatments","schema":1}')).toThrow(/not from this version/)
  expect(() =>
    readCopiedTreatments('{"kind":"enkrasis-treatments","schema":3,"sources":[],"treatments":[],"uses":[]}'),
  ).toThrow(/^What is on the clipboard cannot be pasted/)
})

test('shared settings are made one’s own, and the others keep theirs', () => {
  const use = { ...shot.uses.byId.soft, id: 'also', owner: on('front') }
  const shared = applyEdit(shot, { kind: 'share-treatment', use }).shot
  const edit = makeOwn(shared, 'also')
  if (!edit) throw new Error('It is not shared.')
  const done = applyEdit(shared, edit)
  const own = done.shot.uses.byId.also
  expect(own).toMatchObject({ rank: use.rank, owner: use.owner, limit: use.limit })
  expect(own.treatment).not.toBe('soft')
  expect(done.shot.treatments.byId[own.treatment].parameters).toEqual(soft.parameters)
  expect(done.shot.uses.byId.soft.treatment).toBe('soft')
  expect(takeBack(done.shot, done).shot).toEqual(shared)
  expect(makeOwn(shot, 'soft')).toBeNull()
})
