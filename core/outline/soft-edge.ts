/** Edges that are soft, or moved: by the distance of each pixel's middle from the line. */

import type { Sorted } from './pieces'

const { abs, ceil, floor, max, min, sqrt } = Math

/** Numbers of one row. */
export class Room {
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

/** The nearest place of the line to each pixel's middle, and the feather there. @returns whether any is near */
export function distances(
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
export function insides(
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

export function soften(
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
