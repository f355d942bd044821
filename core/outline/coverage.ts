/**
 * Coverage of closed lines, row by row: the exact area of each pixel inside (winding number not zero), and where the edge is
 * soft or moved, by the distance from the line.
 */

import type { Lines } from '../graph/steps'
import { cornerNumbers } from './flattened'

/** Where lines can cover anything: inside these, in whole pixels; nothing where there is no line. */
export function reachOf({ lines, grow }: Lines): { x: number; y: number; width: number; height: number } {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity]
  let outside = 0
  for (const line of lines)
    for (let i = 0; i < line.length; i += cornerNumbers) {
      if (Number.isNaN(line[i])) continue
      left = Math.min(left, line[i])
      right = Math.max(right, line[i])
      top = Math.min(top, line[i + 1])
      bottom = Math.max(bottom, line[i + 1])
      outside = Math.max(outside, line[i + 3])
    }
  if (!(right >= left)) return { x: 0, y: 0, width: 0, height: 0 }
  const more = Math.max(0, grow + outside) + 1
  const [x, y] = [Math.floor(left - more), Math.floor(top - more)]
  return { x, y, width: Math.ceil(right + more) - x, height: Math.ceil(bottom + more) - y }
}

const { abs, ceil, floor, max, min, sqrt } = Math

/** Fills `count` values of a row from pixel (x, y) on. */
export type FillCoverage = (out: Float32Array, x: number, y: number, count: number) => void

/** Pieces of a line sorted into the rows that they touch, and those that they come near. */
interface Sorted {
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
interface Rows {
  readonly start: Int32Array
  readonly numbers: Int32Array
}

const pieceNumbers = 8

/** @param rows first row, and how many: no others are asked for */
export function coverageOf(shape: Lines, rows: { readonly first: number; readonly count: number }): FillCoverage {
  const { lines, grow, profile } = shape
  const linear = profile === 'linear'
  let [mostIn, mostOut, narrowest] = [0, 0, Infinity]
  for (const line of lines)
    for (let i = 0; i < line.length; i += cornerNumbers) {
      if (Number.isNaN(line[i])) continue
      mostIn = max(mostIn, line[i + 2])
      mostOut = max(mostOut, line[i + 3])
      narrowest = min(narrowest, line[i + 2] + line[i + 3])
    }
  // Exact areas count where an edge is as hard as a pixel.
  const hard = grow === 0 && narrowest < 1
  const plain = grow === 0 && mostIn === 0 && mostOut === 0
  const reach = plain ? 0 : max(mostOut + grow, mostIn - grow, abs(grow)) + 1
  const sorted = lines.map((line) => sort(line, reach, rows))
  const simple = sorted.every((one) => one.simple)
  const weight = 1 / max(1, lines.length)
  let room = new Room(64)
  const total = { values: new Float64Array(64) }

  return (out, x, y, count) => {
    if (room.length < count) {
      room = new Room(count)
      total.values = new Float64Array(count)
    }
    const { values } = total
    values.fill(0, 0, count)
    const row = y - rows.first
    if (row >= 0 && row < rows.count)
      if (plain && simple) {
        // Differences of all lines are added up, and filled once.
        room.area.fill(0, 0, count + 1)
        for (const one of sorted) addEdges(one, row, x, y, count, weight, room.area)
        fillFrom(room.area, count)
        for (let i = 0; i < count; i++) values[i] = room.area[i]
      } else
        for (const one of sorted) {
          if (plain) {
            if (areas(one, row, x, y, count, room)) for (let i = 0; i < count; i++) values[i] += weight * room.area[i]
            continue
          }
          const near = distances(one, row, x, y, count, reach, room)
          const crossed = insides(one, row, x, y, count, room)
          if (near) {
            if (hard) areas(one, row, x, y, count, room)
            soften(room, count, grow, linear, reach, weight, values)
          } else if (crossed) for (let i = 0; i < count; i++) values[i] += weight * room.inside[i]
        }
    for (let i = 0; i < count; i++) out[i] = values[i]
  }
}

/** Numbers of one row. */
class Room {
  readonly area: Float64Array
  readonly squared: Float64Array
  readonly nearX: Float64Array
  readonly nearY: Float64Array
  readonly within: Float64Array
  readonly without: Float64Array
  readonly inside: Uint8Array
  crossings = new Float64Array(64)
  turns = new Int8Array(64)
  constructor(readonly length: number) {
    this.area = new Float64Array(length + 1)
    this.squared = new Float64Array(length)
    this.nearX = new Float64Array(length)
    this.nearY = new Float64Array(length)
    this.within = new Float64Array(length)
    this.without = new Float64Array(length)
    this.inside = new Uint8Array(length)
  }
}

function sort(
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
function areas(sorted: Sorted, row: number, x: number, y: number, count: number, room: Room): boolean {
  const {
    pieces,
    edges: { start, numbers },
    simple,
  } = sorted
  const { area } = room
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
function addEdges(
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
function fillFrom(area: Float64Array, count: number): void {
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

/** The nearest place of the line to each pixel's middle, and the feather there. @returns whether any is near */
function distances(
  { pieces, near: { start, numbers } }: Sorted,
  row: number,
  x: number,
  y: number,
  count: number,
  reach: number,
  room: Room,
): boolean {
  if (start[row] === start[row + 1]) return false
  const { squared, nearX, nearY, within, without } = room
  const far = reach * reach
  squared.fill(far, 0, count)
  const py = y + 0.5
  let found = false
  for (let n = start[row]; n < start[row + 1]; n++) {
    const at = numbers[n]
    const [x0, y0, dx, dy] = [pieces[at], pieces[at + 1], pieces[at + 2] - pieces[at], pieces[at + 3] - pieces[at + 1]]
    const above = max(0, min(y0, y0 + dy) - py, py - max(y0, y0 + dy))
    if (above >= reach) continue
    const side = sqrt(far - above * above)
    const from = max(0, ceil(min(x0, x0 + dx) - side - x - 0.5))
    const to = min(count - 1, floor(max(x0, x0 + dx) + side - x - 0.5))
    const length = dx * dx + dy * dy
    const over = length > 0 ? 1 / length : 0
    const [in0, out0] = [pieces[at + 4], pieces[at + 5]]
    const [inMore, outMore] = [pieces[at + 6] - in0, pieces[at + 7] - out0]
    for (let i = from; i <= to; i++) {
      const px = x + i + 0.5
      const share = max(0, min(1, ((px - x0) * dx + (py - y0) * dy) * over))
      const [ax, ay] = [px - x0 - share * dx, py - y0 - share * dy]
      const distance = ax * ax + ay * ay
      if (distance >= squared[i]) continue
      squared[i] = distance
      nearX[i] = ax
      nearY[i] = ay
      within[i] = in0 + share * inMore
      without[i] = out0 + share * outMore
      found = true
    }
  }
  return found
}

/** Whether each pixel's middle is inside. @returns whether the line goes through the row at all */
function insides(
  { pieces, edges: { start, numbers } }: Sorted,
  row: number,
  x: number,
  y: number,
  count: number,
  room: Room,
): boolean {
  const { inside } = room
  inside.fill(0, 0, count)
  const py = y + 0.5
  const many = start[row + 1] - start[row]
  if (room.crossings.length < many) {
    room.crossings = new Float64Array(many)
    room.turns = new Int8Array(many)
  }
  const { crossings, turns } = room
  let found = 0
  for (let n = start[row]; n < start[row + 1]; n++) {
    const at = numbers[n]
    const [x0, y0, x1, y1] = [pieces[at], pieces[at + 1], pieces[at + 2], pieces[at + 3]]
    if (y0 <= py === y1 <= py) continue
    const place = x0 + ((py - y0) * (x1 - x0)) / (y1 - y0)
    let slot = found++
    for (; slot > 0 && crossings[slot - 1] > place; slot--) {
      crossings[slot] = crossings[slot - 1]
      turns[slot] = turns[slot - 1]
    }
    crossings[slot] = place
    turns[slot] = y1 > y0 ? 1 : -1
  }
  let winding = 0
  for (let i = 0; i + 1 < found; i++) {
    winding += turns[i]
    if (winding === 0) continue
    const from = max(0, ceil(crossings[i] - x - 0.5))
    const to = min(count, ceil(crossings[i + 1] - x - 0.5))
    if (to > from) inside.fill(1, from, to)
  }
  return found > 0
}

function soften(
  { area, squared, nearX, nearY, within, without, inside }: Room,
  count: number,
  grow: number,
  linear: boolean,
  reach: number,
  weight: number,
  values: Float64Array,
): void {
  const far = reach * reach
  for (let i = 0; i < count; i++) {
    if (squared[i] >= far) {
      values[i] += weight * inside[i]
      continue
    }
    const distance = sqrt(squared[i])
    const away = (inside[i] ? -distance : distance) - grow
    const [inner, outer] = [within[i], without[i]]
    const width = inner + outer
    if (away >= outer + 0.75) continue
    if (away <= -inner - 0.75) {
      values[i] += weight
      continue
    }
    const wide = width >= 1
    // Below a pixel's width a soft edge goes over into the area of a hard one.
    const hard = wide ? 0 : grow === 0 ? area[i] : halfPlane(away, nearX[i], nearY[i], distance)
    const [low, high] = wide ? [inner, outer] : width > 0 ? [inner / width, outer / width] : [0.5, 0.5]
    const fallen = width > 0 ? meanFall(away, low, high, linear) : 0
    values[i] += weight * (wide ? fallen : hard + (fallen - hard) * width)
  }
}

/** Area of a pixel on the near side of a straight edge at a distance from its middle. */
function halfPlane(away: number, nearX: number, nearY: number, distance: number): number {
  const over = distance > 1e-9 ? 1 / distance : 0
  const [one, other] = over > 0 ? [abs(nearX) * over, abs(nearY) * over] : [1, 0]
  const [a, b] = [max(one, other), min(one, other)]
  const within = -away
  const half = (a + b) / 2
  if (within >= half) return 1
  if (within <= -half) return 0
  if (abs(within) <= (a - b) / 2) return 0.5 + within / a
  const rest = half - abs(within)
  const corner = (rest * rest) / (2 * a * b)
  return within > 0 ? 1 - corner : corner
}

/** How coverage falls from 1 inside to 0 outside, over the width of a pixel (Simpson's rule). */
function meanFall(away: number, inner: number, outer: number, linear: boolean): number {
  return (
    (fall(away - 0.5, inner, outer, linear) +
      4 * fall(away, inner, outer, linear) +
      fall(away + 0.5, inner, outer, linear)) /
    6
  )
}

function fall(away: number, inner: number, outer: number, linear: boolean): number {
  const share = max(0, min(1, (outer - away) / (inner + outer)))
  return linear ? share : share * share * (3 - 2 * share)
}
