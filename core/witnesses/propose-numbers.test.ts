import { planFrame } from '../plan/plan'
import { applyEdit, find, newTreatment, passInputs, type Shot, type Witness } from '../shot'
import type { NumberName } from '../match'
import type { TreatmentKind } from '../treatments'
import { localEngine } from '../test/local-engine'
import { allThere, smallShot, treated, withElement } from '../test/small-shot'
import { plansOf } from './look'
import { numberChanges, proposeNumbers, proposePlateBalance } from './propose-numbers'
import { WitnessReader } from './read-witness'

/** The plate of these shots is the render itself, so that what a number would have to be is known. */

const region = (x: number, y: number) => ({ x, y, width: 8, height: 8 })
const witnesses = [region(44, 66), region(50, 76), region(38, 80)].map((place, i): Witness => ({
  ...{ id: `w${i}`, name: String(i + 1), rank: `a${i}`, purpose: 'mid', element: 'cg' },
  ...{ reference: place, adjusted: place },
}))
const same: Shot = {
  ...withElement(withElement(smallShot, 'plate', { inputs: passInputs('cg', 'beauty') }), 'front', { visible: false }),
  witnesses: { byId: Object.fromEntries(witnesses.map((one) => [one.id, one])) },
}
const plan = (shot: Shot, frame: number, scale: 1 | 2 | 4) => planFrame(shot, frame, scale, allThere())
const proposed = (shot: Shot) => proposeNumbers(shot, localEngine(1), plan, 'cg', 1001)
const with_ = (shot: Shot, kind: TreatmentKind, values: Record<string, number[]>, id: string = kind) =>
  treated(shot, { kind: 'element', id: 'cg' }, newTreatment(kind, id, values))
const accepted = async (shot: Shot, name: NumberName) => {
  const found = (await proposed(shot))[name]
  if (!found) throw new Error('Nothing was proposed.')
  const changes = numberChanges(shot, 'cg', name, { value: found.value, frame: 1001, picks: found.picks, id: 'new' })
  return changes.reduce((before, one) => applyEdit(before, one).shot, shot)
}
const read = async (shot: Shot) => {
  const found = await new WitnessReader(localEngine(1)).read(plansOf(shot, plan), 1001, witnesses)
  return found.map(({ reference, adjusted }) => {
    if (!reference || !adjusted) throw new Error('A side was not read.')
    return { reference: reference.light, adjusted: adjusted.light }
  })
}

test('what is alike needs nothing: no exposure, the saturation as it is, light of 6,500 K', async () => {
  const found = await proposed(same)
  expect(found.exposure?.value).toBeCloseTo(0, 4)
  expect(found.saturation?.value).toBeCloseTo(1, 4)
  expect((found['white balance']?.value ?? NaN) / 6500).toBeCloseTo(1, 2)
})

test('an exposure takes back what a treatment after it did', async () => {
  const dark = with_(with_(same, 'exposure', { stops: [0, 0, 0] }), 'veil-and-gain', { gain: [0.5, 0.5, 0.5] }, 'half')
  expect((await proposed(dark)).exposure?.value).toBeCloseTo(1, 4)
})

test.each(['linear-rec709', 'acescg'] as const)(
  'in %s a saturation that was set is replaced by what it would have to be',
  async (workingSpace) => {
    const pale = with_({ ...same, workingSpace }, 'saturation', { amount: [0.4] })
    expect((await proposed(pale)).saturation?.value).toBeCloseTo(1, 3)
    for (const { reference, adjusted } of await read(await accepted(pale, 'saturation')))
      for (let c = 0; c < 3; c++) expect(adjusted[c]).toBeCloseTo(reference[c], 4)
  },
)

test('no other temperature brings the ratios of the channels nearer than the one that is proposed', async () => {
  const warm = with_(with_(same, 'white-balance', { from: [6500], to: [4300] }, 'warm'), 'white-balance', {}, 'own')
  const off = async (shot: Shot) =>
    Math.hypot(
      ...(await read(shot)).flatMap(({ reference, adjusted }) =>
        [0, 2].map((c) => Math.log(adjusted[c] / adjusted[1] / (reference[c] / reference[1]))),
      ),
    )
  const at = (kelvin: number) => with_(warm, 'white-balance', { from: [6500], to: [kelvin] }, 'own')
  const cured = await accepted(warm, 'white balance')
  expect(find(cured.treatments, 'warm')?.parameters.to).toEqual([4300])
  const [found] = find(cured.treatments, 'own')?.parameters.to as number[]
  const reached = await off(cured)
  expect(reached).toBeLessThan(0.35 * (await off(warm)))
  for (const other of [0.8, 0.9, 1.12, 1.25]) expect(await off(at(found * other))).toBeGreaterThan(reached)
})

test('the plate’s own white balance is proposed from the same pairs: no other light of the plate brings both sides nearer', async () => {
  const warm = with_(same, 'white-balance', { from: [6500], to: [4300] }, 'warm')
  const off = async (shot: Shot) =>
    Math.hypot(
      ...(await read(shot)).flatMap(({ reference, adjusted }) =>
        [0, 2].map((c) => Math.log(adjusted[c] / adjusted[1] / (reference[c] / reference[1]))),
      ),
    )
  const found = await proposePlateBalance(warm, localEngine(1), plan, 'cg', 1001)
  if (!found) throw new Error('Nothing was proposed.')
  // The element was made as lit by 4,300 K: the plate is to look so as well.
  expect(found.value / 4300).toBeCloseTo(1, 1)
  const plateAt = (value: number) =>
    numberChanges(warm, 'plate', 'white balance', { value, frame: 1001, id: 'own' }).reduce(
      (before, one) => applyEdit(before, one).shot,
      warm,
    )
  const reached = await off(plateAt(found.value))
  expect(reached).toBeLessThan(0.1 * (await off(warm)))
  for (const other of [0.85, 1.15]) expect(await off(plateAt(found.value * other))).toBeGreaterThan(reached)
  expect(Object.keys(plateAt(found.value).uses.byId)).toHaveLength(Object.keys(warm.uses.byId).length + 1)
  expect(await proposePlateBalance(warm, localEngine(1), plan, 'shadow', 1001)).toBeNull()
})

test('of an element that no witness lies on nothing is proposed', async () => {
  const found = await proposeNumbers(same, localEngine(1), plan, 'shadow', 1001)
  expect(found).toEqual({ exposure: null, 'white balance': null, saturation: null, tint: null })
})

test('the tint that is proposed takes the plate’s colours at their brightness, and brings the element to them', async () => {
  const warm = with_(same, 'veil-and-gain', { gain: [1.3, 1, 0.7] }, 'warm')
  const found = (await proposed(warm)).tint
  expect(found?.picks.length).toBeGreaterThan(0)
  const colourOff = async (shot: Shot) =>
    Math.max(
      ...(await read(shot)).flatMap(({ reference, adjusted }) =>
        [0, 2].map((c) => Math.abs(Math.log(adjusted[c] / adjusted[1] / (reference[c] / reference[1])))),
      ),
    )
  const cured = await accepted(warm, 'tint')
  expect(await colourOff(cured)).toBeLessThan(0.5 * (await colourOff(warm)))
  // Picks that are there stay, and are not added again.
  const [own] = Object.values(cured.treatments.byId).filter(({ kind }) => kind === 'tint')
  const again = (await proposed(cured)).tint
  expect(again?.picks).toEqual([])
  expect(again?.value).toBeCloseTo(found?.value ?? NaN, 3)
  expect(Object.keys(own.points?.byId ?? {})).toHaveLength(found?.picks.length ?? 0)
})
