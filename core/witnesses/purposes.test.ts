/** What is read beside the light: how dark shadows are, whether both sides stay together, and whether one flickers. */

import { judged } from '../match'
import { planFrame } from '../plan/plan'
import { applyEdit, newTreatment, type Change, type Shot, type Witness } from '../shot'
import { localEngine } from '../test/local-engine'
import { leftInShadow as left, loadGround as load, veilOfGround as veil, type Ground } from '../test/stone-ground'
import { allThere, smallShot, treated } from '../test/small-shot'
import { plansOf } from './look'
import { countsOn, readingKey, WitnessReader } from './read-witness'

const { abs, sin } = Math
const box = (x: number, y: number, side = 20) => ({ x, y, width: side, height: side })
const witness = (purpose: Witness['purpose'], more: Partial<Witness> = {}): Witness => ({
  ...{ id: 'w', name: '1', rank: 'a0', purpose, element: 'cg' },
  ...{ reference: box(30, 110), adjusted: box(90, 50) },
  ...more,
})
const plansIn = (shot: Shot) => plansOf(shot, (seen, frame, scale) => planFrame(seen, frame, scale, allThere()))

async function read(one: Witness, frame: number, world: Ground = {}, shot: Shot = smallShot) {
  const reader = new WitnessReader(localEngine(1, load(world), 64))
  const [found] = await reader.read(plansIn(shot), frame, [one])
  return { ...found, judged: judged(one, found) }
}

const edited = (shot: Shot, ...edits: readonly Change[]) => edits.reduce((now, edit) => applyEdit(now, edit).shot, shot)
const shadowAs = (ratio: number, space: Shot['workingSpace'] = 'linear-rec709'): Shot => {
  const owner = { kind: 'blend', element: 'shadow' } as const
  const set = (parameter: string, value: number): Change => ({
    ...{ kind: 'set-channels', frame: 1001, at: { owner, parameter } },
    values: [value, value, value],
  })
  return { ...edited(smallShot, set('ratio', ratio), set('veil', veil)), workingSpace: space }
}
const ofShadow = witness('shadow', {
  ...{ element: 'shadow', reference: box(230, 20), adjusted: box(20, 20) },
  lit: box(150, 20),
})

describe('a witness for shadow', () => {
  test('reads what is left of the light in the plate’s own shadow, and in the one that is laid on it', async () => {
    const { reference, adjusted, judged: verdict } = await read(ofShadow, 1002, {}, shadowAs(0.55))
    for (let c = 0; c < 3; c++) {
      expect(abs((reference?.shadow?.ratio[c] ?? NaN) - left)).toBeLessThan(0.006)
      expect(abs((adjusted?.shadow?.ratio[c] ?? NaN) - 0.55)).toBeLessThan(0.001)
      expect(abs(verdict.drift[c] - 0.15)).toBeLessThan(0.006)
    }
    expect(verdict.verdict).toBe('drifts')
  })

  test('agrees where both leave the same, in another working space too', async () => {
    for (const space of ['linear-rec709', 'acescg'] as const)
      expect((await read(ofShadow, 1002, {}, shadowAs(left, space))).judged.verdict).toBe('agrees')
  })

  test('what else is in the picture does not count: an element in front of it changes no reading and no key', async () => {
    const shot = shadowAs(0.5)
    const moved = edited(shot, { kind: 'show-element', element: 'cg', visible: false })
    expect((await read(ofShadow, 1002, {}, moved)).adjusted).toEqual((await read(ofShadow, 1002, {}, shot)).adjusted)
    const key = (one: Shot) => readingKey(plansIn(one), 1002, ofShadow)
    expect(key(moved)).toBe(key(shot))
    expect(key(shadowAs(0.51))).not.toBe(key(shot))
    expect(readingKey(plansIn(shot), 1002, { ...ofShadow, lit: box(160, 20) })).not.toBe(key(shot))
  })

  test('says what is wanting where no place is chosen in the light, or where it is no lighter', async () => {
    const { lit: _, ...without } = ofShadow
    const wanted = 'the ground is not lit where it ought to be: choose where the same ground is in the light'
    expect((await read(without, 1002, {}, shadowAs(0.5))).judged).toMatchObject({ verdict: 'not judged', why: wanted })
    const dark = { plateLight: () => 0 }
    expect((await read(ofShadow, 1002, dark, shadowAs(0.5))).judged.why).toBe(wanted)
  })

  test('on an element that is gone, or is the plate itself, nothing is read', async () => {
    for (const element of ['gone', 'plate'])
      expect((await read({ ...ofShadow, element }, 1002, {}, shadowAs(0.5))).judged.why).toBe(
        'the element is not there',
      )
  })
})

describe('a witness for staying in place', () => {
  const following = witness('registration', {
    reference: { ...box(30, 110), follows: 1001 },
    adjusted: { ...box(90, 50), follows: 1001 },
  })
  const sway = (frame: number) => 1.3 * sin(frame)

  test('agrees where both move alike, by fractions of a pixel', async () => {
    const { judged: verdict } = await read(following, 1004, { plateMoves: sway, elementMoves: sway })
    expect(verdict.verdict).toBe('agrees')
    for (const c of [0, 1]) expect(abs(verdict.drift[c])).toBeLessThan(0.1)
  })

  test('drifts by as much as the element slips', async () => {
    const slips = (frame: number) => sway(frame) + (frame === 1004 ? 0.8 : 0)
    const { judged: verdict } = await read(following, 1004, { plateMoves: sway, elementMoves: slips })
    expect(verdict.verdict).toBe('drifts')
    expect(abs(verdict.drift[0] - 0.8)).toBeLessThan(0.1)
    expect(abs(verdict.drift[1])).toBeLessThan(0.1)
  })

  test('is against the frame that the plate’s side was drawn on, wherever the element’s was', async () => {
    const later = { ...following, adjusted: { ...box(90, 50), follows: 1003 } }
    const { judged: verdict } = await read(later, 1004, { elementMoves: (frame) => 0.5 * (frame - 1001) })
    expect(abs(verdict.drift[0] - 1.5)).toBeLessThan(0.1)
  })

  test('against a track, drifts by what the element slips beside it, with the error of the track', async () => {
    // From 1001 to 1003 the corner goes by 6, 1.
    const alongTrack = { ...following, reference: { ...following.reference, along: 'corner' } }
    const way = (frame: number) => 3 * (frame - 1001)
    const { judged: verdict } = await read(alongTrack, 1003, { elementMoves: way })
    expect(abs(verdict.drift[0])).toBeLessThan(0.15)
    // The element goes across only.
    expect(abs(verdict.drift[1] + 1)).toBeLessThan(0.15)
    const { judged: less } = await read(following, 1003, { elementMoves: way, plateMoves: way })
    expect(verdict.error[0]).toBeGreaterThan(less.error[0])
  })

  test('says what is wanting where a side does not follow, or holds nothing', async () => {
    expect((await read(witness('registration'), 1004)).judged.why).toMatch(/let both follow/)
    const bare = { ...following, reference: { ...box(250, 20), follows: 1001 } }
    expect((await read(bare, 1004)).judged.why).toMatch(/nothing there that it could be followed by/)
  })

  test('its key knows the plate of the frame that it is against', () => {
    const key = (one: Witness) => readingKey(plansIn(smallShot), 1004, one)
    const later = { ...following, reference: { ...following.reference, follows: 1002 } }
    expect(key(later)).not.toBe(key(following))
    expect(key({ ...following, purpose: 'mid' })).not.toBe(key(following))
  })
})

describe('a witness for flicker', () => {
  const steady = witness('flicker')
  const jumps = (frame: number) => (frame === 1004 ? 1.1 : 1)

  test('drifts where the element’s light jumps and the plate’s does not, on that frame and when it goes back', async () => {
    const world = { elementLight: jumps }
    const drift = async (frame: number) => (await read(steady, frame, world)).judged
    expect(abs((await drift(1004)).drift[0] - 0.1)).toBeLessThan(0.01)
    expect([(await drift(1003)).verdict, (await drift(1004)).verdict, (await drift(1005)).verdict]).toEqual([
      ...['agrees', 'drifts', 'drifts'],
    ])
  })

  test('agrees where the plate jumps as well', async () => {
    const world = { elementLight: jumps, plateLight: jumps }
    // Of the plate's light a part is the veil, which does not jump.
    expect((await read({ ...steady, tolerance: 0.03 }, 1004, world)).judged.verdict).toBe('agrees')
  })

  test('does not count on the first frame, which has none before it', () => {
    expect([1001, 1002].map((frame) => countsOn(smallShot, steady, frame))).toEqual([false, true])
    expect(countsOn(smallShot, witness('mid'), 1001)).toBe(true)
  })

  test('its key knows the frame before', () => {
    const key = (frame: number) => readingKey(plansIn(smallShot), frame, steady)
    expect(key(1004)).not.toBe(key(1005))
    expect(readingKey(plansIn(smallShot), 1004, witness('mid'))).not.toBe(key(1004))
  })
})

describe('a witness for grain', () => {
  /** The plate's grain is 0.001, on flat ground and on the element's light alike. */
  const grainy = witness('grain', { reference: box(145, 10, 48), adjusted: box(88, 48, 24), tolerance: 0.2 })
  const recorded = (deviation: number): Shot => {
    const settings = newTreatment('grain', 'grain')
    const parameters = { ...settings.parameters, read: [deviation, deviation, deviation] }
    return treated(smallShot, { kind: 'sensor' }, { ...settings, parameters })
  }

  test('agrees where the sensor adds as much as the plate has, drifts by the share that it adds more', async () => {
    const agrees = await read(grainy, 1002, {}, recorded(1))
    expect(agrees.reference?.grain?.sigma.map((one) => Math.round(1e4 * one))).toEqual([10, 10, 10])
    expect(agrees.judged.verdict).toBe('agrees')
    const { judged: more } = await read(grainy, 1002, {}, recorded(1.6))
    expect(more.verdict).toBe('drifts')
    for (const drift of more.drift) expect(abs(drift - 0.6)).toBeLessThan(0.15)
  })

  test('without any the element has none of it, in another working space too', async () => {
    for (const workingSpace of ['linear-rec709', 'acescg'] as const) {
      const { judged: none } = await read(grainy, 1002, {}, { ...smallShot, workingSpace })
      expect([none.verdict, ...none.drift]).toEqual(['drifts', -1, -1, -1])
    }
  })

  test('is read beside the frame before where the plate ends, and the grade of the finish does not count', async () => {
    const shot = recorded(1)
    const plate = { ...shot.sources.byId.plate, frames: { first: 1001, last: 1005 } }
    const ending: Shot = { ...shot, sources: { byId: { ...shot.sources.byId, plate } } }
    expect((await read(grainy, 1005, {}, ending)).judged.verdict).toBe('agrees')
    const graded = treated(recorded(1), { kind: 'finish' }, newTreatment('exposure', 'grade'))
    const key = (shot: Shot) => readingKey(plansIn(shot), 1002, grainy)
    expect(key(graded)).toBe(key(recorded(1)))
    expect(key(recorded(1.1))).not.toBe(key(recorded(1)))
  })

  test('on stones that sway and where the light is unlike, it says what to choose', async () => {
    const swaying = { plateMoves: (frame: number) => 3 * (frame % 2) }
    const onStones = { ...grainy, reference: box(20, 96, 48) }
    expect((await read(onStones, 1002, swaying, recorded(1))).judged.why).toMatch(/choose a flat place of the plate/)
    const dark = { elementLight: () => 0.05 }
    const { tolerance: _, ...usual } = grainy
    expect((await read(usual, 1002, dark, recorded(1))).judged.why).toMatch(/larger regions of like light/)
  })
})
