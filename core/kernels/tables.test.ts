import fc from 'fast-check'
import { expectClose, getStrip, kernelBench, putStrip } from '../test/kernels'
import { stripBytes } from './kernels'

const bench = kernelBench(4)
const { kernels, floats } = bench
const [strip, table] = [bench.free, bench.free + stripBytes]
const value = fc.float({ min: Math.fround(-0.5), max: Math.fround(1.5), noNaN: true })

test('one axis: linear between entries, level outside', () => {
  const entries = Array.from({ length: 17 }, (_, i) => Math.fround(Math.sin(i)))
  floats.set(entries, table / 4)
  fc.assert(
    fc.property(fc.array(value, { minLength: 1, maxLength: 9 }), (values) => {
      floats.set(values, strip / 4)
      kernels.table1d(strip, values.length, table, 17, -0.25, 1)
      values.forEach((v, i) => {
        const at = Math.min(16, Math.max(0, (v + 0.25) * (16 / 1.25)))
        const cell = Math.min(15, Math.floor(at))
        expectClose(floats[strip / 4 + i], entries[cell] + (at - cell) * (entries[cell + 1] - entries[cell]), 4)
      })
    }),
  )
})

const size = 5
const entry = (r: number, g: number, b: number, c: number) => floats[table / 4 + ((b * size + g) * size + r) * 4 + c]

/** The tetrahedron of the cell that holds the point, found by sorting the shares. */
function tetrahedral(point: readonly number[], c: number): number {
  const at = point.map((v) => Math.min(size - 1, Math.max(0, v * (size - 1))))
  const cell = at.map((v) => Math.min(size - 2, Math.floor(v)))
  const shares = at.map((v, i) => v - cell[i])
  const order = [0, 1, 2].sort((i, j) => shares[j] - shares[i])
  const corner = [...cell]
  let sum = (1 - shares[order[0]]) * entry(corner[0], corner[1], corner[2], c)
  order.forEach((axis, k) => {
    corner[axis]++
    sum += (shares[axis] - (k < 2 ? shares[order[k + 1]] : 0)) * entry(corner[0], corner[1], corner[2], c)
  })
  return sum
}

test('a cube: tetrahedral between entries, level outside; alpha stays', () => {
  for (let i = 0; i < size ** 3 * 4; i++) floats[table / 4 + i] = Math.fround(Math.cos(i * 2.7))
  fc.assert(
    fc.property(fc.array(fc.tuple(value, value, value), { minLength: 1, maxLength: 6 }), (points) => {
      putStrip(
        bench,
        strip,
        points.map((p) => [...p, 0.25]),
      )
      kernels.table3d(strip, points.length, table, size, 0, 1)
      getStrip(bench, strip, points.length).forEach((found, i) => {
        for (let c = 0; c < 3; c++) expectClose(found[c], tetrahedral(points[i], c), 4)
        expect(found[3]).toBe(0.25)
      })
    }),
    { numRuns: 500 },
  )
})

test('a cube that names its own places changes nothing', () => {
  for (let b = 0; b < size; b++)
    for (let g = 0; g < size; g++)
      for (let r = 0; r < size; r++)
        floats.set(
          [r, g, b, 0].map((v) => v / (size - 1)),
          table / 4 + ((b * size + g) * size + r) * 4,
        )
  putStrip(bench, strip, [[0.1, 0.73, 0.4, 1]])
  kernels.table3d(strip, 1, table, size, 0, 1)
  getStrip(bench, strip, 1)[0].forEach((v, c) => expectClose(v, [0.1, 0.73, 0.4, 1][c], 1))
})

test('NaN counts as the start of the table', () => {
  floats.set([7, 8, 9], table / 4)
  floats[strip / 4] = NaN
  kernels.table1d(strip, 1, table, 3, 0, 1)
  expect(floats[strip / 4]).toBe(7)
})
