/** Common LUT Format (S-2014-006, version 3): a list of operations. */

import { cdlOf, parseXml, type Tree } from './cdl'
import { UnusableTableError } from './errors'
import type { TableOperation, Triple } from './operations'

const list = (value: unknown): Tree[] =>
  value === undefined ? [] : ((Array.isArray(value) ? value : [value]) as Tree[])
const numbersIn = (value: unknown): number[] =>
  String(value ?? '')
    .trim()
    .split(/\s+/)
    .filter(Boolean)
    .map(Number)

/** Integers of a bit depth are shares of its largest code value. */
const scales: Readonly<Record<string, number>> = {
  '8i': 255,
  '10i': 1023,
  '12i': 4095,
  '16i': 65535,
  '16f': 1,
  '32f': 1,
}

/** The parser groups by name, so their order is read from the text. */
type Operation = 'Matrix' | 'LUT1D' | 'LUT3D' | 'Range' | 'ASC_CDL' | 'Log' | 'Exponent'

/** @throws UnusableTableError */
export function readClf(text: string, file: string): TableOperation[] {
  const root = parseXml(text, file).ProcessList as Tree | undefined
  if (!root) throw new UnusableTableError(file, 'it holds no ProcessList')
  const order = [
    ...text.replace(/<!--[\s\S]*?-->/g, '').matchAll(/<(?:\w+:)?(Matrix|LUT1D|LUT3D|Range|ASC_CDL|Log|Exponent)[\s>]/g),
  ].map(([, name]) => name as Operation)
  const taken = new Map<string, number>()
  const found = order.map((name) => {
    const at = taken.get(name) ?? 0
    taken.set(name, at + 1)
    return operationOf(name, list(root[name])[at], file)
  })
  if (found.length === 0) throw new UnusableTableError(file, 'it holds no operation that is known here')
  return found
}

function arrayOf(
  node: Tree,
  expected: readonly (readonly number[])[],
  file: string,
): { dims: number[]; values: number[] } {
  const array = node.Array as Tree | undefined
  const dims = numbersIn(array?.['@dim'])
  const values = numbersIn(typeof array === 'object' ? array['#text'] : array)
  const right = expected.some((one) => one.length === dims.length && one.every((n, i) => n === 0 || n === dims[i]))
  const count = dims.reduce((product, n) => product * n, 1)
  if (!right || values.some((n) => !Number.isFinite(n)))
    throw new UnusableTableError(file, `an array of ${dims.join(' x ') || 'no'} numbers cannot be read`)
  if (values.length !== count)
    throw new UnusableTableError(
      file,
      `an array of ${dims.join(' x ')} should have ${count} numbers and has ${values.length}`,
    )
  return { dims, values }
}

function operationOf(name: Operation, node: Tree, file: string): TableOperation {
  const [into, out] = ['@inBitDepth', '@outBitDepth'].map((key) => scales[String(node[key] ?? '32f')])
  if (!into || !out) throw new UnusableTableError(file, `its ${name} has a bit depth that is not known`)
  switch (name) {
    case 'Matrix': {
      const { dims, values } = arrayOf(
        node,
        [
          [3, 3],
          [3, 4],
          [3, 3, 3],
          [3, 4, 3],
        ],
        file,
      )
      const wide = dims[1]
      const row = (r: number): Triple => [0, 1, 2].map((c) => (values[r * wide + c] * into) / out) as unknown as Triple
      const offset = [0, 1, 2].map((r) => (wide === 4 ? values[r * wide + 3] / out : 0)) as unknown as Triple
      return { kind: 'matrix', rows: [row(0), row(1), row(2)], offset }
    }
    case 'LUT1D': {
      const { dims, values } = arrayOf(
        node,
        [
          [0, 1],
          [0, 3],
        ],
        file,
      )
      const [size, channels] = dims
      const entries = Float32Array.from({ length: size * 3 }, (_, i) => {
        const [c, entry] = [Math.floor(i / size), i % size]
        return values[entry * channels + (channels === 3 ? c : 0)] / out
      })
      return { kind: 'table-1d', size, least: 0, most: 1, entries }
    }
    case 'LUT3D': {
      const { dims, values } = arrayOf(node, [[0, 0, 0, 3]], file)
      const [size] = dims
      if (dims[1] !== size || dims[2] !== size)
        throw new UnusableTableError(file, 'its cube has sides of different sizes')
      // CLF runs blue fastest.
      const entries = new Float32Array(size ** 3 * 3)
      for (let r = 0, from = 0; r < size; r++)
        for (let g = 0; g < size; g++)
          for (let b = 0; b < size; b++)
            for (let c = 0; c < 3; c++) entries[((b * size + g) * size + r) * 3 + c] = values[from++] / out
      return { kind: 'table-3d', size, least: 0, most: 1, entries }
    }
    case 'Range':
      return rangeOf(node, into, out)
    case 'ASC_CDL': {
      const style = String(node['@style'] ?? 'Fwd')
      if (!/^Fwd/i.test(style)) throw new UnusableTableError(file, `its ASC_CDL of style ${style} is not read here`)
      return cdlOf(node, file, !/NoClamp/i.test(style))
    }
    case 'Log':
      return logOf(node, file)
    case 'Exponent': {
      const style = String(node['@style'] ?? '')
      const [params] = list(node.ExponentParams)
      const exponent = Number(params?.['@exponent'])
      if (!/^basic(Mirror)?(Fwd|Rev)$/.test(style) || !(exponent > 0))
        throw new UnusableTableError(file, `its Exponent of style "${style}" is not read here`)
      return {
        kind: 'power',
        exponent: style.endsWith('Rev') ? 1 / exponent : exponent,
        mirrored: style.includes('Mirror'),
      }
    }
  }
}

function rangeOf(node: Tree, into: number, out: number): TableOperation {
  const value = (name: string) => (node[name] === undefined ? null : Number(node[name]))
  const [minIn, maxIn, minOut, maxOut] = ['minInValue', 'maxInValue', 'minOutValue', 'maxOutValue'].map(value)
  const clamps = String(node['@style'] ?? 'Clamp') !== 'noClamp'
  const both = minIn !== null && maxIn !== null && minOut !== null && maxOut !== null
  const scale = both ? (maxOut - minOut) / out / ((maxIn - minIn) / into) : 1
  const offset = both
    ? minOut / out - (minIn / into) * scale
    : minIn !== null && minOut !== null
      ? minOut / out - minIn / into
      : 0
  return {
    kind: 'range',
    scale,
    offset,
    least: clamps && minOut !== null ? minOut / out : -Infinity,
    most: clamps && maxOut !== null ? maxOut / out : Infinity,
  }
}

function logOf(node: Tree, file: string): TableOperation {
  const style = String(node['@style'] ?? '')
  const plain = /^(anti)?[lL]og(2|10)$/.exec(style)
  if (plain) return { kind: plain[1] ? 'antilog' : 'log', base: Number(plain[2]) }
  const camera = /^(camera)?(linToLog|LinToLog|logToLin|LogToLin)$/.exec(style)
  const [params] = list(node.LogParams)
  if (!camera || !params) throw new UnusableTableError(file, `its Log of style "${style}" is not read here`)
  const of = (name: string, initial: number) =>
    params[`@${name}`] === undefined ? initial : Number(params[`@${name}`])
  const linBreak = params['@linSideBreak'] === undefined ? null : Number(params['@linSideBreak'])
  return {
    kind: 'camera-log',
    direction: /linTo/i.test(style) ? 'encode' : 'decode',
    base: of('base', 2),
    logSlope: of('logSideSlope', 1),
    logOffset: of('logSideOffset', 0),
    linSlope: of('linSideSlope', 1),
    linOffset: of('linSideOffset', 0),
    linBreak: camera[1] ? linBreak : null,
    linearSlope: params['@linearSlope'] === undefined ? null : Number(params['@linearSlope']),
  }
}
