import { framesOf } from '../graph/steps'
import { smallShot, withElement } from '../test/small-shot'
import { newBlend, newElement, parametersFor, passInputs, tableOf, type Input, type Shot } from '../shot'
import { inputDescriptions } from '../set/owners'
import { plan } from '../test/planned'

describe('time', () => {
  const timed = (timing: object) => withElement(smallShot, 'cg', { inputs: passInputs('cg', 'beauty', { timing }) })
  const path = (shot: Shot, frame: number) => {
    const step = plan(shot, frame).elements.get('cg')
    return step && framesOf([step]).map(({ request }) => request.path)
  }

  test('an input may be held at, or offset to, another frame', () => {
    expect(path(timed({ held: 1004 }), 1001)).toEqual(['cg.1004.exr'])
    expect(path(timed({ offset: 3 }), 1001)).toEqual(['cg.1004.exr'])
    expect(path(timed({ offset: 3 }), 1008)).toBeUndefined()
    expect(path(timed({ offset: 3, beyond: 'hold' }), 1008)).toEqual(['cg.1008.exr'])
  })

  test('another element as an input shows what it shows, at another time if so', async () => {
    const parameters = parametersFor(inputDescriptions.element)
    const inputs = tableOf<Input>([
      { id: 'x', kind: 'element', parent: null, rank: 'a0', parameters, element: 'cg', timing: { offset: 2 } },
    ])
    const shot = {
      ...smallShot,
      elements: {
        byId: { ...smallShot.elements.byId, copy: newElement('copy', 'Copy', 'a9', newBlend('over'), inputs) },
      },
    }
    expect(plan(shot, 1001).elements.get('copy')?.key).toBe(plan(shot, 1003).elements.get('cg')?.key)
  })
})
