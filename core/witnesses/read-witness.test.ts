import { matrixBetween, primaries } from '../colour'
import { planFrame } from '../plan/plan'
import { applyEdit, newTreatment, type Change, type Shot, type Witness } from '../shot'
import { localEngine } from '../test/local-engine'
import { allThere, smallShot, treated } from '../test/small-shot'
import { plansOf } from './look'
import { readingKey, WitnessReader } from './read-witness'

/** Both sides of a witness, made by the engine: the plate and the element, as they are treated. */

const side = { x: 20, y: 12, width: 10, height: 8 }
const witness: Witness = {
  ...{ id: 'w', name: '1', rank: 'a0', purpose: 'black', element: 'cg' },
  reference: side,
  // Inside the disc of the element.
  adjusted: { x: 50, y: 70, width: 10, height: 8 },
}
const plansIn = (shot: Shot) => plansOf(shot, (seen, frame, scale) => planFrame(seen, frame, scale, allThere()))
const read = async (shot: Shot, one = witness) => {
  const engine = localEngine(1)
  const [found] = await new WitnessReader(engine).read(plansIn(shot), 1001, [one])
  return found
}
const withVeil = treated(
  smallShot,
  { kind: 'element', id: 'cg' },
  newTreatment('veil-and-gain', 'v', { veil: [0.01, 0.02, 0.03] }),
)

test('a veil on the element is read as it is set, and the plate is not touched by it', async () => {
  const [plain, lifted] = [await read(smallShot), await read(withVeil)]
  expect(lifted.reference).toEqual(plain.reference)
  const by = [0, 1, 2].map((c) => (lifted.adjusted?.light[c] ?? NaN) - (plain.adjusted?.light[c] ?? NaN))
  for (const [c, veil] of [0.01, 0.02, 0.03].entries()) expect(by[c]).toBeCloseTo(veil, 5)
})

test('a plate that is treated is the reference as it is treated, and its key says so; the element stays as it was read', async () => {
  const graded = treated(
    smallShot,
    { kind: 'element', id: 'plate' },
    newTreatment('veil-and-gain', 'v', { gain: [2, 2, 2] }),
  )
  const [plain, doubled] = [await read(smallShot), await read(graded)]
  expect(doubled.adjusted).toEqual(plain.adjusted)
  for (let c = 0; c < 3; c++) expect(doubled.reference?.light[c]).toBeCloseTo(2 * (plain.reference?.light[c] ?? NaN), 5)
  expect(readingKey(plansIn(graded), 1001, witness)).not.toBe(readingKey(plansIn(smallShot), 1001, witness))
})

test('in ACEScg both sides are read in ACEScg', async () => {
  const [here, there] = [await read(smallShot), await read({ ...smallShot, workingSpace: 'acescg' })]
  const rows = matrixBetween(primaries.rec709, primaries.acescg)
  for (const name of ['reference', 'adjusted'] as const)
    rows.forEach((row, c) => {
      const wanted = row.reduce((sum, factor, i) => sum + factor * (here[name]?.light[i] ?? NaN), 0)
      expect(there[name]?.light[c]).toBeCloseTo(wanted, 5)
    })
})

test('read together, and again with what is known, every witness reads what it does alone', async () => {
  const others = [
    witness,
    { ...witness, id: 'v', reference: { ...side, x: 60 }, adjusted: { x: 44, y: 66, width: 6, height: 6 } },
  ]
  const alone = [await read(smallShot, others[0]), await read(smallShot, others[1])]
  expect(alone[0].reference).not.toEqual(alone[1].reference)
  const reader = new WitnessReader(localEngine(1))
  const plans = plansIn(smallShot)
  expect(await reader.read(plans, 1001, others)).toEqual(alone)
  expect(await reader.read(plans, 1001, others)).toEqual(alone)
  // What is changed is read anew; what is not is known.
  const lifted = await reader.read(plansIn(withVeil), 1001, others)
  expect(lifted.map(({ reference }) => reference)).toEqual(alone.map(({ reference }) => reference))
  expect(lifted[1]).toEqual(await read(withVeil, others[1]))
})

test('witnesses of several elements each read their own', async () => {
  const onPlate = { ...witness, id: 'p', element: 'plate', adjusted: { ...side, x: 70 } }
  const alone = [await read(smallShot, onPlate), await read(smallShot)]
  expect(alone[0].adjusted).not.toEqual(alone[1].adjusted)
  const all = [witness, onPlate, { ...witness, id: 'w2' }]
  const together = await new WitnessReader(localEngine(1)).read(plansIn(smallShot), 1001, all)
  expect(together).toEqual([alone[1], alone[0], alone[1]])
})

test('beyond the frame there is no plate, and its share is said', async () => {
  const beyond = await read(smallShot, { ...witness, reference: { ...side, x: -5 } })
  expect(beyond.reference?.coverage).toBeCloseTo(0.5, 6)
  expect((await read(smallShot, { ...witness, element: 'gone' })).adjusted).toBeNull()
})

test('the key is that of what is read: another element, a tolerance and a name do not count; the element and the place do', () => {
  const key = (shot: Shot, one = witness) => readingKey(plansIn(shot), 1001, one)
  const after = (edit: Change) => key(applyEdit(smallShot, edit).shot)
  const plain = key(smallShot)
  expect(after({ kind: 'show-element', element: 'front', visible: false })).toBe(plain)
  expect(key(smallShot, { ...witness, tolerance: 0.1, name: 'other', purpose: 'colour' })).toBe(plain)
  expect(key(withVeil)).not.toBe(plain)
  expect(key(smallShot, { ...witness, adjusted: { ...side, x: 21 } })).not.toBe(plain)
})

test('an outline is measured by what covers, whatever pattern lies inside of it', async () => {
  // The disc of the element ends at its left within one pixel, with stripes inside.
  const outline: Witness = { ...witness, purpose: 'sharpness', adjusted: { x: 8, y: 67, width: 16, height: 16 } }
  const { edge } = (await read(smallShot, outline)).adjusted ?? {}
  expect(edge?.sigma).toBeGreaterThan(0.05)
  expect(edge?.sigma).toBeLessThan(0.5)
})

describe('sides that follow', () => {
  const read = async (one: Witness, frame: number) => {
    const engine = localEngine(1)
    const [found] = await new WitnessReader(engine).read(plansIn(smallShot), frame, [one])
    return found
  }

  test('the element’s side goes along as it moves by a pixel a frame, and is told of as gone where it is not there', async () => {
    const following: Witness = { ...witness, adjusted: { ...witness.adjusted, follows: 1001 } }
    const there = await read(following, 1004)
    expect(there.places?.adjusted).toMatchObject({ x: 53, y: 70 })
    expect((await read(following, 1009)).why).toBe('the element is not there to be followed')
  })

  test('on the frame that it was drawn on it lies where it was drawn', async () => {
    const following: Witness = { ...witness, reference: { ...side, follows: 1003 } }
    expect((await read(following, 1003)).places?.reference).toMatchObject({ x: side.x, y: side.y })
  })

  test('a side that moves with a track lies where that took it, in whole pixels; unmoved where the element alone goes', async () => {
    // The corner goes from 60.5, 70.5 to 66.5, 71.5 by frame 1003.
    const both = { ...side, follows: 1001, along: 'corner' }
    const one: Witness = {
      ...witness,
      reference: both,
      adjusted: { ...witness.adjusted, follows: 1003, along: 'corner' },
    }
    const there = await read(one, 1003)
    expect(there.places?.reference).toMatchObject({ x: side.x + 6, y: side.y + 1 })
    expect(there.places?.adjusted).toMatchObject({ x: witness.adjusted.x, y: witness.adjusted.y })
    expect((await read(one, 1002)).places?.adjusted).toMatchObject({
      x: witness.adjusted.x - 3,
      y: witness.adjusted.y - 1,
    })
    // What is read there is what the same region reads that was drawn there.
    const drawn = await read({ ...witness, reference: { ...side, x: side.x + 6, y: side.y + 1 } }, 1003)
    expect(there.reference).toEqual(drawn.reference)
  })

  test('where the track is gone, or not known, it says so and reads nothing', async () => {
    const along = (track: string): Witness => ({ ...witness, adjusted: { ...side, follows: 1001, along: track } })
    const why = 'the track that it goes along with is gone, or not known there'
    expect((await read(along('corner'), 1004)).why).toBe(why)
    expect((await read(along('gone'), 1002)).why).toBe(why)
    expect((await read(along('corner'), 1002)).why).toBeUndefined()
  })

  test('the key of a side on a track knows the way of the track, and not what the plate shows elsewhere', () => {
    const one: Witness = { ...witness, reference: { ...side, follows: 1001, along: 'corner' } }
    const key = (shot: Shot, frame = 1003) => readingKey(plansIn(shot), frame, one)
    const points = (x: number) => ({ 1003: { x, y: 71.5, byHand: true } }) as const
    const nudged = applyEdit(smallShot, { kind: 'set-track-points', track: 'corner', points: points(67) }).shot
    expect(key(nudged)).not.toBe(key(smallShot))
    expect(key(nudged, 1002)).toBe(key(smallShot, 1002))
    expect(readingKey(plansIn(smallShot), 1003, { ...one, reference: { ...side, follows: 1001 } })).not.toBe(
      key(smallShot),
    )
  })

  test('the key knows what is followed', () => {
    const key = (one: Witness) => readingKey(plansIn(smallShot), 1004, one)
    const following = (follows: number): Witness => ({ ...witness, reference: { ...side, follows } })
    expect(key(following(1001))).not.toBe(key(witness))
    expect(key(following(1001))).not.toBe(key(following(1002)))
  })
})

test('on a reference object that is gone nothing is read, and the reason is given', async () => {
  const found = await read(smallShot, { ...witness, on: 'gone' })
  expect(found).toMatchObject({ reference: null, adjusted: null, why: 'its reference object is gone' })
})

test('for sharpness the edge in each region is read', async () => {
  // Across the outline of the disc; the plate there has no single edge.
  const found = await read(smallShot, {
    ...witness,
    purpose: 'sharpness',
    adjusted: { x: 50, y: 40, width: 16, height: 12 },
  })
  expect(found.reference?.edge).toBeNull()
  expect(found.adjusted && 'edge' in found.adjusted).toBe(true)
})
