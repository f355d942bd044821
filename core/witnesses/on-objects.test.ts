import { planInPlate } from '../plan/plan'
import { find, newTreatment, tableOf, type ReferenceObject, type Shot } from '../shot'
import { localEngine } from '../test/local-engine'
import { allThere, smallShot, treated, withElement } from '../test/small-shot'
import { lacksReference, ShotBeingMatched } from './matching'
import { askedAhead, renderedAgain, seenOn, seenOnAll } from './on-objects'

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

test('rendered again, it is as it is treated by now; what was hidden is hidden, and the photograph is the same', async () => {
  const element = find(withBall.elements, 'cg')
  if (!element) throw new Error('There is no disc.')
  const before = new ShotBeingMatched(withBall, localEngine(1), plan)
  const [first] = await seenOnAll(before, element, [ball])
  const exposure = newTreatment('exposure', 'e', { stops: [1, 1, 1] })
  const lighter = treated(withBall, { kind: 'element', id: 'cg' }, exposure)
  const again = await renderedAgain(new ShotBeingMatched(lighter, localEngine(1), plan), element, first)
  if (!again) throw new Error('Nothing was rendered again.')
  const at = (x: number, y: number) => 4 * ((y - first.window.y) * first.window.width + x - first.window.x)
  const [hidden, open] = [at(30, 75), at(66, 75)]
  expect([first.sharp[hidden + 3], again.sharp[hidden + 3], again.sharp[open + 3]]).toEqual([0, 0, 1])
  expect(again.sharp[open] / first.sharp[open]).toBeCloseTo(2, 4)
  expect(again.seen).toBe(first.seen)
  expect([again.object, again.frame, again.window]).toEqual(['ball', 1001, first.window])
})

test('frames of several objects come by turns', async () => {
  const other = { ...ball, id: 'other', rank: 'a1' }
  const element = find(withBall.elements, 'cg')
  if (!element) throw new Error('There is no disc.')
  const matched = new ShotBeingMatched({ ...withBall, referenceObjects: tableOf([ball, other]) }, localEngine(1), plan)
  const seen = await seenOnAll(matched, element, [ball, other])
  expect(seen.slice(0, 4).map(({ object, frame }) => `${object} ${frame}`)).toEqual([
    ...['ball 1001', 'other 1001', 'ball 1002', 'other 1002'],
  ])
})

test('what is to be matched lacks a reference where none was shot in the place of its render', () => {
  expect([lacksReference(smallShot), lacksReference(withBall)]).toEqual([true, false])
  expect(lacksReference({ ...smallShot, referenceObjects: tableOf([{ ...ball, insteadOf: 'plate' }]) })).toBe(true)
})

test('the next one is asked for before one is given, and none beyond it', async () => {
  const told: string[] = []
  const ask = (item: number) => {
    told.push(`asked ${item}`)
    return Promise.resolve(item)
  }
  for await (const one of askedAhead([1, 2, 3], ask)) told.push(`given ${one}`)
  expect(told).toEqual(['asked 1', 'asked 2', 'given 1', 'asked 3', 'given 2', 'given 3'])
  const given: number[] = []
  for await (const one of askedAhead<number, number>([], ask)) given.push(one)
  expect(given).toEqual([])
})

test('where one fails its error is thrown, after those before it were given', async () => {
  const given: number[] = []
  const all = async () => {
    const ask = (item: number) => (item > 1 ? Promise.reject(new Error(`${item} is missing.`)) : Promise.resolve(item))
    for await (const one of askedAhead([1, 2, 3], ask)) given.push(one)
  }
  await expect(all()).rejects.toThrow('2 is missing.')
  expect(given).toEqual([1])
})
