/** Lines as straight pieces, sorted into the rows of pixels that they touch or come near. */

import { cornerNumbers } from './flattened'

const { floor, max, min } = Math

/** Pieces of a line sorted into the rows that they touch, and those that they come near. */
export interface Sorted {
  /** x0, y0, x1, y1, feather inside and outside at both ends */
  readonly pieces: Float64Array
  readonly edges: Rows
  readonly near: Rows
  /** it crosses itself nowhere, so that areas can be added up as they come */
  readonly simple: boolean
  /** which way round it goes */
  readonly turn: 1 | -1
}

/** Numbers by row: those of row r lie from `start[r]` to `start[r + 1]`. */
export interface Rows {
  readonly start: Int32Array
  readonly numbers: Int32Array
}

const pieceNumbers = 8

/** @param reach how far a piece counts; 0: where it lies @param rows no others are asked for */
export function sortedPieces(
  line: Float64Array,
  reach: number,
  { first, count }: { readonly first: number; readonly count: number },
): Sorted {
  const pieces = piecesOf(line)
  const byRow = (more: number): Rows => {
    const start = new Int32Array(count + 1)
    const firstOf = (at: number) => max(0, floor(min(pieces[at + 1], pieces[at + 3]) - more) - first)
    const lastOf = (at: number) => min(count - 1, floor(max(pieces[at + 1], pieces[at + 3]) + more) - first)
    for (let at = 0; at < pieces.length; at += pieceNumbers)
      for (let r = firstOf(at), to = lastOf(at); r <= to; r++) start[r + 1]++
    for (let r = 0; r < count; r++) start[r + 1] += start[r]
    const numbers = new Int32Array(start[count])
    const next = start.slice()
    for (let at = 0; at < pieces.length; at += pieceNumbers)
      for (let r = firstOf(at), to = lastOf(at); r <= to; r++) numbers[next[r]++] = at
    return { start, numbers }
  }
  const edges = byRow(0)
  const near = reach > 0 ? byRow(reach) : { start: new Int32Array(count + 1), numbers: new Int32Array(0) }
  let twice = 0
  for (let at = 0; at < pieces.length; at += pieceNumbers)
    twice += pieces[at] * pieces[at + 3] - pieces[at + 2] * pieces[at + 1]
  return { pieces, edges, near, simple: isSimple(pieces), turn: twice > 0 ? -1 : 1 }
}

/** Pieces from corner to corner; a corner that is no number is between two lines. */
function piecesOf(line: Float64Array): Float64Array {
  const many = line.length / cornerNumbers
  const pieces = new Float64Array(many * pieceNumbers)
  let at = 0
  for (let i = 0; i < many; i++) {
    const from = i * cornerNumbers
    const to = i + 1 === many ? 0 : from + cornerNumbers
    if (Number.isNaN(line[from]) || Number.isNaN(line[to])) continue
    for (let k = 0; k < 2; k++) {
      pieces[at + k] = line[from + k]
      pieces[at + 2 + k] = line[to + k]
      pieces[at + 4 + k] = line[from + 2 + k]
      pieces[at + 6 + k] = line[to + 2 + k]
    }
    at += pieceNumbers
  }
  return pieces.subarray(0, at)
}

/** Whether no two pieces cross: those that share a height are compared, from the top down. */
function isSimple(pieces: Float64Array): boolean {
  const active: number[] = []
  for (const a of fromTheTop(pieces)) {
    const ax = pieces[a]
    const ay = pieces[a + 1]
    const bx = pieces[a + 2]
    const by = pieces[a + 3]
    const top = min(ay, by)
    const left = min(ax, bx)
    const right = max(ax, bx)
    let kept = 0
    for (const b of active) {
      const cx = pieces[b]
      const cy = pieces[b + 1]
      const dx = pieces[b + 2]
      const dy = pieces[b + 3]
      // Pieces come in whole rows: one may begin a little above the one before it.
      if (max(cy, dy) < top - 1) continue
      active[kept++] = b
      if (right < min(cx, dx) || max(cx, dx) < left) continue
      const one = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
      const other = (bx - ax) * (dy - ay) - (by - ay) * (dx - ax)
      if (one * other >= 0) continue
      const third = (dx - cx) * (ay - cy) - (dy - cy) * (ax - cx)
      const fourth = (dx - cx) * (by - cy) - (dy - cy) * (bx - cx)
      if (third * fourth < 0) return false
    }
    active.length = kept
    active.push(a)
  }
  return true
}

/** Pieces in the order of the rows in which they begin. */
function fromTheTop(pieces: Float64Array): Int32Array {
  let [least, most] = [Infinity, -Infinity]
  for (let at = 1; at < pieces.length; at += pieceNumbers) {
    least = min(least, pieces[at])
    most = max(most, pieces[at])
  }
  const rows = pieces.length === 0 ? 1 : floor(most) - floor(least) + 1
  const rowOf = (at: number) => floor(min(pieces[at + 1], pieces[at + 3])) - floor(least)
  const start = new Int32Array(rows + 1)
  for (let at = 0; at < pieces.length; at += pieceNumbers) start[rowOf(at) + 1]++
  for (let row = 0; row < rows; row++) start[row + 1] += start[row]
  const order = new Int32Array(pieces.length / pieceNumbers)
  for (let at = 0; at < pieces.length; at += pieceNumbers) order[start[rowOf(at)]++] = at
  return order
}
