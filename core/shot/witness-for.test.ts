import { applyPatches, enablePatches } from 'immer'
import { smallShot } from '../test/small-shot'
import { applyEdit } from './edits'
import type { Shot, Witness } from './types'
import { differences } from './differences'
import { usersOf } from './refs'
import { changesForPurpose } from './witness-for'

enablePatches()

/** What changes with a witness's purpose. */

const witness: Witness = {
  ...{ id: 'w', name: '1', rank: 'a0', purpose: 'black', element: 'shadow' },
  reference: { x: 40, y: 20, width: 30, height: 20 },
  adjusted: { x: 90, y: 50, width: 30, height: 20 },
}
const added: Shot = applyEdit(smallShot, { kind: 'add-witness', witness }).shot
const changed = (purpose: Witness['purpose'], of = witness) =>
  applyEdit(added, { kind: 'set-witness', witness: 'w', changes: changesForPurpose(added, of, purpose, 1003) }).shot
    .witnesses.byId.w

test('for a shadow ground in the light lies beside the plate’s side, inside the frame; where it is chosen it stays', () => {
  expect(changed('shadow').lit).toEqual({ x: 100, y: 20, width: 30, height: 20 })
  const atTheRight = { ...witness, reference: { ...witness.reference, x: 250 } }
  expect(changesForPurpose(added, atTheRight, 'shadow', 1003).lit?.x).toBe(190)
  const chosen = { ...witness, lit: { x: 1, y: 2, width: 3, height: 4 } }
  expect(changesForPurpose(added, chosen, 'shadow', 1003)).toEqual({ purpose: 'shadow' })
})

test('for staying in place both sides follow from the frame that is looked at; one that follows goes on as it does', () => {
  expect(changed('registration')).toMatchObject({
    reference: { x: 40, follows: 1003 },
    adjusted: { x: 90, follows: 1003 },
  })
  const following = { ...witness, adjusted: { ...witness.adjusted, follows: 1001 } }
  expect(changesForPurpose(added, following, 'registration', 1003).adjusted).toBe(following.adjusted)
  const seen = { reference: { ...witness.reference, x: 44 }, adjusted: witness.adjusted }
  expect(changesForPurpose(added, witness, 'registration', 1003, seen).reference).toMatchObject({
    x: 44,
    follows: 1003,
  })
})

test('for anything else nothing but the purpose changes', () => {
  expect(changed('flicker')).toEqual({ ...witness, purpose: 'flicker' })
})

test('ground in the light is set and taken away; a region without size is refused, beside it nothing changes', () => {
  const set = (lit: Witness['lit'] | null) =>
    applyEdit(added, { kind: 'set-witness', witness: 'w', changes: { lit } }).shot
  expect(set({ x: -3, y: 2, width: 8, height: 8 }).witnesses.byId.w.lit).toEqual({ x: -3, y: 2, width: 8, height: 8 })
  expect(set(null).witnesses.byId.w).toEqual(witness)
  expect(() => set({ x: 0, y: 0, width: 0, height: 8 })).toThrow(/The witness: /)
})

describe('a side that moves with a track', () => {
  const side = { ...witness.reference, follows: 1001, along: 'corner' }
  const along = applyEdit(added, { kind: 'set-witness', witness: 'w', changes: { reference: side } }).shot

  test('names it among those who use the track; the track may go all the same, and comes back', () => {
    expect(usersOf(along, { kind: 'track', id: 'corner' })).toContain('witness 1')
    const { shot, inverse } = applyEdit(along, { kind: 'remove-track', track: 'corner' })
    expect(shot.witnesses.byId.w.reference).toEqual(side)
    expect(applyPatches(shot, [...inverse])).toEqual(along)
  })

  test('is refused where there is no such track, or no frame is said on which it lies there', () => {
    const set = (reference: Witness['reference']) => () =>
      applyEdit(added, { kind: 'set-witness', witness: 'w', changes: { reference } })
    expect(set({ ...side, along: 'gone' })).toThrow(/no track/i)
    expect(set({ ...witness.reference, along: 'corner' })).toThrow(/say on which frame it lies there/)
    expect(() =>
      applyEdit(smallShot, { kind: 'add-witness', witness: { ...witness, adjusted: { ...side, along: 'gone' } } }),
    ).toThrow(/no track/i)
  })

  test('is told as a difference', () => {
    expect(differences(added, along)).toHaveLength(1)
    expect(differences(along, along)).toEqual([])
  })
})
