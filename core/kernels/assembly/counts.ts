/** Counts the pixels of a strip by level and by colour: what scopes are drawn from. See core/kernels/counting.ts. */

import { srgbHeld } from './curves'
import { PLANE, scratch } from './lanes'

/** Pixels that an element covers by less than half say nothing about it. */
const LEAST_COVERAGE: f32 = 0.5
/** Levels are counted by the upper bits of the float: 32 in every doubling, from 2^-12 on. */
const LEVELS: i32 = 512
const SHIFT: i32 = 18
const LOWEST: i32 = (127 - 12) << 5

// @ts-ignore: decorator
@inline
function bump(counts: usize, index: i32): void {
  const at = counts + (<usize>index << 2)
  store<u32>(at, load<u32>(at) + 1)
}

/**
 * Adds a plane's levels to the counts of the columns that its pixels lie in, 512 words a column. What is not above 0, NaN
 * included, is counted with the lowest level, what is too bright with the highest.
 *
 * @param alpha the coverage of the same pixels
 * @param place of the first pixel, from the left of the window
 * @param width of the window, in pixels: its columns share it as evenly as whole pixels allow
 */
export function countLevels(
  counts: usize,
  plane: usize,
  alpha: usize,
  count: i32,
  place: i32,
  width: i32,
  columns: i32,
): void {
  let column = <i32>((<i64>place * columns) / width)
  let over = <i32>(<i64>place * columns - <i64>column * width)
  for (let i = 0; i < count; i++) {
    if (load<f32>(alpha + (<usize>i << 2)) >= LEAST_COVERAGE) {
      const v = load<f32>(plane + (<usize>i << 2))
      const level = v > 0 ? min(LEVELS - 1, max(0, (reinterpret<i32>(v) >> SHIFT) - LOWEST)) : 0
      bump(counts, column * LEVELS + level)
    }
    over += columns
    while (over >= width) {
      over -= width
      column++
    }
  }
}

/** How far from the middle the plane of colour differences reaches, and Rec.709's luma (ITU-R BT.709, 3.3). */
const MOST: f32 = 0.25
const KR: f32 = 0.2126
const KB: f32 = 0.0722

// @ts-ignore: decorator
@inline
function cell(difference: f32, half: f32, size: i32): i32 {
  return max(0, min(size - 1, <i32>floor<f32>((difference / MOST + 1) * half)))
}

/**
 * Adds a strip's colours, seen through sRGB, to a plane of `size` x `size` words: blue minus luma to the right, red minus
 * luma upwards, row by row from the upper left.
 */
export function countColours(counts: usize, strip: usize, count: i32, size: i32): void {
  for (let c: usize = 0; c < 3; c++) {
    for (let at: usize = c * PLANE, end = at + (<usize>count << 2); at < end; at += 16)
      v128.store(scratch + at, srgbHeld(v128.load(strip + at)))
  }
  const half = <f32>size * 0.5
  for (let p = scratch, a = strip + 3 * PLANE, end = p + (<usize>count << 2); p < end; p += 4, a += 4) {
    if (!(load<f32>(a) >= LEAST_COVERAGE)) continue
    const r = load<f32>(p)
    const b = load<f32>(p, 2 * PLANE)
    const y = KR * r + (1 - KR - KB) * load<f32>(p, PLANE) + KB * b
    const across = cell((b - y) / (2 * (1 - KB)), half, size)
    const up = cell((r - y) / (2 * (1 - KR)), half, size)
    bump(counts, (size - 1 - up) * size + across)
  }
}
