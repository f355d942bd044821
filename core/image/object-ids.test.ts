import { frameAtScale } from '../engine/source-frame'
import { halfTable } from '../kernels/half'
import { coverageOfIds, idOf } from './object-ids'
import type { Plane } from './planes'

/** The float whose bits are a whole number. */
const floatOf = (id: number) => new Float32Array(Uint32Array.of(id).buffer)[0]
const bell = 0x3f2a91c7
const rope = 0x41bd00e3
const plane = (name: string, values: readonly number[]): Plane => ({
  name,
  type: 'float',
  samples: Float32Array.from(values),
})
/** Four pixels: all bell; bell before rope; rope before nothing; nothing. */
const rank = [
  plane('R', [bell, bell, rope, 0].map(floatOf)),
  plane('G', [1, 0.75, 0.4, 0]),
  plane('B', [0, rope, 0, 0].map(floatOf)),
  plane('A', [0, 0.25, 0, 0]),
]

test('an id is the bits of its float', () => {
  expect(idOf(floatOf(bell), true)).toBe(bell)
  expect(idOf(7.0001, false)).toBe(7)
})

test.each([
  ['one object', [bell], [1, 0.75, 0, 0]],
  ['the other', [rope], [0, 0.25, 0.4, 0]],
  ['both', [bell, rope], [1, 1, 0.4, 0]],
  ['none that is there', [5], [0, 0, 0, 0]],
])('coverage of %s is the sum of its ranks', (_name, ids, want) => {
  const { samples } = coverageOfIds(rank, { ids, ranked: true }, halfTable)
  expect([...samples]).toEqual(want.map((v) => Math.fround(v)))
})

test('plain ids are whole pixels, in whatever type they are stored', () => {
  const floats = coverageOfIds([plane('id', [1, 2, 2, 3])], { ids: [2, 3], ranked: false }, halfTable)
  expect([...floats.samples]).toEqual([0, 1, 1, 1])
  const whole: Plane = { name: 'id', type: 'uint', samples: Uint32Array.of(1, 70_000, 2, 3) as never }
  expect([...coverageOfIds([whole], { ids: [70_000], ranked: false }, halfTable).samples]).toEqual([0, 1, 0, 0])
  const halves: Plane = { name: 'id', type: 'half', samples: Uint16Array.of(0x3c00, 0x4000, 0x4200, 0x4000) }
  expect([...coverageOfIds([halves], { ids: [2], ranked: false }, halfTable).samples]).toEqual([0, 1, 0, 1])
})

test('at half scale coverage is averaged, not the ids', () => {
  const window = { x: 0, y: 0, width: 4, height: 2 }
  const planes = rank.map(({ name, samples }) => plane(name, [...samples, ...samples]))
  const reading = {
    ...({ takes: 'scalar', reduce: 2, framing: 'file', working: 'rec709' } as const),
    claims: { encoding: 'linear', primaries: 'rec709', alpha: 'none' } as const,
    frameSize: { width: 4, height: 2 },
    ids: { ids: [bell], ranked: true },
  }
  const frame = frameAtScale({ dataWindow: window, displayWindow: window, planes }, reading)
  expect([...frame.planes[0].samples]).toEqual([0.875, 0])
})
