import { planFrame } from '../plan/plan'
import { newTreatment, type Shot } from '../shot'
import { localEngine } from '../test/local-engine'
import { allThere, cgWindow, smallShot, treated, withElement, withSource } from '../test/small-shot'
import { factsKey, factsOf } from './frame-facts'

/** What is measured of a whole frame, on composites that the engine made. */

const facts = async (shot: Shot) => factsOf(shot, planFrame(shot, 1001, 1, allThere()), localEngine(1))
const lit = (veil: number, gain: number): Shot =>
  treated(
    // Nothing stands before it.
    withElement(smallShot, 'front', { visible: false }),
    { kind: 'element', id: 'cg' },
    newTreatment('veil-and-gain', 'v', { veil: [veil, veil, veil], gain: [gain, gain, gain] }),
  )
const plateIn = (shot: Shot, encoding: 'linear' | 'srgb') =>
  withSource(shot, 'plate', { claims: { encoding, primaries: 'rec709', alpha: 'none' } })

test('a sound picture has nothing below zero, nothing clipped and no shadow', async () => {
  const { notNumbers, belowZero, clipped, elements } = await facts(smallShot)
  expect({ notNumbers, belowZero, clipped }).toEqual({ notNumbers: 0, belowZero: 0, clipped: 0 })
  expect(elements.cg).toMatchObject({ shadow: null })
  expect(elements.cg.covered).toBeGreaterThan(100)
})

test('pixels below zero are those of the element alone', async () => {
  const { belowZero, elements } = await facts(lit(-0.2, 0))
  expect(belowZero).toBeGreaterThanOrEqual(elements.cg.covered)
  expect(belowZero).toBeLessThanOrEqual(cgWindow.width * cgWindow.height)
})

test('light that the plate’s encoding cannot hold is counted; a linear plate holds it', async () => {
  const bright = lit(1.1, 1)
  const { clipped, elements } = await facts(plateIn(bright, 'srgb'))
  expect(clipped).toBeGreaterThanOrEqual(elements.cg.covered)
  expect((await facts(plateIn(bright, 'linear'))).clipped).toBe(0)
  expect((await facts(plateIn(smallShot, 'srgb'))).clipped).toBe(0)
})

test('an element is told beside the plate as it is treated; what is clipped, beside the plate as it came', async () => {
  const treatedPlate = (gain: number) =>
    treated(
      plateIn(smallShot, 'srgb'),
      { kind: 'element', id: 'plate' },
      newTreatment('veil-and-gain', 'v', { gain: [gain, gain, gain] }),
    )
  const [plain, halved] = [await facts(treatedPlate(1)), await facts(treatedPlate(0.5))]
  const [whole, half] = [plain, halved].map(({ elements }) => elements.cg.plate.mean ?? [])
  expect(whole).toHaveLength(3)
  for (const [c, mean] of whole.entries()) expect(half[c] / mean).toBeCloseTo(0.5, 4)
  expect(halved.elements.cg.mean).toEqual(plain.elements.cg.mean)
  expect([plain.clipped, halved.clipped]).toEqual([0, 0])
  expect((await facts(treatedPlate(50))).clipped).toBeGreaterThan(100)
})

test('the key goes by what is shown: another name does not count, another setting does', () => {
  const key = (shot: Shot) => factsKey(shot, planFrame(shot, 1001, 1, allThere()))
  expect(key({ ...smallShot, name: 'other' })).toBe(key(smallShot))
  expect(key(lit(0.1, 1))).not.toBe(key(smallShot))
})
