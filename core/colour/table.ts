/**
 * Tables as the engine takes them: parts that follow each other, packed into one run of floats so that they can be kept in
 * its memory like a frame.
 *
 * Layout, in 32-bit words, every part at a multiple of four: the number of parts, three unused; then for each part its kind
 * (0 colour steps, 1 one axis, 3 three), its size (of steps: their words), least and most, and the words of what it holds: a colour program; three
 * runs of `size` entries; `size`^3 entries of four.
 */

import { programBytes, writeProgram, type ColourStep } from '../kernels/colour-program'
import { planeBytes, type Kernels } from '../kernels/kernels'

export type TablePart =
  | { readonly kind: 'steps'; readonly steps: readonly ColourStep[] }
  | {
      readonly kind: 'axis'
      readonly size: number
      readonly least: number
      readonly most: number
      /** red's, green's, blue's */
      readonly entries: Float32Array
    }
  | {
      readonly kind: 'cube'
      readonly size: number
      readonly least: number
      readonly most: number
      /** three each, red fastest */
      readonly entries: Float32Array
    }

const kinds = { steps: 0, axis: 1, cube: 3 } as const
const headWords = 4

function wordsOf(part: TablePart): number {
  if (part.kind === 'steps') return programBytes(part.steps) / 4
  return part.kind === 'axis' ? part.size * 3 : part.size ** 3 * 4
}
const padded = (words: number) => Math.ceil(words / 4) * 4

export function packTable(parts: readonly TablePart[]): Float32Array {
  const total = parts.reduce((sum, part) => sum + headWords + padded(wordsOf(part)), headWords)
  const floats = new Float32Array(total)
  const words = new Int32Array(floats.buffer)
  words[0] = parts.length
  let at = headWords
  for (const part of parts) {
    words[at] = kinds[part.kind]
    if (part.kind === 'steps') {
      words[at + 1] = wordsOf(part)
      writeProgram(floats.buffer, (at + headWords) * 4, part.steps)
    } else {
      words[at + 1] = part.size
      floats[at + 2] = part.least
      floats[at + 3] = part.most
      if (part.kind === 'axis') floats.set(part.entries, at + headWords)
      else
        for (let i = 0; i < part.size ** 3; i++)
          floats.set(part.entries.subarray(i * 3, i * 3 + 3), at + headWords + i * 4)
    }
    at += headWords + padded(wordsOf(part))
  }
  return floats
}

/** @returns what runs a packed table at an address divisible by 16 over the first pixels of a strip */
export function tableAt(kernels: Kernels, address: number): (strip: number, count: number) => void {
  const words = new Int32Array(kernels.memory)
  const floats = new Float32Array(kernels.memory)
  const runs: ((strip: number, count: number) => void)[] = []
  let at = address / 4 + headWords
  for (let part = 0; part < words[address / 4]; part++) {
    const [kind, size, least, most] = [words[at], words[at + 1], floats[at + 2], floats[at + 3]]
    const held = (at + headWords) * 4
    if (kind === kinds.steps) runs.push((strip, count) => kernels.colourProgram(strip, count, held))
    else if (kind === kinds.axis)
      runs.push((strip, count) => {
        for (let c = 0; c < 3; c++)
          kernels.table1d(strip + c * planeBytes, count, held + c * size * 4, size, least, most)
      })
    else runs.push((strip, count) => kernels.table3d(strip, count, held, size, least, most))
    at += headWords + padded(kind === kinds.steps ? size : kind === kinds.axis ? size * 3 : size ** 3 * 4)
  }
  return (strip, count) => runs.forEach((run) => run(strip, count))
}
