import {
  applyEdit,
  matteBase,
  newShape,
  newTreatment,
  type Change,
  type Limit,
  type Matte,
  type Shot,
} from '../../../../core/shot'
import { smallShot } from '../../../../core/test/small-shot'
import { ellipseIn } from '../../../../core/outline'
import { patchHandles, patchOutlines } from './patch-handles'

const corner = (x: number, y: number) => ({ x, y, before: [0, 0], after: [0, 0] }) as const
const empty: Extract<Matte, { kind: 'drawn' }> = {
  ...matteBase(smallShot, 'drawn'),
  kind: 'drawn',
  shapes: { byId: {} },
}
const triangle = newShape(empty, 1001, [corner(50, 50), corner(80, 60), corner(60, 90)], [true])
const drawn: Matte = { ...empty, id: 'hole', shapes: { byId: { [triangle.id]: triangle } } }
const painted: Matte = {
  ...{ ...matteBase(smallShot, 'painted'), id: 'dab', kind: 'painted' },
  strokes: {
    byId: {
      one: { id: 'one', rank: 'a0', points: [10, 20, 30, 20], radius: 4, hardness: 1, how: 'add' },
      other: { id: 'other', rank: 'a1', points: [200, 20], radius: 4, hardness: 1, how: 'subtract' },
      late: { id: 'late', rank: 'a2', points: [90, 90], radius: 4, hardness: 1, how: 'add', frame: 1003 },
    },
  },
}

/** The small shot with one patch on its plate for each matte. */
function patched(...mattes: readonly Matte[]): Shot {
  const treatments = mattes.map((_, i) => newTreatment('patch', `patch-${i}`))
  const limit = (matte: string): Limit => ({
    matte: { kind: 'matte', matte },
    inverted: false,
    parameters: { amount: [1] },
  })
  return {
    ...smallShot,
    mattes: { byId: Object.fromEntries(mattes.map((one) => [one.id, one])) },
    treatments: {
      byId: { ...smallShot.treatments.byId, ...Object.fromEntries(treatments.map((one) => [one.id, one])) },
    },
    uses: {
      byId: {
        ...smallShot.uses.byId,
        ...Object.fromEntries(
          mattes.map(({ id }, i) => [
            `use-${i}`,
            {
              ...{ id: `use-${i}`, rank: `z${i}`, owner: { kind: 'element', id: smallShot.plate } },
              ...{ treatment: `patch-${i}`, on: true, limit: limit(id) },
            },
          ]),
        ),
      },
    },
  } as Shot
}
const on = (shot: Shot, edit: Change | null | undefined) => (edit ? applyEdit(shot, edit).shot : shot)
const noKeys = { shift: false, control: false, reach: 0 }

test('the handle lies in the middle of what is filled; dragged, the offset follows, and the outline is seen there', () => {
  const shot = patched(drawn)
  const [handle] = patchHandles(shot, smallShot.plate, 1001)
  expect(handle).toMatchObject({ name: 'Where the patch is filled from', at: { x: 65, y: 70 } })
  expect(patchOutlines(shot, smallShot.plate, 1001)).toEqual([])
  const after = on(shot, handle.edit?.({ x: 105.25, y: 60 }, noKeys))
  expect(after.treatments.byId['patch-0'].parameters).toMatchObject({ across: [40.25], down: [-10] })
  expect(patchHandles(after, smallShot.plate, 1001)[0].at).toEqual({ x: 105.25, y: 60 })
  expect(patchOutlines(after, smallShot.plate, 1001)).toEqual([
    [
      [90.25, 40],
      [120.25, 50],
      [100.25, 80],
    ],
    [
      [65, 70],
      [105.25, 60],
    ],
  ])
})

test('of what is painted the strokes that are there on the frame count; two patches have names of their own', () => {
  const handles = patchHandles(patched(drawn, painted), smallShot.plate, 1001)
  expect(handles.map(({ name }) => name)).toEqual(['Where patch 1 is filled from', 'Where patch 2 is filled from'])
  expect(handles[1].at).toEqual({ x: 20, y: 20 })
  expect(patchHandles(patched(painted), smallShot.plate, 1003)[0].at).toEqual({ x: 50, y: 55 })
})

test('there is none where the patch is off, has no matte that lies somewhere, or on another element', () => {
  const shot = patched(drawn)
  const off = { ...shot, uses: { byId: { ...shot.uses.byId, 'use-0': { ...shot.uses.byId['use-0'], on: false } } } }
  expect(patchHandles(off, smallShot.plate, 1001)).toEqual([])
  expect(patchHandles(patched({ ...drawn, shapes: { byId: {} } }), smallShot.plate, 1001)).toEqual([])
  expect(patchHandles(shot, 'cg', 1001)).toEqual([])
})

test('where the outline bends it is seen bent: of a circle every place is as far from its middle', () => {
  const shape = newShape(empty, 1001, ellipseIn({ x: 80, y: 40, width: 40, height: 40 }), [true, true, true, true])
  const circle: Matte = { ...empty, id: 'disc', shapes: { byId: { [shape.id]: shape } } }
  const shot = patched(circle)
  const [handle] = patchHandles(shot, smallShot.plate, 1001)
  expect([handle.at.x, handle.at.y]).toEqual([expect.closeTo(100, 6), expect.closeTo(60, 6)])
  const [outline] = patchOutlines(on(shot, handle.edit?.({ x: 150, y: 60 }, noKeys)), smallShot.plate, 1001)
  expect(outline.length).toBe(32)
  for (const [x, y] of outline) expect(Math.hypot(x - 150, y - 60)).toBeCloseTo(20, 1)
})
