import fc from 'fast-check'
import { anyChange } from '../test/any-edit'
import { smallShot } from '../test/small-shot'
import { applyEdit, differences, takeBack, type Change, type Shot } from '.'

/** As a database gives it back: equal, and nothing of it the same object. */
const stored = (shot: Shot) => JSON.parse(JSON.stringify(shot)) as Shot
const back: Change = { kind: 'return-to', document: stored(smallShot), called: 'revision 1' }

test('whatever was done, the way back leads to the very document, and is one step that can be taken back', () => {
  let count = 0
  fc.assert(
    fc.property(
      fc.array(
        anyChange(() => `fresh-${count++}`),
        { maxLength: 12 },
      ),
      (edits) => {
        const now = edits.reduce((shot, edit) => {
          try {
            return applyEdit(shot, edit).shot
          } catch {
            return shot
          }
        }, smallShot)
        const made = applyEdit(now, back)
        expect(stored(made.shot)).toEqual(stored(smallShot))
        expect(differences(smallShot, made.shot)).toEqual([])
        if (made.patches.length > 0) expect(takeBack(made.shot, made).shot).toEqual(now)
      },
    ),
    { numRuns: 200 },
  )
})

test('what is the same already is not touched, so that another tab’s edits of it do not meet this one', () => {
  const hidden = applyEdit(smallShot, { kind: 'show-element', element: 'cg', visible: false }).shot
  const { patches, label } = applyEdit(hidden, back)
  expect(label).toBe('Return to revision 1')
  expect(patches.map(({ path }) => path.slice(0, 3).join('.'))).toEqual(['elements.byId.cg'])
  expect(applyEdit(smallShot, back).patches).toEqual([])
})

test('the shot keeps its name', () => {
  const named = applyEdit(smallShot, { kind: 'set-shot', changes: { name: 'other' } }).shot
  expect(applyEdit(named, back).shot.name).toBe('other')
})
