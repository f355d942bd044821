/** Reads a colour table into what the engine keeps of it. */

import { readFile } from 'node:fs/promises'
import type { SourceFrame } from '../../core/engine/source-frame'
import { packTable, type TablePart } from '../../core/colour/table'
import type { ColourStep, Pieces, Rgb } from '../../core/kernels/colour-program'
import { readTable, type TableOperation } from '../../formats/table'

/** Rec.709's weights, which the ASC CDL prescribes whatever the pixels are. */
const cdlWeights = [0.2126, 0.7152, 0.0722] as const

/** @throws UnusableTableError */
export async function readTableFile(path: string, name: string): Promise<SourceFrame> {
  const samples = packTable(partsOf(readTable(await readFile(path, 'utf8'), name)))
  const window = { x: 0, y: 0, width: samples.length, height: 1 }
  return {
    decoded: true,
    dataWindow: window,
    displayWindow: window,
    planes: [{ name: 'table', type: 'float', samples }],
  }
}

export function partsOf(operations: readonly TableOperation[]): TablePart[] {
  return operations.map((operation): TablePart => {
    if (operation.kind === 'table-1d') return { ...operation, kind: 'axis' }
    if (operation.kind === 'table-3d') return { ...operation, kind: 'cube' }
    return { kind: 'steps', steps: stepsOf(operation) }
  })
}

const all = (value: number): Rgb => [value, value, value]
const scaled = (by: number, offset = 0): ColourStep => ({ do: 'affine', gain: all(by), veil: all(offset) })

function stepsOf(operation: Exclude<TableOperation, { kind: 'table-1d' | 'table-3d' }>): ColourStep[] {
  switch (operation.kind) {
    case 'matrix':
      return [
        { do: 'matrix', rows: operation.rows },
        ...(operation.offset.every((v) => v === 0)
          ? []
          : [{ do: 'affine', gain: all(1), veil: operation.offset } as const]),
      ]
    case 'range': {
      const { scale, offset, least, most } = operation
      return [scaled(scale, offset), { do: 'clamp', least, most }]
    }
    case 'cdl': {
      const { slope, offset, power, saturation, clamp } = operation
      const row = (c: number): Rgb =>
        cdlWeights.map((w, i) => (1 - saturation) * w + (i === c ? saturation : 0)) as unknown as Rgb
      const clamped: ColourStep[] = clamp ? [{ do: 'clamp', least: 0, most: 1 }] : []
      return [
        { do: 'affine', gain: slope, veil: offset },
        ...clamped,
        { do: 'power', exponent: power },
        { do: 'matrix', rows: [row(0), row(1), row(2)] },
        ...clamped,
      ]
    }
    case 'power':
      return operation.mirrored
        ? [{ do: 'mirrored-power', exponent: operation.exponent }]
        : [
            { do: 'clamp', least: 0, most: Infinity },
            { do: 'mirrored-power', exponent: operation.exponent },
          ]
    case 'log':
      return [
        { do: 'clamp', least: 1.17549435e-38, most: Infinity },
        { do: 'log2' },
        scaled(1 / Math.log2(operation.base)),
      ]
    case 'antilog':
      return [scaled(Math.log2(operation.base)), { do: 'exp2' }]
    case 'camera-log':
      return [
        {
          do: operation.direction === 'encode' ? 'pieces-from-linear' : 'linear-from-pieces',
          pieces: piecesOf(operation),
        },
      ]
  }
}

/** Where no slope is given below the break, the curve goes on straight as it was (S-2014-006, Log). */
function piecesOf(operation: Extract<TableOperation, { kind: 'camera-log' }>): Pieces {
  const { base, logSlope, logOffset, linSlope, linOffset, linBreak, linearSlope } = operation
  const upper = { o: logOffset, k: Math.log2(base) / logSlope, b: linOffset, s: 1 / linSlope }
  if (linBreak === null)
    return {
      upper,
      lower: null,
      straight: { zero: 0, slope: 1 },
      cutsInCode: [-Infinity, -Infinity],
      cutsInLight: [-Infinity, -Infinity],
    }
  const inside = linSlope * linBreak + linOffset
  const codeAtBreak = (logSlope * Math.log2(inside)) / Math.log2(base) + logOffset
  const slope = linearSlope ?? (logSlope * linSlope) / (inside * Math.log(base))
  return {
    upper,
    lower: null,
    straight: { zero: codeAtBreak - slope * linBreak, slope: 1 / slope },
    cutsInCode: [-Infinity, codeAtBreak],
    cutsInLight: [-Infinity, linBreak],
  }
}
