/**
 * Coverage of closed lines, row by row: the exact area of each pixel inside (winding number not zero), and where the edge is
 * soft or moved, by the distance from the line.
 */

import type { Lines } from '../graph/steps'
import { addEdges, areas, fillFrom } from './exact-area'
import { cornerNumbers } from './flattened'
import { sortedPieces } from './pieces'
import { distances, insides, Room, soften } from './soft-edge'

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

const { abs, max, min } = Math

/** Fills `count` values of a row from pixel (x, y) on. */
export type FillCoverage = (out: Float32Array, x: number, y: number, count: number) => void

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
  const sorted = lines.map((line) => sortedPieces(line, reach, rows))
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
            if (areas(one, row, x, y, count, room.area))
              for (let i = 0; i < count; i++) values[i] += weight * room.area[i]
            continue
          }
          const near = distances(one, row, x, y, count, reach, room)
          const crossed = insides(one, row, x, y, count, room)
          if (near) {
            if (hard) areas(one, row, x, y, count, room.area)
            soften(room, count, grow, linear, reach, weight, values)
          } else if (crossed) for (let i = 0; i < count; i++) values[i] += weight * room.inside[i]
        }
    for (let i = 0; i < count; i++) out[i] = values[i]
  }
}
