import { passInputs, type Element, type Shot, type Table } from '../shot'
import { newTreatment } from '../shot'
import { edited } from '../test/planned'
import { smallShot, treated, withElement } from '../test/small-shot'
import { bendsOver, waysOfReading } from './uses'

const reversed = <T>({ byId }: Table<T>): Table<T> => ({ byId: Object.fromEntries(Object.entries(byId).reverse()) })

test('ways of reading come in the order of the light, however the document’s keys are ordered', () => {
  const { shadow } = smallShot.elements.byId
  // A shadow pass of the CG's files, laid before the CG itself.
  const far: Element = { ...shadow, id: 'far', rank: 'a1V', inputs: passInputs('cg', 'shadow') }
  const shot: Shot = { ...smallShot, elements: { byId: { ...smallShot.elements.byId, far } } }
  const turned: Shot = { ...shot, sources: reversed(shot.sources), elements: reversed(shot.elements) }
  for (const one of [shot, turned])
    expect(
      waysOfReading(one)
        .get('cg')
        ?.map(({ part, takes }) => [part, takes]),
    ).toEqual([
      ['shadow', 'rgb-matte'],
      ['beauty', 'rgba'],
    ])
})

test('a lens in the glass is over every render but those that are kept out of it or have their own', () => {
  const bend = (id: string, map: string) => ({ ...newTreatment('lens-map', id), sources: { map } })
  const glass = treated(smallShot, { kind: 'glass' }, bend('bend', 'matte'))
  const over = (shot: Shot, source: string) => [...bendsOver(shot, source)].map(({ id }) => id)
  expect(over(glass, 'cg')).toEqual(['bend'])
  expect(over(glass, 'plate')).toEqual([])
  expect(over(edited(glass, { kind: 'set-own-glass', element: 'cg', own: true }), 'cg')).toEqual([])
  const own = treated(glass, { kind: 'element', id: 'cg' }, bend('own', 'plate'))
  expect(over(own, 'cg')).toEqual(['own'])
  // A lens by its numbers does the same as one by its map: nothing is bent by both.
  expect(over(treated(own, { kind: 'glass' }, newTreatment('lens', 'numbers')), 'cg')).toEqual(['own'])
})

test('what a reveal shows is read as a picture', () => {
  const { blend } = smallShot.elements.byId.front
  const shows = { source: 'cg', part: 'clean' }
  const shot = withElement(smallShot, 'front', { blend: { ...blend, shows } })
  expect(waysOfReading(shot).get('cg')).toContainEqual({ part: 'clean', takes: 'rgba' })
})
