import { pointsAt, valuesAt } from './values'

const gamma = {
  name: 'gamma',
  label: '',
  help: '',
  channels: 1,
  unit: '',
  least: 0.2,
  most: 5,
  step: 0.1,
  initial: 1,
} as const

test('a smooth curve that leaves its range between two keyframes is held to it', () => {
  const curve = {
    keyframes: { 1: { value: 0.3, to: 'smooth', after: -1 }, 5: { value: 4.9, to: 'smooth', before: -2 } },
  } as const
  const at = (time: number) => valuesAt([gamma], { gamma: [curve] }, time).gamma[0]
  expect([at(1), at(5)]).toEqual([0.3, 4.9])
  const all = Array.from({ length: 41 }, (_, i) => at(1 + i / 10))
  expect([Math.min(...all), Math.max(...all)]).toEqual([0.2, 5])
})

test('points come in the order of their ids, whatever the order in which they were stored', () => {
  const point = (id: string, value: number) => ({ id, parameters: { gamma: [value] } })
  const stored = { byId: { b: point('b', 2), a: point('a', 1) } }
  expect(pointsAt([gamma], stored, 1).map(({ values }) => values.gamma[0])).toEqual([1, 2])
})
