/** Several elements seen alone together, and the plate over a picture like a ghost. */

import { ghosted } from '../look/looking'
import { groupInputs, newBlend, newElement, type Shot } from '../shot'
import { localEngine } from '../test/local-engine'
import { edited, light, only, plan, window } from '../test/planned'
import { allThere, smallShot, withElement } from '../test/small-shot'
import { PlanMemo } from './memo'
import { nodeAt } from './node'
import { mostOff } from '../test/windows'

const planning = (shot: Shot) => ({ shot, scale: 1 as const, files: allThere('a'), memo: new PlanMemo() })
const together = (shot: Shot, ...ids: string[]) => nodeAt(planning(shot), { kind: 'elements', ids }, 1001)
const seen = async (shot: Shot, ...ids: string[]) => {
  const step = together(shot, ...ids)
  if (!step) throw new Error('They show nothing.')
  return localEngine(1).light(step, window)
}

test('over the plate where it is one of them: as if nothing else were in the shot', async () => {
  expect(await seen(smallShot, 'plate', 'cg')).toEqual(await light(only('plate', 'cg')))
  expect(await seen(smallShot, 'plate')).toEqual(await light(only('plate')))
})

test('without the plate over nothing: one is what it shows by itself', async () => {
  const alone = plan(smallShot).elements.get('cg')
  if (!alone) throw new Error('The element shows nothing.')
  expect(await seen(smallShot, 'cg')).toEqual(await localEngine(1).light(alone, window))
})

test('what is in a chosen group comes with it; what is hidden or not there shows nothing', async () => {
  const grouped = edited(
    smallShot,
    {
      kind: 'add-element',
      element: newElement('group', 'Group', 'a5', newBlend('over'), groupInputs()),
      treatments: [],
      uses: [],
    },
    { kind: 'move-element', element: 'cg', parent: 'group', rank: 'a0' },
  )
  expect(await seen(grouped, 'plate', 'group')).toEqual(await light(only('plate', 'cg')))
  expect(await seen(grouped, 'plate', 'cg')).toEqual(await light(only('plate', 'cg')))
  expect(together(withElement(smallShot, 'cg', { visible: false }), 'cg')).toBeNull()
  expect(together(smallShot, 'gone')).toBeNull()
})

test('a quarter of the plate over the picture is three quarters of the picture', async () => {
  const { composite, plate } = plan(smallShot)
  const [picture, bare, ghost] = await Promise.all(
    [composite, plate, ghosted(composite, plate, 0.25)].map((step) => localEngine(1).light(step, window)),
  )
  expect(mostOff(ghost, (i) => 0.75 * picture[i] + 0.25 * bare[i])).toBeLessThan(5e-6)
})
