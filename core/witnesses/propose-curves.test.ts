import { planFrame } from '../plan/plan'
import { applyEdit, newPoint, newTreatment, passInputs, type Shot, type Witness } from '../shot'
import { treatments } from '../treatments'
import { localEngine } from '../test/local-engine'
import { allThere, smallShot, treated, withElement } from '../test/small-shot'
import { plansOf } from './look'
import { curvesChanges, proposeCurves } from './propose-curves'
import { WitnessReader } from './read-witness'

/** The plate of these shots is the render itself, so that what curves would have to do is known. */

/** Columns of the render differ in light, from nothing to the most by turns of five. */
const witnesses = [0, 1, 2, 3, 4, 5, 6, 7].map((i): Witness => {
  const place = { x: 41 + i, y: 62, width: 1, height: 20 }
  return {
    ...{ id: `w${i}`, name: String(i + 1), rank: `a${i}`, purpose: i === 0 ? 'black' : 'mid', element: 'cg' },
    ...{ reference: place, adjusted: place },
  }
})
const same: Shot = {
  ...withElement(withElement(smallShot, 'plate', { inputs: passInputs('cg', 'beauty') }), 'front', { visible: false }),
  witnesses: { byId: Object.fromEntries(witnesses.map((one) => [one.id, one])) },
}
const plan = (shot: Shot, frame: number, scale: 1 | 2 | 4) => planFrame(shot, frame, scale, allThere())
const off = async (shot: Shot) => {
  const read = await new WitnessReader(localEngine(1)).read(plansOf(shot, plan), 1001, witnesses)
  return Math.max(
    ...read.flatMap(({ reference, adjusted }) =>
      [0, 1, 2].map((c) => Math.abs((reference?.light[c] ?? NaN) - (adjusted?.light[c] ?? NaN))),
    ),
  )
}
const used = async (shot: Shot) => {
  const found = await proposeCurves(shot, localEngine(1), plan, 'cg', 1001)
  if (!found) throw new Error('Nothing was proposed.')
  return curvesChanges(shot, 'cg', found, 'new').reduce((before, one) => applyEdit(before, one).shot, shot)
}

test.each(['linear-rec709', 'acescg'] as const)(
  'in %s curves bring an element to its plate that is too bright and lifted',
  async (workingSpace) => {
    const lifted = { gain: [1.6, 1.3, 1.1], veil: [0.02, 0.02, 0.02] }
    const settings = newTreatment('veil-and-gain', 'lifted', lifted)
    const wrong = treated({ ...same, workingSpace }, { kind: 'element', id: 'cg' }, settings)
    const cured = await used(wrong)
    expect(await off(cured)).toBeLessThan(0.25 * (await off(wrong)))
    expect(Object.values(cured.treatments.byId).filter(({ kind }) => kind === 'curves')).toHaveLength(1)
  },
)

test('curves that are there are replaced, that of luma stays, and twice the same are proposed', async () => {
  const wrong = treated(
    same,
    { kind: 'element', id: 'cg' },
    newTreatment('veil-and-gain', 'half', { gain: [0.5, 0.6, 0.7] }),
  )
  const once = await used(wrong)
  const settings = Object.values(once.treatments.byId).find(({ kind }) => kind === 'curves')
  const luma = newPoint(treatments.curves, 'luma', { in: [0.5], out: [0.5] }, 'luma')
  const withLuma = applyEdit(once, {
    kind: 'add-point',
    of: { kind: 'treatment', id: settings?.id ?? '' },
    point: luma,
  }).shot
  const twice = await used(withLuma)
  const pointsOf = (shot: Shot) => {
    const all = Object.values(shot.treatments.byId).find(({ kind }) => kind === 'curves')?.points?.byId ?? {}
    return Object.values(all)
      .filter(({ set }) => set !== 'luma')
      .map(
        ({ set, parameters }) =>
          `${set} ${Number(parameters.in[0]).toFixed(3)} ${Number(parameters.out[0]).toFixed(2)}`,
      )
      .sort()
  }
  expect(pointsOf(twice)).toEqual(pointsOf(once))
  const [kept] = Object.values(twice.treatments.byId).filter(({ kind }) => kind === 'curves')
  expect(kept.points?.byId.luma).toBeDefined()
})

test('witnesses for colour alone tell no curves: their sides may differ in light', async () => {
  const colours = witnesses.map((one): Witness => ({ ...one, purpose: 'colour' }))
  const shot = { ...same, witnesses: { byId: Object.fromEntries(colours.map((one) => [one.id, one])) } }
  expect(await proposeCurves(shot, localEngine(1), plan, 'cg', 1001)).toBeNull()
})

test('five witnesses tell no curves', async () => {
  const few = { ...same, witnesses: { byId: Object.fromEntries(witnesses.slice(0, 5).map((one) => [one.id, one])) } }
  expect(await proposeCurves(few, localEngine(1), plan, 'cg', 1001)).toBeNull()
})
