import { planFrame } from './plan'
import fc from 'fast-check'
import { anyChange } from '../test/any-edit'
import { allThere, smallShot } from '../test/small-shot'
import { applyEdit } from '../shot'
import { PlanMemo } from './memo'
import { edited, setVeil } from '../test/planned'

describe('remembering', () => {
  test('what was planned with a memory is what is planned without one, whatever is edited between', () => {
    let count = 0
    fc.assert(
      fc.property(
        fc.array(
          anyChange(() => `fresh-${count++}`),
          { maxLength: 12 },
        ),
        (edits) => {
          const memo = new PlanMemo()
          let shot = smallShot
          for (const edit of edits) {
            try {
              shot = applyEdit(shot, edit).shot
            } catch {
              continue
            }
            const [known, fresh] = [memo, new PlanMemo()].map((one) => planFrame(shot, 1003, 1, allThere(), one))
            expect(known.composite?.key).toBe(fresh.composite?.key)
            expect(known.problems).toEqual(fresh.problems)
          }
        },
      ),
    )
  })

  test('an element that did not change is the very step it was', () => {
    const memo = new PlanMemo()
    const [before, after] = [smallShot, edited(smallShot, setVeil(0.1))].map((shot) =>
      planFrame(shot, 1001, 1, allThere(), memo),
    )
    expect(after.elements.get('front')).toBe(before.elements.get('front'))
    expect(after.elements.get('cg')).not.toBe(before.elements.get('cg'))
  })
})
