/**
 * The backing of a key: its light, and by how much one channel of it, the backing's own, stands above the larger of the other two (its
 * excess). Coverage follows from the excess of the pixel, of the backing there, and of what is in front.
 *
 * Settings, doubles: the backing as a surface of second order for each channel (1, u, v, u2, uv, v2: 18 numbers), where u and v are 0
 * (2) and how many pixels are 1 (1). `k` is which channel is the backing's: of an integer, since one that is made of a float here is made
 * again for every vector (45 cycles). `clean` is a strip of the backing filmed alone, or 0.
 *
 * Along a row the backing's light in a channel is a + b u + c u2. The numbers of a row are worked out once and kept in `scratch`: what
 * is computed before a loop and only used in it is otherwise computed anew on every turn.
 */

import { PLANE, scratch } from './lanes'

/**
 * Numbers that loops need. A constant is put together anew by three instructions or more on every turn; from memory it takes one.
 */
const numbers = memory.data<f32>([1, 1.5, -0.5, 1e-4, 0.9, 10, 1e-6, 0.2, 1000, 0.8, 5, 3])
export const ONE: usize = 0
export const ONE_AND_HALF: usize = 4
export const MINUS_HALF: usize = 8
/** Backing light must stand out by so much, or there is none. */
const LEAST: usize = 12
export const NINE_TENTHS: usize = 16
export const TEN: usize = 20
export const MILLIONTH: usize = 24
const FIFTH: usize = 28
const THOUSAND: usize = 32
export const EIGHT_TENTHS: usize = 36
export const FIVE: usize = 40
export const THREE: usize = 44

/** One of them, four times. */
// @ts-ignore: decorator
@inline
export function number(which: usize): v128 {
  return v128.load32_splat(numbers + which)
}

const iota = memory.data<i32>([0, 1, 2, 3], 16)

/** Four pixels from `x` on; the next four are `nextFour` of them. */
// @ts-ignore: decorator
@inline
export function fourFrom(x: i32): v128 {
  return i32x4.add(i32x4.splat(x), v128.load(iota))
}

// @ts-ignore: decorator
@inline
export function nextFour(pixels: v128): v128 {
  return i32x4.add(pixels, v128.load32_splat(fours))
}

const fours = memory.data<i32>([4])

/** Where in `scratch` the numbers of a row lie, bytes: of the three channels, the backing's first; what it stands out by; across. */
const OWN: usize = 0
const FIRST: usize = 12
const SECOND: usize = 24
const OVER_FIRST: usize = 36
const OVER_SECOND: usize = 48
const MIDDLE: usize = 60
const OVER: usize = 64
/** Eight whole numbers of 16 bits: softened coverage up to which nothing is there. */
export const CLEAR: usize = 80

/** @param y of the row's middle @returns where they lie: `scratch` */
export function writeRow(settings: usize, k: usize, y: f64): usize {
  const over = 1 / f64.load(settings + (20 << 3))
  const v = (y - f64.load(settings + (19 << 3))) * over
  writeChannel(scratch + OWN, settings + k * 48, v)
  writeChannel(scratch + FIRST, settings + firstOther(k) * 48, v)
  writeChannel(scratch + SECOND, settings + secondOther(k) * 48, v)
  for (let i: usize = 0; i < 12; i += 4) {
    f32.store(scratch + OVER_FIRST + i, f32.load(scratch + OWN + i) - f32.load(scratch + FIRST + i))
    f32.store(scratch + OVER_SECOND + i, f32.load(scratch + OWN + i) - f32.load(scratch + SECOND + i))
  }
  f32.store(scratch + MIDDLE, <f32>(f64.load(settings + (18 << 3)) - 0.5))
  f32.store(scratch + OVER, <f32>over)
  return scratch
}

function writeChannel(to: usize, at: usize, v: f64): void {
  f32.store(to, <f32>(f64.load(at) + v * (f64.load(at, 16) + v * f64.load(at, 40))))
  f32.store(to, <f32>(f64.load(at, 8) + v * f64.load(at, 32)), 4)
  f32.store(to, <f32>f64.load(at, 24), 8)
}

/** A second-order sum at four pixels; its numbers lie at `at` in `scratch`. */
// @ts-ignore: decorator
@inline
function along(row: usize, at: usize, u: v128): v128 {
  const slope = f32x4.add(v128.load32_splat(row + at + 4), f32x4.mul(u, v128.load32_splat(row + at + 8)))
  return f32x4.add(v128.load32_splat(row + at), f32x4.mul(u, slope))
}

/** Where pixels lie across: each by its own number alone, so that it does not matter where a window begins. */
// @ts-ignore: decorator
@inline
function acrossOf(row: usize, pixels: v128): v128 {
  const from = f32x4.sub(f32x4.convert_i32x4_s(pixels), v128.load32_splat(row + MIDDLE))
  return f32x4.mul(from, v128.load32_splat(row + OVER))
}

// @ts-ignore: decorator
@inline
export function firstOther(k: usize): usize {
  return k === 0 ? 1 : 0
}

// @ts-ignore: decorator
@inline
export function secondOther(k: usize): usize {
  return k === 2 ? 1 : 2
}

// @ts-ignore: decorator
@inline
export function excess(a: v128, b: v128, c: v128): v128 {
  return f32x4.sub(a, f32x4.pmax(b, c))
}

/** Light of the backing at four pixels: in its own channel (0), or the first or second other (1, 2). */
// @ts-ignore: decorator
@inline
export function backingAt(which: i32, row: usize, pixels: v128, clean: usize, channel: usize): v128 {
  if (clean !== 0) return v128.load(clean + channel * PLANE)
  const at = which === 0 ? OWN : which === 1 ? FIRST : SECOND
  return f32x4.pmax(along(row, at, acrossOf(row, pixels)), f32x4.splat(0))
}

/** By how much the backing stands out at four pixels. */
// @ts-ignore: decorator
@inline
export function standsAt(row: usize, pixels: v128, clean: usize, k: usize): v128 {
  const stands = clean === 0 ? surfaceStands(row, pixels) : cleanStands(clean, k)
  return f32x4.pmax(stands, number(LEAST))
}

// @ts-ignore: decorator
@inline
function surfaceStands(row: usize, pixels: v128): v128 {
  const u = acrossOf(row, pixels)
  return f32x4.pmin(along(row, OVER_FIRST, u), along(row, OVER_SECOND, u))
}

// @ts-ignore: decorator
@inline
function cleanStands(clean: usize, k: usize): v128 {
  const i = firstOther(k) * PLANE
  const j = secondOther(k) * PLANE
  return excess(v128.load(clean + k * PLANE), v128.load(clean + i), v128.load(clean + j))
}

/**
 * The same of a row: one plane. In a loop of its own: together with what follows from it, too few pixels are under way at a time.
 */
export function keyStands(to: usize, count: i32, x: i32, y: f64, k: usize, settings: usize, clean: usize): void {
  const row = writeRow(settings, k, y)
  if (clean === 0) standsRow(to, count, x, row, k, 0)
  else standsRow(to, count, x, row, k, clean)
}

// @ts-ignore: decorator
@inline
function standsRow(to: usize, count: i32, x: i32, row: usize, k: usize, clean: usize): void {
  let pixels = fourFrom(x)
  for (let o: usize = 0, end = <usize>count << 2; o < end; o += 32) {
    const second = nextFour(pixels)
    v128.store(to + o, standsAt(row, pixels, clean === 0 ? 0 : clean + o, k))
    v128.store(to + o, standsAt(row, second, clean === 0 ? 0 : clean + o + 16, k), 16)
    pixels = nextFour(second)
  }
}

/** The excess of what is in front near a pixel, as far as it is known; no more than a fifth of the backing's. */
// @ts-ignore: decorator
@inline
export function frontExcess(light: v128, weight: v128, s: v128): v128 {
  const mean = f32x4.div(light, f32x4.pmax(weight, number(MILLIONTH)))
  const held = f32x4.pmin(mean, f32x4.mul(s, number(FIFTH)))
  // Far from all that is surely in front it is taken to be neutral.
  const known = f32x4.pmin(f32x4.mul(weight, number(THOUSAND)), number(ONE))
  return f32x4.mul(held, known)
}
