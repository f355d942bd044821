import { driftWords, stopsWords, verdictWords } from './verdict-words'

/** Drifts and verdicts as they are printed. */

const judged = (drift: readonly [number, number, number]) => ({
  ...({ verdict: 'agrees', drift, error: [0, 0, 0], tolerance: [1, 1, 1] } as const),
})

test('a drift is printed in its unit, with its sign; what rounds to nothing has none', () => {
  expect(driftWords(judged([0.0012, -0.00004, -0.02]), 'black')).toEqual(['+0.0012', '0.0000', '−0.0200'])
  expect(driftWords(judged([-0.004, 0.0123, -0.0002]), 'colour')).toEqual(['−0.4 %', '+1.2 %', '0.0 %'])
  expect(driftWords(judged([0.1, 0.1, 0.1]), 'sharpness')).toEqual(['+0.10 px'])
  expect(driftWords(judged([0.3, -0.001, 0]), 'registration')).toEqual(['+0.30 px', '0.00 px'])
  expect(driftWords(judged([NaN, 0.03, 0.2]), 'shadow')).toEqual(['–', '+0.030', '+0.200'])
  expect(stopsWords({ stops: [0.5, -0.25, NaN], difference: 1 })).toEqual(['+0.50 stops', '−0.25 stops', '–'])
})

test('why something is not judged is said', () =>
  expect(verdictWords({ ...judged([0, 0, 0]), verdict: 'not judged', why: 'the plate is too noisy there' })).toBe(
    'Not judged yet: the plate is too noisy there.',
  ))
