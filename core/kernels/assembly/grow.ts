/**
 * Coverage grown by a disc, or shrunk: of every channel the largest value, or the smallest, within a radius. Between pixels values
 * go on evenly, so that fractions of a pixel count. Packed pixels, one row of the disc at a time.
 */

import { PIXEL, between, oneNaN } from './lanes'

/**
 * What one row of the disc gives to a row of pixels: `to` becomes the largest of itself and of what lies within `half + part` pixels
 * to the left and to the right in a row that lies between two others.
 *
 * @param above address of the pixel `half + 1` to the left of the first output, in the one row @param below the same in the next
 * @param share of the way from the one to the other
 * @param work room for twice `count + 2 half + 2` pixels
 * @param sign 1, or -1 for the smallest, of which `to` holds the negative
 * @param first the disc's first row: what `to` held does not count
 */
export function growRow(
  to: usize,
  above: usize,
  below: usize,
  share: f32,
  count: i32,
  half: i32,
  part: f32,
  work: usize,
  sign: f32,
  first: i32,
): void {
  const length = count + 2 * half + 2
  const most = work + ((<usize>length) << 4)
  const down = f32x4.splat(share)
  const turned = f32x4.splat(sign)
  for (let i: usize = 0, end = (<usize>length) << 4; i < end; i += PIXEL) {
    const value = f32x4.mul(turned, between(v128.load(above + i), v128.load(below + i), down))
    v128.store(work + i, value)
    v128.store(most + i, value)
  }
  // The largest of 1, 2, 4, ... neighbours, until twice as many would be too many.
  const wide = 2 * half + 1
  let span = 1
  for (; span * 2 <= wide; span *= 2) {
    const next = (<usize>span) << 4
    for (let i: usize = 0, end = (<usize>(length - 2 * span + 1)) << 4; i < end; i += PIXEL)
      v128.store(most + i, f32x4.max(v128.load(most + i), v128.load(most + i + next)))
  }
  const rest = (<usize>(wide - span)) << 4
  const right = (<usize>wide) << 4
  const beyond = f32x4.splat(part)
  for (let i: usize = 0, end = (<usize>count) << 4; i < end; i += PIXEL) {
    const inside = f32x4.max(v128.load(most + i + PIXEL), v128.load(most + i + PIXEL + rest))
    const left = between(v128.load(work + i + PIXEL), v128.load(work + i), beyond)
    const last = between(v128.load(work + i + right), v128.load(work + i + right + PIXEL), beyond)
    const found = f32x4.max(inside, f32x4.max(left, last))
    v128.store(to + i, oneNaN(first ? found : f32x4.max(found, v128.load(to + i))))
  }
}

/** The negative of packed pixels; 0 stays 0. */
export function turnPacked(to: usize, count: i32): void {
  for (let i: usize = 0, end = (<usize>count) << 4; i < end; i += PIXEL)
    v128.store(to + i, f32x4.sub(f32x4.splat(0), v128.load(to + i)))
}
