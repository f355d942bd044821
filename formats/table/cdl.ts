/** ASC CDL files: .cc, .ccc and .cdl (ASC Color Decision List 1.2). */

import { XMLParser } from 'fast-xml-parser'
import { UnusableTableError } from './errors'
import type { TableOperation, Triple } from './operations'

export type Tree = { readonly [name: string]: unknown }

const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  parseTagValue: false,
  parseAttributeValue: false,
  removeNSPrefix: true,
  trimValues: true,
})

/** @throws UnusableTableError */
export function parseXml(text: string, file: string): Tree {
  try {
    return parser.parse(text, true) as Tree
  } catch (error) {
    throw new UnusableTableError(file, `it is no XML (${error instanceof Error ? error.message : String(error)})`)
  }
}

/** @returns every element of a name, however deep, in order */
function named(tree: unknown, name: string): Tree[] {
  if (Array.isArray(tree)) return tree.flatMap((one) => named(one, name))
  if (tree === null || typeof tree !== 'object') return []
  return Object.entries(tree).flatMap(([key, value]) =>
    key === name ? ((Array.isArray(value) ? value : [value]) as Tree[]) : named(value, name),
  )
}

function triple(value: unknown, initial: number, what: string, file: string): Triple {
  if (value === undefined) return [initial, initial, initial]
  const numbers = String(value).trim().split(/\s+/).map(Number)
  if (numbers.length !== 3 || numbers.some((n) => !Number.isFinite(n)))
    throw new UnusableTableError(file, `its ${what} should be three numbers and is "${String(value)}"`)
  return numbers as unknown as Triple
}

/** From a ColorCorrection's or an ASC_CDL's SOPNode and SatNode. */
export function cdlOf(tree: Tree, file: string, clamp: boolean): TableOperation {
  const sop = (tree.SOPNode ?? {}) as Tree
  const saturation = Number(((tree.SatNode ?? tree.SATNode ?? {}) as Tree).Saturation ?? 1)
  const power = triple(sop.Power, 1, 'power', file)
  if (!(saturation >= 0) || power.some((p) => !(p > 0)))
    throw new UnusableTableError(file, 'its power must be above 0 and its saturation not below')
  const [slope, offset] = [triple(sop.Slope, 1, 'slope', file), triple(sop.Offset, 0, 'offset', file)]
  return { kind: 'cdl', slope, offset, power, saturation, clamp }
}

/** The first correction of the file. @throws UnusableTableError */
export function readCdl(text: string, file: string): TableOperation[] {
  const [first] = named(parseXml(text, file), 'ColorCorrection')
  if (first === undefined) throw new UnusableTableError(file, 'it holds no ColorCorrection')
  // An empty element comes as a text.
  return [cdlOf(typeof first === 'object' ? first : {}, file, true)]
}
