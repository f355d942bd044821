import fc from 'fast-check'
import { blends, type BlendKind } from '../set/blends'
import { nodeAt } from '../plan/node'
import { PlanMemo } from '../plan/memo'
import {
  groupInputs,
  newBlend,
  newElement,
  newLimit,
  newTreatment,
  passInputs,
  type Shot,
  type TreatmentSettings,
  type Use,
} from '../shot'
import { localEngine, localWorker } from '../test/local-engine'
import { allThere, boundsMadeUp, frameSize, loadMadeUp, pictureOf, smallShot, treated } from '../test/small-shot'
import { lightIn, sameBits, windowsIn } from '../test/windows'
import type { Step } from '../graph/steps'
import type { Window } from '../image/window'

/** Whatever a shot is made of, its pixels do not depend on how they were asked for. */

const amount = (from: number, to: number) => fc.double({ min: from, max: to, noNaN: true })
const settings: fc.Arbitrary<TreatmentSettings> = fc
  .oneof(
    fc.record({ kind: fc.constant('soften' as const), values: fc.tuple(amount(0, 6), amount(0, 6)) }),
    fc.record({ kind: fc.constant('glow' as const), values: fc.tuple(amount(0.01, 0.1), amount(1, 20)) }),
    fc.record({ kind: fc.constant('grain' as const), values: fc.tuple(amount(0.01, 0.1), amount(0.5, 2)) }),
    fc.record({ kind: fc.constant('saturation' as const), values: fc.tuple(amount(0, 1.5), amount(0, 1)) }),
    fc.record({ kind: fc.constant('veil-and-gain' as const), values: fc.tuple(amount(0, 0.1), amount(0.5, 2)) }),
  )
  .map(({ kind, values }) => {
    const made = newTreatment(kind, 'x')
    const [first, second] = Object.keys(made.parameters)
    const filled = (name: string, value: number) => made.parameters[name].map(() => value)
    return {
      ...made,
      parameters: {
        ...made.parameters,
        [first]: filled(first, values[0]),
        ...(second === undefined ? {} : { [second]: filled(second, values[1]) }),
      },
    }
  })
const owner: fc.Arbitrary<Use['owner']> = fc.oneof(
  fc.constantFrom('plate', 'shadow', 'cg', 'front', 'fore', 'group').map((id) => ({ kind: 'element', id }) as const),
  fc.constant({ kind: 'finish' } as const),
)
const limit = fc.oneof(
  { weight: 3, arbitrary: fc.constant(null) },
  { weight: 1, arbitrary: fc.constant({ ...newLimit({ kind: 'element', element: 'front' }) }) },
)
const blendKind = fc.constantFrom(...(Object.keys(blends) as BlendKind[]))

const anyShot: fc.Arbitrary<Shot> = fc
  .record({
    treatments: fc.array(fc.record({ settings, owner, limit }), { minLength: 1, maxLength: 5 }),
    blends: fc.tuple(blendKind, blendKind, blendKind),
    grouped: fc.boolean(),
  })
  .map(({ treatments, blends: [cg, front, fore], grouped }) => {
    const { elements } = smallShot
    const inGroup = grouped ? 'group' : null
    const shot: Shot = {
      ...smallShot,
      elements: {
        byId: {
          ...elements.byId,
          cg: { ...elements.byId.cg, blend: newBlend(cg), parent: inGroup },
          front: { ...elements.byId.front, blend: newBlend(front), parent: inGroup },
          fore: newElement('fore', 'Fore', 'z0', newBlend(fore), passInputs('cg', 'beauty')),
          group: newElement('group', 'Group', 'a3V', newBlend('over'), groupInputs()),
        },
      },
    }
    return treatments.reduce(
      (before, one, i) => treated(before, one.owner, { ...one.settings, id: `t-${i}` }, { limit: one.limit }),
      shot,
    )
  })

/** Farther than the frame: softening and glow reach beyond it. */
const around: Window = { x: -40, y: -30, width: frameSize.width + 80, height: frameSize.height + 60 }
const anyWindow = windowsIn(around, 130, 130)

function stepsOf(shot: Shot): Step[] {
  const { composite } = pictureOf(shot, 1003)
  const planning = { shot, scale: 1 as const, files: allThere(), memo: new PlanMemo() }
  const element = (id: string, upTo: { input: true } | { use: string }) =>
    nodeAt(planning, { kind: 'element', id, upTo }, 1003)
  const last = Object.values(shot.uses.byId).findLast(({ owner: of }) => of.kind === 'element' && of.id === 'cg')
  return [composite, element('cg', { input: true }), last ? element('cg', { use: last.id }) : null].filter(
    (step) => step !== null,
  )
}

const anyPart = fc.asyncProperty(
  anyShot,
  fc.array(anyWindow, { minLength: 2, maxLength: 3 }),
  async (shot, windows) => {
    const steps = stepsOf(shot)
    // One engine keeps what the windows before left; the reference knows nothing but all of the picture.
    // It reads no more of the frames than the windows are made of; the reference reads all.
    const kept = localEngine(2, loadMadeUp, 32, localWorker, boundsMadeUp)
    for (const step of steps) {
      const reference = await localEngine(1).light(step, around)
      for (const window of windows) {
        const part = await kept.light(step, window)
        expect(sameBits(part, lightIn(reference, around, window))).toBe(true)
      }
    }
  },
)

describe('any window of any picture, in any tiles and beside any buffers that were kept, has the same bits', () => {
  test('the same pictures every time', () => fc.assert(anyPart, { numRuns: 20, seed: 8 }), 240_000)
  // A failure prints its seed.
  test('other pictures every time', () => fc.assert(anyPart, { numRuns: 12 }), 240_000)
})
