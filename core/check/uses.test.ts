import { passInputs, type Element, type Shot, type Table } from '../shot'
import { smallShot } from '../test/small-shot'
import { waysOfReading } from './uses'

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
      ['shadow', 'scalar'],
      ['beauty', 'rgba'],
    ])
})
