import { smallShot, treated } from '../../../../core/test/small-shot'
import { applyEdit, newLimit, newTreatment, type Change, type Shot } from '../../../../core/shot'
import { rowsOfShotWide, tallyRows } from './rows'
import { frameAt, leftOf, numberedFrames, shareOf } from './time-axis'

const frames = { first: 1001, last: 1010 }

describe('the axis', () => {
  test('the place of a frame leads back to it; beyond the ends stands the first or the last', () => {
    for (let frame = frames.first; frame <= frames.last; frame++)
      expect(frameAt(shareOf(frame, frames) * 800, 800, frames)).toBe(frame)
    expect(frameAt(-50, 800, frames)).toBe(1001)
    expect(frameAt(5000, 800, frames)).toBe(1010)
    expect(leftOf(1001, frames)).toBe('5%')
  })

  test('at most some twenty frames have numbers, the first always, the others round', () => {
    expect(numberedFrames({ first: 1001, last: 1048 })).toEqual([
      1001, 1005, 1010, 1015, 1020, 1025, 1030, 1035, 1040, 1045,
    ])
    expect(numberedFrames({ first: 1001, last: 1001 })).toEqual([1001])
    for (const last of [1100, 3000, 50_000]) {
      const numbered = numberedFrames({ first: 1001, last })
      expect(numbered[0]).toBe(1001)
      expect(numbered.length).toBeLessThanOrEqual(18)
    }
  })
})

describe('rows', () => {
  const soft = newTreatment('soften', 'soft', { across: [2], down: [2] })
  const keyframe = (parameter: string, frame: number): Change => ({
    kind: 'add-keyframe',
    at: { owner: { kind: 'treatment', id: 'soft' }, parameter, channel: null },
    frame,
  })
  const keyed: Shot = [keyframe('across', 1004), keyframe('down', 1002), keyframe('down', 1004)].reduce(
    (shot, edit) => applyEdit(shot, edit).shot,
    treated(smallShot, { kind: 'element', id: 'cg' }, soft),
  )

  test('an element has a row that says when it is there; what has keyframes has one, each frame once and in order', () => {
    expect(tallyRows(keyed, ['cg']).map(({ name, keyframes }) => [name, keyframes])).toEqual([
      [keyed.elements.byId.cg.name, []],
      [`${keyed.elements.byId.cg.name}: Soften`, [1002, 1004]],
    ])
    expect(tallyRows(smallShot, ['cg', 'front']).map(({ there }) => there)).toEqual([
      { first: 1001, last: 1008 },
      { first: 1001, last: 1010 },
    ])
  })

  test('the keyframes of a limit stand in the row of its treatment', () => {
    const limit = { ...newLimit(null), parameters: { amount: [{ keyframes: { 1006: 0.5, 1008: 1 } }] } }
    const limited = treated(smallShot, { kind: 'element', id: 'cg' }, soft, { limit })
    expect(tallyRows(limited, ['cg']).map(({ keyframes }) => keyframes)).toEqual([[], [1006, 1008]])
  })

  test('glass has a row for each treatment with keyframes', () => {
    const glass = [keyframe('across', 1005)].reduce(
      (shot, edit) => applyEdit(shot, edit).shot,
      treated(smallShot, { kind: 'glass' }, soft),
    )
    expect(rowsOfShotWide(glass, 'glass').map(({ name, keyframes }) => [name, keyframes])).toEqual([
      ['Glass: Soften', [1005]],
    ])
    expect(rowsOfShotWide(glass, 'sensor')).toEqual([])
  })

  test('every selected element has its rows; one that another tab removed has none', () => {
    expect(tallyRows(keyed, ['plate', 'removed', 'cg'])).toHaveLength(3)
  })
})
