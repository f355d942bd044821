/** How far a backing is covered. */

import { EIGHT_TENTHS, FIVE, MINUS_HALF, ONE, ONE_AND_HALF, excess, firstOther, frontExcess, number, secondOther } from './key-backing'
import { PLANE } from './lanes'
import { asShorts } from './shorts'

/**
 * Coverage to be softened: whole numbers of 16 bits. What is no number counts as more than all, so that its pixel is looked at.
 *
 * @param to room for `count` of them, up to a multiple of 8
 * @param stands plane: by how much the backing does
 * @param sure two planes: what is surely in front, softened; 0 where nothing is near
 * @returns whether some pixel has light, or what is no number, without coverage
 */
export function keyCoverage(to: usize, strip: usize, count: i32, k: usize, stands: usize, sure: usize): bool {
  if (sure !== 0) return coverageRow(to, strip, count, k, stands, sure)
  return coverageRow(to, strip, count, k, stands, 0)
}

// @ts-ignore: decorator
@inline
function coverageRow(to: usize, strip: usize, count: i32, k: usize, stands: usize, sure: usize): bool {
  const own = strip + k * PLANE
  const i = strip + firstOther(k) * PLANE
  const j = strip + secondOther(k) * PLANE
  const whole = strip + 3 * PLANE
  let lit = f32x4.splat(0)
  for (let o: usize = 0, end = <usize>count << 2; o < end; o += 32) {
    const near: usize = sure === 0 ? 0 : sure + o
    const nextNear: usize = sure === 0 ? 0 : sure + o + 16
    const own0 = v128.load(own + o)
    const own1 = v128.load(own + o, 16)
    const i0 = v128.load(i + o)
    const i1 = v128.load(i + o, 16)
    const j0 = v128.load(j + o)
    const j1 = v128.load(j + o, 16)
    const a0 = v128.load(whole + o)
    const a1 = v128.load(whole + o, 16)
    const low = shortCoverage(own0, i0, j0, a0, v128.load(stands + o), near)
    const high = shortCoverage(own1, i1, j1, a1, v128.load(stands + o, 16), nextNear)
    lit = v128.or(lit, v128.or(litOf(own0, i0, j0, a0), litOf(own1, i1, j1, a1)))
    v128.store(to + (o >> 1), i16x8.narrow_i32x4_s(low, high))
  }
  return v128.any_true(lit)
}

// @ts-ignore: decorator
@inline
function shortCoverage(own: v128, i: v128, j: v128, a: v128, stands: v128, sure: usize): v128 {
  const share = coverageAt(a, excess(own, i, j), stands, sure)
  const held = f32x4.pmax(f32x4.pmin(number(ONE_AND_HALF), share), number(MINUS_HALF))
  return asShorts(v128.and(held, f32x4.gt(a, f32x4.splat(0))))
}

/** What there is of light, or of what is no number, without coverage. */
// @ts-ignore: decorator
@inline
function litOf(own: v128, i: v128, j: v128, a: v128): v128 {
  return v128.andnot(v128.or(v128.or(own, i), v128.or(j, a)), f32x4.gt(a, f32x4.splat(0)))
}

/** What is wanting to the backing, not yet held to 0 and 1. `e` is the excess of the pixel, `s` of the backing. */
// @ts-ignore: decorator
@inline
export function coverageAt(a: v128, e: v128, s: v128, sure: usize): v128 {
  const left = f32x4.sub(f32x4.mul(a, s), e)
  if (sure === 0) return f32x4.div(left, s)
  const weight = v128.load(sure + PLANE)
  if (!v128.any_true(weight)) return f32x4.div(left, s)
  const near = f32x4.div(left, f32x4.sub(s, frontExcess(v128.load(sure), weight, s)))
  // Deep inside, where all around is surely in front, what is in front may vary as it likes.
  const surely = f32x4.mul(f32x4.sub(weight, number(EIGHT_TENTHS)), number(FIVE))
  const plain = f32x4.pmin(f32x4.sub(a, f32x4.div(e, s)), a)
  const mixed = f32x4.add(near, f32x4.mul(f32x4.pmin(surely, number(ONE)), f32x4.sub(plain, near)))
  return v128.bitselect(mixed, near, f32x4.gt(surely, f32x4.splat(0)))
}
