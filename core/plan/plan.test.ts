import type { FrameRequest } from '../graph/steps'
import { localEngine } from '../test/local-engine'
import { frameSize, loadMadeUp, smallShot } from '../test/small-shot'
import { applyEdit, newBlend, newTreatment, type Shot } from '../shot'
import { NoPlateError, planFrame } from './plan'
import { framesOf } from '../graph/steps'

const plan = (shot = smallShot, frame = 1001, fingerprint = 'a') => planFrame(shot, frame, 1, () => fingerprint)
const veil = { element: 'cg', treatment: 'match', parameter: 'veil', channel: 0 }

test('the same shot, frame and files give the same keys; anything that changes pixels changes them', () => {
  const key = plan().composite.key
  expect(plan().composite.key).toBe(key)
  expect(plan(smallShot, 1002).composite.key).not.toBe(key)
  expect(plan(smallShot, 1001, 'b').composite.key).not.toBe(key)
  expect(planFrame(smallShot, 1001, 2, () => 'a').composite.key).not.toBe(key)
  expect(
    plan(applyEdit(smallShot, { kind: 'set-parameter', at: veil, frame: 1001, value: 0.1 }).shot).composite.key,
  ).not.toBe(key)
})

test('an edit of one element leaves the keys of what lies behind it', () => {
  const edited = applyEdit(smallShot, { kind: 'set-parameter', at: veil, frame: 1001, value: 0.1 }).shot
  expect(plan(edited).elements.get('shadow')?.key).toBe(plan().elements.get('shadow')?.key)
  expect(plan(edited).plate.key).toBe(plan().plate.key)
})

test('a key on another frame changes only the frames that it moves', () => {
  let shot = applyEdit(smallShot, { kind: 'add-key', at: veil, frame: 1001 }).shot
  shot = applyEdit(shot, { kind: 'add-key', at: veil, frame: 1005 }).shot
  const moved = applyEdit(shot, { kind: 'set-parameter', at: veil, frame: 1005, value: 1 }).shot
  expect(plan(moved, 1001).composite.key).toBe(plan(shot, 1001).composite.key)
  expect(plan(moved, 1003).composite.key).not.toBe(plan(shot, 1003).composite.key)
})

test('a still has the same key on every frame, and a file used twice is brought once', () => {
  const matte = (frame: number) =>
    framesOf([plan(smallShot, frame).composite]).find((step) => step.request.source === 'matte')
  expect(matte(1001)?.key).toBe(matte(1004)?.key)
  expect(framesOf([plan().composite]).map((step) => step.request.path)).toEqual([
    'plate.1001.exr',
    'matte.exr',
    'cg.1001.exr',
  ])
})

test('a bypassed treatment is not in the graph', () => {
  const bypassed = applyEdit(smallShot, {
    kind: 'enable-treatment',
    element: 'cg',
    treatment: 'match',
    enabled: false,
  }).shot
  expect(plan(bypassed).elements.get('cg')?.op).toBe('frame')
})

test('a frame without a plate says which frames there are', () => {
  const short = {
    ...smallShot,
    sources: smallShot.sources.map((s) => (s.id === 'plate' ? { ...s, frames: { first: 1001, last: 1005 } } : s)),
  }
  expect(() => plan(short, 1006)).toThrow(NoPlateError)
  expect(() => plan(short, 1006)).toThrow("no plate at frame 1006. Its plate's source covers frames 1001 to 1005")
})

test('a blurred occlusion pass is open beyond its pixels, so that its edges do not darken the plate', async () => {
  const softened = { ...newTreatment('soften', 'soft'), parameters: { across: [4], down: [4] } }
  const [plate, shadow] = smallShot.elements
  const shot: Shot = {
    ...smallShot,
    elements: [plate, { ...shadow, blend: newBlend('occlusion'), treatments: [softened] }],
  }
  // The matte is wholly open: blurring it must change nothing, at its edges neither.
  const open = async (request: FrameRequest) => {
    const frame = await loadMadeUp(request)
    if (request.source !== 'matte') return frame
    return {
      ...frame,
      planes: frame.planes.map((p) => ({ ...p, samples: new Uint16Array(p.samples.length).fill(0x3c00) })),
    }
  }
  const window = { x: 0, y: 0, ...frameSize }
  const { composite, plate: bare } = plan(shot)
  const engine = localEngine(1, open)
  expect(await engine.light(composite, window)).toEqual(await engine.light(bare, window))
})
