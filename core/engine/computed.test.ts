import fc from 'fast-check'
import { planFrame } from '../plan/plan'
import type { Scale, Step } from '../graph/steps'
import type { Window } from '../image/window'
import { newTreatment, type Shot, type TreatmentSettings } from '../shot'
import { localEngine } from '../test/local-engine'
import { allThere, frameSize, loadMadeUp, smallShot, treated } from '../test/small-shot'
import { sameBits } from '../test/windows'
import { ComputedGoneError, withComputed } from './computed'
import type { LoadFrame, SourceFrame } from './source-frame'

/** What was kept computed is read instead of made, and nobody can tell. */

const around: Window = { x: -20, y: -16, width: frameSize.width + 40, height: frameSize.height + 32 }

/** The element softened and glowing, so that it reaches beyond its pixels; the front one has light without coverage. */
const shot: Shot = [
  ['cg', newTreatment('soften', 's')] as const,
  ['cg', newTreatment('glow', 'g')] as const,
  ['front', newTreatment('veil-and-gain', 'v')] as const,
].reduce((before, [id, one]) => {
  const parameters = one.kind === 'soften' ? { ...one.parameters, across: [1.7], down: [0.6] } : one.parameters
  const veil: TreatmentSettings['parameters'] = one.kind === 'veil-and-gain' ? { veil: [0.02, 0.01, 0.03] } : {}
  return treated(before, { kind: 'element', id }, { ...one, parameters: { ...parameters, ...veil } })
}, smallShot)

interface Made {
  readonly light: Float32Array
  readonly window: Window
}

/** As the disk would give it: four planes of floats over the window that the element reaches. */
function frameOf({ light, window }: Made): SourceFrame {
  const planes = ['R', 'G', 'B', 'A'].map((name, c) => ({
    name,
    type: 'float' as const,
    samples: Float32Array.from({ length: light.length / 4 }, (_, i) => light[i * 4 + c]),
  }))
  return { decoded: true, dataWindow: window, displayWindow: window, planes }
}

async function made(step: Step): Promise<Made> {
  const engine = localEngine(1)
  const window = await engine.bounds(step)
  return { light: await engine.light(step, window), window }
}

/** @returns what loads made-up files, and what was kept */
function loaderOf(kept: ReadonlyMap<string, Made>) {
  const read: string[] = []
  const load: LoadFrame = async (request, ...rest) => {
    if (request.computed === undefined) {
      read.push(request.source)
      return loadMadeUp(request, ...rest)
    }
    const found = kept.get(request.computed)
    if (!found) throw new ComputedGoneError(request.computed)
    return frameOf(found)
  }
  return { load, read }
}

const planAt = (scale: Scale, of: Shot = shot) => {
  const plan = planFrame(of, 1001, scale, allThere())
  if (!plan.composite) throw new Error('no picture')
  return { ...plan, composite: plan.composite }
}

const element = (plan: ReturnType<typeof planAt>, id: string): Step => {
  const step = plan.elements.get(id)
  if (!step) throw new Error(`no ${id}`)
  return step
}

test.each([1, 2, 4] as const)(
  'a picture of elements that are read has the bits of one that is made, at 1/%d',
  async (scale) => {
    const plan = planAt(scale)
    const kept = new Map<string, Made>()
    for (const id of ['cg', 'front', 'shadow']) kept.set(element(plan, id).key, await made(element(plan, id)))
    const { load } = loaderOf(kept)
    const engine = localEngine(2, load)
    engine.readComputed(new Set(kept.keys()))
    expect(
      sameBits(await engine.light(plan.composite, around), await localEngine(1).light(plan.composite, around)),
    ).toBe(true)
  },
)

test('in ACEScg the same', async () => {
  const plan = planAt(1, { ...shot, workingSpace: 'acescg' })
  const step = element(plan, 'cg')
  const { load } = loaderOf(new Map([[step.key, await made(step)]]))
  const engine = localEngine(1, load)
  engine.readComputed(new Set([step.key]))
  expect(sameBits(await engine.light(plan.composite, around), await localEngine(1).light(plan.composite, around))).toBe(
    true,
  )
})

test('whichever elements are kept, any window has the same bits', () =>
  fc.assert(
    fc.asyncProperty(
      fc.subarray(['cg', 'front', 'shadow', 'plate']),
      fc.record({
        x: fc.integer({ min: -20, max: 40 }),
        y: fc.integer({ min: -16, max: 30 }),
        width: fc.integer({ min: 1, max: 50 }),
        height: fc.integer({ min: 1, max: 40 }),
      }),
      async (ids, window) => {
        const plan = planAt(1)
        const steps = ids.map((id) => element(plan, id)).filter(({ op }) => op !== 'frame')
        const kept = new Map(await Promise.all(steps.map(async (step) => [step.key, await made(step)] as const)))
        const engine = localEngine(1, loaderOf(kept).load)
        engine.readComputed(new Set(kept.keys()))
        const expected = await localEngine(1).light(plan.composite, window)
        expect(sameBits(await engine.light(plan.composite, window), expected)).toBe(true)
      },
    ),
    { numRuns: 25, seed: 11 },
  ))

test('the files of an element that is read are not asked for', async () => {
  const plan = planAt(1)
  const step = element(plan, 'cg')
  const { load, read } = loaderOf(new Map([[step.key, await made(step)]]))
  const engine = localEngine(1, load)
  engine.readComputed(new Set([step.key]))
  await engine.light(step, around)
  expect(read).toEqual([])
})

test('an element that has changed is made, since nothing is kept under its key', async () => {
  const step = element(planAt(1), 'cg')
  const { load, read } = loaderOf(new Map([[step.key, await made(step)]]))
  const changed = treated(
    shot,
    { kind: 'element', id: 'cg' },
    {
      ...newTreatment('veil-and-gain', 'w'),
      parameters: { ...newTreatment('veil-and-gain', 'w').parameters, gain: [0.5, 0.5, 0.5] },
    },
  )
  const now = element(planAt(1, changed), 'cg')
  const engine = localEngine(1, load)
  engine.readComputed(new Set([step.key]))
  expect(sameBits(await engine.light(now, around), await localEngine(1).light(now, around))).toBe(true)
  expect(read).toEqual(['cg'])
  expect(withComputed(now, new Set([step.key])).key).toBe(now.key)
})

test('what was let go meanwhile is made again, in the same picture', async () => {
  const plan = planAt(1)
  const step = element(plan, 'cg')
  const engine = localEngine(1, loaderOf(new Map()).load)
  engine.readComputed(new Set([step.key]))
  expect(sameBits(await engine.light(plan.composite, around), await localEngine(1).light(plan.composite, around))).toBe(
    true,
  )
})

test('a file as it came is never replaced', () => {
  const { plate } = planAt(1)
  if (!plate) throw new Error('no plate')
  expect(plate.op).toBe('frame')
  expect(withComputed(plate, new Set([plate.key]))).toBe(plate)
})

test('a picture that does not fit says into how many bands it was cut, and a smaller one that it fits again', async () => {
  const engine = localEngine(1, loadMadeUp, 8)
  const { composite } = planAt(1)
  const heard: number[] = []
  const end = engine.onMemory(() => heard.push(engine.memoryState().bands))
  const large: Window = { x: 0, y: 0, width: 800, height: 600 }
  const whole = await engine.light(composite, large)
  expect(engine.memoryState().bands).toBeGreaterThan(1)
  expect(sameBits(whole, await localEngine(1).light(composite, large))).toBe(true)
  await engine.light(composite, { x: 0, y: 0, width: 16, height: 16 })
  expect(engine.memoryState()).toMatchObject({ budgetBytes: 8 * 2 ** 20, bands: 1 })
  expect(heard.at(-1)).toBe(1)
  end()
  await engine.light(composite, large)
  expect(heard).toHaveLength(2)
})
