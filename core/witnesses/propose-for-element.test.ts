import { frameAtScale, type SourceFrame } from '../engine/source-frame'
import type { FrameRequest } from '../graph/steps'
import { planFrame } from '../plan/plan'
import { applyEdit, find, newTreatment, type Shot, type Witness } from '../shot'
import { localEngine } from '../test/local-engine'
import { allThere, frameSize, smallShot, treated, withElement } from '../test/small-shot'
import { proposeForElement, type ProposedForElement } from './propose-for-element'

/** Steps of light, of which the plate was made with a gamma, a gain and a veil that are known. */

const truth = { gamma: [1.25, 1.1, 0.8], gain: [1.3, 1.1, 0.9], veil: [0.02, 0.03, 0.04] }
const lights = [0.004, 0.012, 0.04, 0.1, 0.25, 0.6]
const wide = frameSize.width / lights.length
const whole = { x: 0, y: 0, ...frameSize }

function load(request: FrameRequest): Promise<SourceFrame> {
  const isPlate = request.source === 'plate'
  const plane = (name: string, c: number) => ({
    ...{ name, type: 'float' as const },
    samples: Float32Array.from({ length: whole.width * whole.height }, (_, i) => {
      const light = lights[Math.floor((i % whole.width) / wide)]
      if (name === 'A') return 1
      return isPlate ? truth.gain[c] * light ** (1 / truth.gamma[c]) + truth.veil[c] : light
    }),
  })
  const planes = ['R', 'G', 'B', ...(isPlate ? [] : ['A'])].map(plane)
  return Promise.resolve(frameAtScale({ dataWindow: whole, displayWindow: whole, planes }, request))
}

const witnesses = lights.map((_, i): Witness => {
  const side = { x: Math.round((i + 0.5) * wide) - 8, y: 50, width: 16, height: 16 }
  const purpose = i === 0 ? 'black' : 'mid'
  return { id: `w${i}`, name: String(i + 1), rank: `a${i}`, purpose, element: 'cg', reference: side, adjusted: side }
})
const steps: Shot = {
  ...withElement(smallShot, 'front', { visible: false }),
  witnesses: { byId: Object.fromEntries(witnesses.map((one) => [one.id, one])) },
}
const proposed = (shot: Shot, withGamma: boolean) => {
  const plan = (seen: Shot, frame: number, scale: 1 | 2 | 4) => planFrame(seen, frame, scale, allThere())
  return proposeForElement(shot, localEngine(1, load), plan, 'cg', 1001, withGamma)
}
const sure = (found: ProposedForElement | string | null) => {
  if (found === null || typeof found === 'string') throw new Error(found ?? 'Nothing was proposed.')
  return found
}
const bare: Shot = { ...steps, uses: { byId: {} }, treatments: { byId: {} } }

test.each([
  ['an element without veil and gain', bare],
  ['one that has them set', steps],
])('of %s, gamma, gain and veil are found together, where they are asked for', async (_name, shot) => {
  const { proposal } = sure(await proposed(shot, true))
  if (!('gamma' in proposal)) throw new Error('No gamma was proposed.')
  for (const name of ['gamma', 'gain', 'veil'] as const)
    for (const [c, { value }] of proposal[name].entries()) expect(value).toBeCloseTo(truth[name][c], 2)
})

test('without being asked for, gamma stays as it is set: veil and gain are proposed for it', async () => {
  const set = ['gamma', 'gain'].reduce(
    (shot, parameter) =>
      applyEdit(shot, {
        kind: 'set-channels',
        at: { owner: { kind: 'treatment', id: 'match' }, parameter },
        frame: 1001,
        values: parameter === 'gamma' ? truth.gamma : [2, 2, 2],
      }).shot,
    steps,
  )
  const { proposal, settings, pairs } = sure(await proposed(set, false))
  expect(proposal).not.toHaveProperty('gamma')
  expect(settings?.parameters.gamma).toEqual(truth.gamma)
  for (const name of ['gain', 'veil'] as const)
    for (const [c, { value }] of proposal[name].entries()) expect(value).toBeCloseTo(truth[name][c], 3)
  // Points of the plot are the element's own light.
  for (const [i, { adjusted }] of pairs.entries()) expect(adjusted.light[0]).toBeCloseTo(lights[i], 4)
  // With a gamma of 1 the same pairs do not lie on a line, and the bars say so.
  const plain = sure(await proposed(steps, false)).proposal
  expect(plain.gain[0].bar).toBeGreaterThan(1.5 * proposal.gain[0].bar)
})

test('too few pairs, and pairs that are all about as light, tell no gamma, in a sentence', async () => {
  const only = (...kept: number[]): Shot => ({
    ...steps,
    witnesses: { byId: Object.fromEntries(kept.map((i) => [`w${i}`, find(steps.witnesses, `w${i}`) as Witness])) },
  })
  expect(await proposed(only(0, 2, 4), true)).toBe(
    'Gamma is told by 4 pairs or more, from the dark to the light: add 1.',
  )
  const near = treated(only(2, 3), { kind: 'element', id: 'plate' }, newTreatment('veil-and-gain', 'p', {}))
  const doubled = ['w2', 'w3'].map((id) => ({ ...(find(near.witnesses, id) as Witness), id: `${id} again` }))
  const alike: Shot = {
    ...near,
    witnesses: { byId: { ...near.witnesses.byId, ...Object.fromEntries(doubled.map((one) => [one.id, one])) } },
  }
  expect(await proposed(alike, true)).toMatch(/the lightest of these is not 8 times as light as the darkest\.$/)
  expect(await proposed({ ...steps, witnesses: { byId: {} } }, false)).toBeNull()
})
