import { smallShot } from '../test/small-shot'
import { keyframesOf, valueAt } from '../motion/curve'
import { applyEdit, newPlacing, type Change, type Shot } from '.'
import { keyedCurves, movedKeyframes, withBeyond, withHandle, withoutKeyframes, withWay } from './keyed'

const veil = { owner: { kind: 'treatment', id: 'match' }, parameter: 'veil', channel: 0 } as const
const edits: Change[] = [
  { kind: 'place-element', element: 'cg', placing: newPlacing({ x: 0, y: 0, width: 40, height: 40 }) },
  ...[1001, 1004, 1009].map((frame): Change => ({
    kind: 'add-keyframe',
    at: { owner: { kind: 'placing', element: 'cg' }, parameter: 'x', channel: 0 },
    frame,
  })),
  { kind: 'add-keyframe', at: veil, frame: 1004 },
]
const shot = edits.reduce((now, edit) => applyEdit(now, edit).shot, smallShot)
const curves = (of: Shot = shot) => keyedCurves(of, ['cg'])
const made = (edit: Change | null, of: Shot = shot): Shot => {
  if (!edit) throw new Error('no edit')
  return applyEdit(of, edit).shot
}
const x = (of: Shot) => keyframesOf(curves(of)[0].curve)
const [across] = curves()

test('the curves with keyframes, by what they belong to; positions go on smoothly, colours never beyond', () => {
  expect(curves().map(({ label }) => label)).toEqual([
    expect.stringMatching(/: across$/),
    expect.stringMatching(/: veil red$/),
  ])
  expect(x(shot).map(({ to }) => to)).toEqual(['smooth', 'smooth', 'smooth'])
  expect(keyframesOf(curves()[1].curve)[0].to).toBe('monotone')
})

test('moved in time and value together, over several curves; copied, those that were there stay', () => {
  const chosen = [
    { curve: across.id, frame: 1004 },
    { curve: curves()[1].id, frame: 1004 },
  ]
  const after = made(movedKeyframes(curves(), chosen, { frames: 2, value: 0.1 }))
  expect(x(after).map(({ frame, value }) => [frame, value])).toEqual([
    [1001, 0],
    [1006, 0.1],
    [1009, 0],
  ])
  const before = valueAt(curves()[1].curve, 1004)
  expect(keyframesOf(curves(after)[1].curve)).toMatchObject([{ frame: 1006, value: before + 0.1 }])
  const copied = made(movedKeyframes(curves(), chosen.slice(0, 1), { frames: 1, value: 5, copy: true }))
  expect(x(copied).map(({ frame }) => frame)).toEqual([1001, 1004, 1005, 1009])
  expect(movedKeyframes(curves(), chosen, { frames: 0, value: 0 })).toBeNull()
})

test('two that change places do not lose each other; values stay inside what they may be', () => {
  const both = [1001, 1004].map((frame) => ({ curve: across.id, frame }))
  expect(x(made(movedKeyframes(curves(), both, { frames: 3, value: 0 }))).map(({ frame }) => frame)).toEqual([
    1004, 1007, 1009,
  ])
  const far = made(movedKeyframes(curves(), [{ curve: curves()[1].id, frame: 1004 }], { frames: 0, value: 99 }))
  expect(keyframesOf(curves(far)[1].curve)[0].value).toBe(0.5)
})

test('given another way, a handle, a repetition, and taken away', () => {
  const chosen = [{ curve: across.id, frame: 1001 }]
  expect(x(made(withWay(curves(), chosen, 'pop')))[0].to).toBe('pop')
  const handled = made(withHandle(across, 1004, 'both', 2.5))
  expect(x(handled)[1]).toMatchObject({ to: 'smooth', before: 2.5, after: 2.5 })
  // A handle belongs to smooth lines only.
  expect(
    x(made(withWay(curves(handled), [{ curve: across.id, frame: 1004 }], 'straight'), handled))[1].before,
  ).toBeUndefined()
  const repeated = made(withBeyond(curves(), [across.id], 'repeat'))
  expect(curves(repeated)[0].curve).toMatchObject({ beyond: 'repeat' })
  expect(curves(made(withBeyond(curves(repeated), [across.id], null), repeated))[0].curve).not.toHaveProperty('beyond')
  const all = [1001, 1004, 1009].map((frame) => ({ curve: across.id, frame }))
  expect(made(withoutKeyframes(curves(), all)).elements.byId.cg.placing?.parameters.x).toEqual([0])
})

test('keyframes outside the frames of the shot are kept and count', () => {
  const after = made(movedKeyframes(curves(), [{ curve: across.id, frame: 1009 }], { frames: 500, value: 100 }))
  expect(x(after).at(-1)?.frame).toBe(1509)
  expect(valueAt(curves(after)[0].curve, 1010)).not.toBe(0)
})
