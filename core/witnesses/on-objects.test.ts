import { planInPlate } from '../plan/plan'
import { find, newTreatment, tableOf, type ReferenceObject, type Shot } from '../shot'
import { localEngine } from '../test/local-engine'
import { allThere, smallShot, treated, withElement } from '../test/small-shot'
import { ShotBeingMatched } from './matching'
import { seenOn } from './on-objects'

/** The disc of the tests' shot as its own reference object, with a matte before its left part. */

const ball: ReferenceObject = {
  ...{ id: 'ball', name: 'Ball', rank: 'a0' },
  ...{ photographed: 'plate', rendered: 'cg', insteadOf: 'cg' },
}
const withBall: Shot = { ...smallShot, referenceObjects: tableOf([ball]) }
const plan = (shot: Shot, frame: number, scale: 1 | 2 | 4) => planInPlate(shot, frame, scale, allThere())

async function coverageOf(shot: Shot) {
  const element = find(shot.elements, 'cg')
  if (!element) throw new Error('There is no disc.')
  const seen = await seenOn(new ShotBeingMatched(shot, localEngine(1), plan), element, ball, 1001)
  if (!seen) throw new Error('Nothing was seen of it.')
  return (x: number, y: number) => seen.sharp[4 * ((y - seen.window.y) * seen.window.width + x - seen.window.x) + 3]
}

test('what something in front hides of it counts as not covered', async () => {
  const [hidden, open] = [
    await coverageOf(withBall),
    await coverageOf(withElement(withBall, 'front', { visible: false })),
  ]
  // The matte is full up to 40 across, and begins 60 down.
  expect([hidden(30, 75), open(30, 75)]).toEqual([0, 1])
  expect([hidden(66, 75), open(66, 75)]).toEqual([1, 1])
  expect([hidden(35, 52), open(35, 52)]).toEqual([1, 1])
})

test('what is done to the picture as a whole hides nothing', async () => {
  const graded = treated(withBall, { kind: 'finish' }, newTreatment('exposure', 'e', { stops: [1, 1, 1] }))
  const [plain, seen] = [await coverageOf(withBall), await coverageOf(graded)]
  for (const [x, y] of [
    [30, 75],
    [66, 75],
    [35, 52],
  ])
    expect(seen(x, y)).toBe(plain(x, y))
})
