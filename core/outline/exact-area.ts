/** The exact area of each pixel that closed lines wind round. */

import type { Sorted } from './pieces'

const { abs, floor, max, min } = Math

/** An edge as it goes through a row: between which heights, where it is there, and which way round. */
interface Edge {
  readonly top: number
  readonly bottom: number
  readonly at: number
  readonly slope: number
  readonly turn: 1 | -1
}

/**
 * Exact area of each pixel inside: between the heights at which edges begin, end or cross, their order does not change, so
 * what lies inside are trapezoids.
 *
 * @returns whether any of the row is inside
 */
export function areas(sorted: Sorted, row: number, x: number, y: number, count: number, area: Float64Array): boolean {
  const {
    pieces,
    edges: { start, numbers },
    simple,
  } = sorted
  area.fill(0, 0, count + 1)
  if (start[row] === start[row + 1]) return false
  if (simple) {
    addEdges(sorted, row, x, y, count, 1, area)
    fillFrom(area, count)
    return true
  }
  const edges: Edge[] = []
  const heights = [y, y + 1]
  for (let n = start[row]; n < start[row + 1]; n++) {
    const at = numbers[n]
    const [x0, y0, x1, y1] = [pieces[at], pieces[at + 1], pieces[at + 2], pieces[at + 3]]
    const top = max(y, min(y0, y1))
    const bottom = min(y + 1, max(y0, y1))
    if (!(bottom > top)) continue
    const slope = (x1 - x0) / (y1 - y0)
    edges.push({ top, bottom, slope, at: x0 - slope * y0, turn: y1 > y0 ? 1 : -1 })
    if (top > y) heights.push(top)
    if (bottom < y + 1) heights.push(bottom)
  }
  if (edges.length === 0) return false
  heights.sort((a, b) => a - b)
  for (let i = 0; i + 1 < heights.length; i++) band(edges, heights[i], heights[i + 1], area, x, count, 0)
  fillFrom(area, count)
  return true
}

/** What a line that crosses itself nowhere adds to a row: right of every edge, with its turn. */
export function addEdges(
  { pieces, edges: { start, numbers }, turn }: Sorted,
  row: number,
  x: number,
  y: number,
  count: number,
  weight: number,
  area: Float64Array,
): void {
  for (let n = start[row]; n < start[row + 1]; n++) {
    const at = numbers[n]
    const [x0, y0, x1, y1] = [pieces[at], pieces[at + 1], pieces[at + 2], pieces[at + 3]]
    const top = max(y, min(y0, y1))
    const bottom = min(y + 1, max(y0, y1))
    if (!(bottom > top)) continue
    const slope = (x1 - x0) / (y1 - y0)
    const height = (y1 > y0 ? bottom - top : top - bottom) * turn * weight
    rightOf(x0 + slope * (top - y0), x0 + slope * (bottom - y0), height, area, x, count)
  }
}

/** Differences from pixel to pixel become areas. */
export function fillFrom(area: Float64Array, count: number): void {
  let sum = 0
  for (let i = 0; i < count; i++) {
    sum += area[i]
    area[i] = abs(sum) < 1e-9 ? 0 : abs(sum - 1) < 1e-9 ? 1 : sum
  }
}

/** @param depth how often it was divided where edges cross */
function band(
  edges: readonly Edge[],
  top: number,
  bottom: number,
  area: Float64Array,
  x: number,
  count: number,
  depth: number,
): void {
  if (!(bottom - top > 1e-12)) return
  const middle = (top + bottom) / 2
  const here = edges.filter((edge) => edge.top <= top && edge.bottom >= bottom)
  here.sort((a, b) => a.at + a.slope * middle - (b.at + b.slope * middle))
  if (depth < 60)
    for (let i = 0; i + 1 < here.length; i++) {
      const [a, b] = [here[i], here[i + 1]]
      const above = a.at + a.slope * top - (b.at + b.slope * top)
      const below = a.at + a.slope * bottom - (b.at + b.slope * bottom)
      if (above <= 1e-12 && below <= 1e-12) continue
      const cross = (b.at - a.at) / (a.slope - b.slope)
      if (!(cross > top + 1e-12 && cross < bottom - 1e-12)) continue
      band(here, top, cross, area, x, count, depth + 1)
      band(here, cross, bottom, area, x, count, depth + 1)
      return
    }
  let winding = 0
  for (const edge of here) {
    const before = winding
    winding += edge.turn
    const sign = before === 0 ? 1 : winding === 0 ? -1 : 0
    if (sign !== 0)
      rightOf(edge.at + edge.slope * top, edge.at + edge.slope * bottom, sign * (bottom - top), area, x, count)
  }
}

/**
 * Adds what lies right of an edge, as differences from pixel to pixel.
 *
 * @param above where it enters the row @param below where it leaves it @param height of that part, with the sign of its turn
 */
function rightOf(above: number, below: number, height: number, area: Float64Array, x: number, count: number): void {
  const [one, other] = [above - x, below - x]
  let from = min(one, other)
  let to = max(one, other)
  if (from >= count) return
  if (to <= 0) {
    area[0] += height
    return
  }
  if (to - from < 1e-9) {
    const place = max(0, (from + to) / 2)
    const cell = min(count - 1, floor(place))
    area[cell] += height * (1 - (place - cell))
    area[cell + 1] += height * (place - cell)
    return
  }
  const each = height / (to - from)
  if (from < 0) {
    area[0] -= each * from
    from = 0
  }
  to = min(to, count)
  for (let cell = floor(from); from < to; cell++) {
    const end = min(cell + 1, to)
    const part = (end - from) * each
    const rest = (from + end) / 2 - cell
    area[cell] += part * (1 - rest)
    area[cell + 1] += part * rest
    from = end
  }
}
