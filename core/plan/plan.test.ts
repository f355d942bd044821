import { planFrame } from './plan'
import fc from 'fast-check'
import { framesOf } from '../graph/steps'
import { anyChange } from '../test/any-edit'
import { allThere, pictureOf, smallShot, treated, withElement, withSource } from '../test/small-shot'
import { applyEdit, newTreatment, parametersFor, tableOf, type Input } from '../shot'
import { inputDescriptions } from '../set/owners'
import { PlanMemo } from './memo'
import { cgElement, edited, plan, setVeil, veil } from '../test/planned'

import { nodeAt } from './node'

test('the same shot, frame and files give the same keys; anything that changes pixels changes them', () => {
  const key = plan().composite.key
  expect(plan().composite.key).toBe(key)
  expect(plan(smallShot, 1002).composite.key).not.toBe(key)
  expect(plan(smallShot, 1001, 'b').composite.key).not.toBe(key)
  expect(pictureOf(smallShot, 1001, 2).composite.key).not.toBe(key)
  expect(plan(edited(smallShot, setVeil(0.1))).composite.key).not.toBe(key)
})

test('an edit of one element leaves the keys of what lies behind it', () => {
  const changed = edited(smallShot, setVeil(0.1))
  expect(plan(changed).elements.get('shadow')?.key).toBe(plan().elements.get('shadow')?.key)
  expect(plan(changed).plate.key).toBe(plan().plate.key)
})

test('a keyframe on another frame changes only the frames that it moves', () => {
  const keyed = edited(
    smallShot,
    { kind: 'add-keyframe', at: veil, frame: 1001 },
    { kind: 'add-keyframe', at: veil, frame: 1005 },
  )
  const moved = edited(keyed, setVeil(0.5, 1005))
  expect(plan(moved, 1001).composite.key).toBe(plan(keyed, 1001).composite.key)
  expect(plan(moved, 1003).composite.key).not.toBe(plan(keyed, 1003).composite.key)
})

test('a still has the same key on every frame, and a file used twice is read once', () => {
  const matte = (frame: number) =>
    framesOf([plan(smallShot, frame).composite]).find((step) => step.request.source === 'matte')
  expect(matte(1001)?.key).toBe(matte(1004)?.key)
  expect(framesOf([plan().composite]).map((step) => step.request.path)).toEqual([
    'plate.1001.exr',
    'matte.exr',
    'cg.1001.exr',
  ])
})

test('a treatment that is off is not in the graph', () => {
  const off = edited(smallShot, { kind: 'turn-treatment', use: 'match', on: false })
  expect(plan(off).elements.get('cg')?.op).toBe('frame')
})

test('renaming a shot changes no grain; two owners of the same grain do not share it', () => {
  const grainy = newTreatment('grain', 'grain', { read: [10, 10, 10] })
  const shot = treated(treated(smallShot, cgElement, grainy), { kind: 'finish' }, grainy, { id: 'all' })
  expect(plan({ ...shot, name: 'another' }).composite.key).toBe(plan(shot).composite.key)
  expect(plan({ ...shot, seed: 'another' }).composite.key).not.toBe(plan(shot).composite.key)
  const draws = new Set<string>()
  const visit = (step: ReturnType<typeof plan>['composite']): void => {
    if (step.op === 'point') draws.add(step.draw.seed)
    step.inputs.forEach(visit)
  }
  visit(plan(shot).composite)
  expect(draws.size).toBe(2)
})

describe('problems', () => {
  test('a frame without a plate says which frames there are, and where to correct it; nothing is thrown', () => {
    const short = withSource(smallShot, 'plate', { frames: { first: 1001, last: 1005 } })
    const { composite, problems } = planFrame(short, 1006, 1, allThere())
    expect(composite).toBeNull()
    expect(problems).toEqual([
      {
        at: { kind: 'source', id: 'plate' },
        sentence: 'small has no plate at frame 1006. Plate covers frames 1001 to 1005.',
        remedy: 'Choose a frame inside it, or correct its range or offset.',
        missing: 'nothing',
      },
    ])
  })

  test('a treatment without its source, and an element without its own, leave the rest of the picture', () => {
    const lens = { ...newTreatment('lens-map', 'lens'), sources: { map: 'nowhere' } }
    const shot = edited(treated(smallShot, cgElement, lens), { kind: 'remove-source', source: 'matte' })
    const { composite, problems } = planFrame(shot, 1001, 1, allThere())
    expect(composite).not.toBeNull()
    expect(problems.map(({ at, missing }) => [at, missing])).toEqual([
      [{ kind: 'element', id: 'shadow' }, 'part'],
      [{ kind: 'treatment', id: 'lens' }, 'part'],
      [{ kind: 'element', id: 'front' }, 'part'],
    ])
  })

  test('a frame of a million pixels a side is a problem, not a picture', () => {
    const huge = { ...smallShot, frameSize: { width: 1e6, height: 1e6 } }
    expect(planFrame(huge, 1001, 1, allThere())).toMatchObject({ composite: null, problems: [{ missing: 'nothing' }] })
  })

  test('elements that show each other are told, and end', () => {
    const shows = (element: string) => ({
      inputs: tableOf<Input>([
        {
          id: 'x',
          kind: 'element',
          parent: null,
          rank: 'a0',
          parameters: parametersFor(inputDescriptions.element),
          element,
        },
      ]),
    })
    const round = withElement(withElement(smallShot, 'cg', shows('front')), 'front', shows('cg'))
    const { problems } = planFrame(round, 1001, 1, allThere())
    expect(problems.some(({ sentence }) => /shows itself/.test(sentence))).toBe(true)
  })

  test('whatever is edited, planning never throws', () => {
    let count = 0
    fc.assert(
      fc.property(
        fc.array(
          anyChange(() => `fresh-${count++}`),
          { maxLength: 12 },
        ),
        (edits) => {
          let shot = smallShot
          for (const edit of edits)
            try {
              shot = applyEdit(shot, edit).shot
            } catch {
              // Impossible on what the shot has become.
            }
          for (const frame of [900, 1001, 1009]) expect(planFrame(shot, frame, 2, allThere()).frame).toBe(frame)
        },
      ),
    )
  })
})

test('anything on the way can be looked at by itself: a source’s channel, an element up to a treatment, a matte', () => {
  const planning = { shot: smallShot, scale: 1 as const, files: allThere(), memo: new PlanMemo() }
  const depth = nodeAt(planning, { kind: 'source', id: 'cg', part: 'beauty', channels: ['Z'] }, 1001)
  expect(depth?.op === 'frame' && depth.request).toMatchObject({ channels: ['Z'], takes: 'scalar' })
  const bright = { ...planning, shot: edited(smallShot, setVeil(0.1)) }
  const input = nodeAt(bright, { kind: 'element', id: 'cg', upTo: { input: true } }, 1001)
  const after = nodeAt(bright, { kind: 'element', id: 'cg', upTo: { use: 'match' } }, 1001)
  expect([input?.op, after?.op]).toEqual(['frame', 'colour'])
  expect(nodeAt(planning, { kind: 'limit', use: 'match' }, 1001)).toBeNull()
})
