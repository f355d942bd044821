import { smallShot } from '../test/small-shot'
import { applyEdit, newPlacing, type Shot } from '../shot'
import type { Judged } from './finding'
import { uncovered } from './findings-in-places'

const of = (shot: Shot, source: string) => uncovered({ shot, source: shot.sources.byId[source] } as Judged, [])
const { width, height } = smallShot.frameSize
const placed = (x: Parameters<typeof newPlacing>[1]): Shot =>
  applyEdit(smallShot, {
    kind: 'place-element',
    element: 'cg',
    placing: newPlacing({ x: 0, y: 0, width, height }, x),
  }).shot

test('an element that leaves the frame’s edge is found with frames, sides and a cure that ends it', () => {
  const shot = placed({ x: [{ keyframes: { 1004: { value: 0, to: 'straight' }, 1008: 8 } }] })
  const [finding] = of(shot, 'cg')
  expect(finding).toMatchObject({
    severity: 'wrong',
    where: 'frames 1005 to 1010',
    what: expect.stringMatching(/the left of/),
  })
  expect(finding.why).toMatch(/8\.0 px of overscan/)
  if (!finding.fix) throw new Error('no cure')
  expect(of(applyEdit(shot, finding.fix.edit).shot, 'cg')).toEqual([])
})

test('of what covers, is not placed, or is made of another source nothing is said', () => {
  expect(of(smallShot, 'cg')).toEqual([])
  expect(of(placed({ scale: [1.2] }), 'cg')).toEqual([])
  expect(of(placed({ x: [20] }), 'plate')).toEqual([])
})
