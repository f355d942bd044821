import { type FrameRequest } from '../graph/steps'
import { localEngine } from '../test/local-engine'
import { loadMadeUp, smallShot, treated, withElement } from '../test/small-shot'
import { groupInputs, newBlend, newElement, newTreatment } from '../shot'
import { edited, light, only, plan, window } from '../test/planned'

describe('opacity, groups', () => {
  const group = (opacity: number) => {
    const inside = edited(
      smallShot,
      {
        kind: 'add-element',
        element: newElement('group', 'Group', 'a5', newBlend('over'), groupInputs()),
        treatments: [],
        uses: [],
      },
      { kind: 'move-element', element: 'cg', parent: 'group', rank: 'a0' },
      { kind: 'move-element', element: 'front', parent: 'group', rank: 'a1' },
    )
    return withElement(inside, 'group', { parameters: { opacity: [opacity] } })
  }

  test('half an element is half its light and half its cover', async () => {
    const half = withElement(only('plate', 'cg'), 'cg', { parameters: { opacity: [0.5] } })
    const [all, none, some] = await Promise.all([light(only('plate', 'cg')), light(only('plate')), light(half)])
    some.forEach((v, i) => expect(v).toBeCloseTo((all[i] + none[i]) / 2, 5))
  })

  test('a group that passes through changes nothing', async () => {
    expect(await light(group(1))).toEqual(await light(smallShot))
  })

  test('an isolated group is one picture: at opacity 0 it is not there, at 0.5 half', async () => {
    const behind = await light(only('plate', 'shadow'))
    expect(await light(group(0))).toEqual(behind)
    const at = async (opacity: number) => (await light(group(opacity)))[(75 * 300 + 60) * 4]
    expect(await at(0.5)).toBeCloseTo((behind[(75 * 300 + 60) * 4] + (await at(0.999999))) / 2, 4)
  })
})

test('reveal shows the plate as it is treated', async () => {
  const bright = newTreatment('veil-and-gain', 'bright', { gain: [2, 2, 2] })
  const shot = treated(smallShot, { kind: 'element', id: 'plate' }, bright)
  const out = await localEngine(1).light(plan(shot).composite, { x: 25, y: 75, width: 1, height: 1 })
  const plain = await localEngine(1).light(plan().plate, { x: 25, y: 75, width: 1, height: 1 })
  for (let c = 0; c < 3; c++) expect(out[c]).toBeCloseTo(2 * plain[c], 6)
})

test('a blurred occlusion pass is open beyond its pixels, so that its edges do not darken the plate', async () => {
  const soft = newTreatment('soften', 'soft', { across: [4], down: [4] })
  const occluded = withElement(only('plate', 'shadow'), 'shadow', { blend: newBlend('occlusion') })
  const shot = treated(occluded, { kind: 'element', id: 'shadow' }, soft)
  // The matte is wholly open: blurring it must change nothing, at its edges neither.
  const open = async (request: FrameRequest) => {
    const frame = await loadMadeUp(request)
    if (request.source !== 'matte') return frame
    return {
      ...frame,
      planes: frame.planes.map((p) => ({ ...p, samples: new Uint16Array(p.samples.length).fill(0x3c00) })),
    }
  }
  const { composite, plate: bare } = plan(shot)
  const engine = localEngine(1, open)
  expect(await engine.light(composite, window)).toEqual(await engine.light(bare, window))
})
