import { judged } from '../match'
import { planFrame } from '../plan/plan'
import { find, type Element, type Shot } from '../shot'
import { localEngine } from '../test/local-engine'
import { allThere, smallShot } from '../test/small-shot'
import { leftInShadow, loadGround } from '../test/stone-ground'
import { suggestWitnesses } from './suggest'

/** Ground whose right third lies in a shadow of its own; an element darkens its upper left corner. */

const shadow = find(smallShot.elements, 'shadow') as Element
const suggested = (shot: Shot, of: Element) =>
  suggestWitnesses(
    shot,
    localEngine(1, loadGround({}), 64),
    (seen, frame, scale) => planFrame(seen, frame, scale, allThere()),
    of,
  )

test('for a shadow its density is suggested and nothing else: the plate’s own beside lit ground, and where it falls', async () => {
  for (const workingSpace of ['linear-rec709', 'acescg'] as const) {
    const { suggestions, not } = await suggested({ ...smallShot, workingSpace }, shadow)
    expect(not).toEqual([])
    const [{ witness, reference, adjusted, error }] = suggestions
    expect(suggestions.map((one) => one.witness.purpose)).toEqual(['shadow'])
    expect(witness.reference.x).toBeGreaterThanOrEqual(200)
    expect((witness.lit?.x ?? NaN) + (witness.lit?.width ?? NaN)).toBeLessThanOrEqual(200)
    expect(witness.adjusted.x + witness.adjusted.width).toBeLessThanOrEqual(60)
    // Of the light and the veil, which is not known yet.
    expect(reference.shadow?.ratio[0]).toBeCloseTo(leftInShadow, 1)
    expect(error).toBeLessThan(0.05)
    expect(judged(witness, { reference, adjusted }).drift.every(Number.isFinite)).toBe(true)
  }
})

test('where it darkens nothing that is suggested for nothing, and that is said', async () => {
  const nothing = {
    ...smallShot,
    elements: { byId: { ...smallShot.elements.byId, shadow: { ...shadow, visible: false } } },
  }
  const { suggestions, not } = await suggested(nothing, shadow)
  expect(suggestions).toEqual([])
  expect(not.map(({ purpose }) => purpose)).toEqual(['shadow'])
})
