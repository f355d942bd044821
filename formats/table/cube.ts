/** .cube tables, one axis or three (Adobe, Cube LUT specification 1.0). */

import { UnusableTableError } from './errors'
import type { TableOperation } from './operations'

const mostAxis = 65536
const mostCube = 256

/** @throws UnusableTableError */
export function readCube(text: string, file: string): TableOperation[] {
  let size: { kind: 'table-1d' | 'table-3d'; size: number } | null = null
  let [least, most] = [
    [0, 0, 0],
    [1, 1, 1],
  ]
  const values: number[] = []
  let rows = 0
  text.split(/\r?\n/).forEach((raw, index) => {
    const line = raw.trim()
    if (line === '' || line.startsWith('#')) return
    const fail = (what: string): never => {
      throw new UnusableTableError(file, `line ${index + 1} ${what}`)
    }
    const words = line.split(/\s+/)
    const numbers = (count: number) => {
      const found = words.slice(1).map(Number)
      if (found.length !== count || found.some((n) => !Number.isFinite(n))) fail(`should have ${count} numbers`)
      return found
    }
    switch (words[0]) {
      case 'TITLE':
        return
      case 'LUT_1D_SIZE':
      case 'LUT_3D_SIZE': {
        const [count] = numbers(1)
        const kind = words[0] === 'LUT_1D_SIZE' ? 'table-1d' : 'table-3d'
        if (size) fail('names a second size')
        if (!Number.isInteger(count) || count < 2 || count > (kind === 'table-1d' ? mostAxis : mostCube))
          fail(`names a size of ${count}`)
        size = { kind, size: count }
        return
      }
      case 'DOMAIN_MIN':
        least = numbers(3)
        return
      case 'DOMAIN_MAX':
        most = numbers(3)
        return
      case 'LUT_1D_INPUT_RANGE':
      case 'LUT_3D_INPUT_RANGE': {
        const [from, to] = numbers(2)
        least = [from, from, from]
        most = [to, to, to]
        return
      }
      default: {
        const row = words.map(Number)
        if (row.length !== 3 || row.some((n) => !Number.isFinite(n)))
          fail(`is no row of three numbers ("${line.slice(0, 40)}")`)
        values.push(...row)
        rows++
      }
    }
  })
  const found = size as { kind: 'table-1d' | 'table-3d'; size: number } | null
  if (!found) throw new UnusableTableError(file, 'it does not say how large it is')
  const expected = found.kind === 'table-1d' ? found.size : found.size ** 3
  if (rows !== expected)
    throw new UnusableTableError(file, `it should have ${expected} rows of numbers and has ${rows}`)
  if (least.some((v, c) => v !== least[0] || most[c] !== most[0]) || !(most[0] > least[0]))
    throw new UnusableTableError(file, 'its channels have different domains, or an empty one')
  const entries =
    found.kind === 'table-3d'
      ? Float32Array.from(values)
      : Float32Array.from(
          { length: values.length },
          (_, i) => values[(i % found.size) * 3 + Math.floor(i / found.size)],
        )
  return [{ ...found, least: least[0], most: most[0], entries }]
}
