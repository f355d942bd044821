import { groupInputs, newBlend, newElement, newLimit, newTreatment, type Shot } from '../shot'
import { cgElement, edited } from '../test/planned'
import { smallShot, treated } from '../test/small-shot'
import { passingElements } from './passing-elements'

const held = (shot: Shot) =>
  treated(shot, cgElement, newTreatment('holdout', 'cut'), { limit: newLimit({ kind: 'matte', matte: 'post' }) })

test('what the matte holds out is seen as it is where nothing is cut', () => {
  const { shot, elements } = passingElements(held(smallShot), 'post')
  expect(elements).toEqual(['cg'])
  expect(shot.uses.byId.cut).toBeUndefined()
  expect(shot.uses.byId.match).toBeDefined()
})

test('a group that is cut stands for what is in it; what is not seen passes nowhere', () => {
  const group = newElement('group', 'Group', 'a8', newBlend('over'), groupInputs())
  const grouped: Shot = {
    ...smallShot,
    elements: {
      byId: { ...smallShot.elements.byId, group, cg: { ...smallShot.elements.byId.cg, parent: 'group' } },
    },
  }
  const cut = treated(grouped, { kind: 'element', id: 'group' }, newTreatment('holdout', 'cut'), {
    limit: newLimit({ kind: 'matte', matte: 'post' }),
  })
  expect(passingElements(cut, 'post').elements).toEqual(['cg'])
  const hidden = edited(cut, { kind: 'show-element', element: 'cg', visible: false })
  expect(passingElements(hidden, 'post').elements).toEqual([])
})

test('of a matte that cuts nothing, all that is in front of the plate is looked at', () => {
  expect(passingElements(held(smallShot), 'bright').elements).toEqual(['shadow', 'cg', 'front'])
  expect(passingElements(held(smallShot), 'bright').shot.uses.byId.cut).toBeDefined()
})
