import { applyEdit, newTreatment, usedTry, type SingleChange, type TreatmentSettings } from '../../../../core/shot'
import { smallShot } from '../../../../core/test/small-shot'
import { stepTry } from './step-try'

const veilOf = ({ parameters }: TreatmentSettings) => parameters.veil[0]
const veil = (value: number): SingleChange => ({
  kind: 'set-parameter',
  at: { owner: { kind: 'treatment', id: 'match' }, parameter: 'veil', channel: 0 },
  frame: 1001,
  value,
})
const keep = (id: string, name: string): SingleChange => ({ kind: 'keep-treatment-try', treatment: 'match', id, name })

/** Settings of three tries, then something that is not kept. */
const start = [veil(0.01), keep('a', '1'), veil(0.02), keep('b', '2'), veil(0.03), keep('c', '3'), veil(0.04)].reduce(
  (shot, edit) => applyEdit(shot, edit).shot,
  smallShot,
)

function steps(by: 1 | -1, count: number): number[] {
  let shot = start
  const seen: number[] = []
  for (let i = 0; i < count; i++) {
    const edit = stepTry(shot.treatments.byId.match, by)
    if (!edit) throw new Error('There is no other try.')
    shot = applyEdit(shot, edit).shot
    seen.push(veilOf(shot.treatments.byId.match) as number)
  }
  return seen
}

test('goes through all of them, round and round, and keeps what was not kept', () => {
  expect(steps(1, 5)).toEqual([0.01, 0.02, 0.03, 0.04, 0.01])
  expect(steps(-1, 4)).toEqual([0.03, 0.02, 0.01, 0.04])
})

test('with nothing kept, or only what is used, there is nowhere to go', () => {
  expect(stepTry(newTreatment('soften', 'soft'), 1)).toBeNull()
  const one = applyEdit(smallShot, keep('a', '1')).shot.treatments.byId.match
  expect(usedTry(one)?.name).toBe('1')
  expect(stepTry(one, 1)).toBeNull()
})
