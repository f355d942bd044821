/** What a window's pixels are like: sums for mean and variance, extremes, and values by rank. */

/**
 * Adds one plane's row to its running sums, eight doubles at `to`: count, sum of (c - shift), sum of their squares, least,
 * most, how many are NaN, how many infinite, and `shift`, which the caller sets before (a value near the mean keeps the
 * variance exact). NaN and infinities are counted and otherwise left out.
 */
export function gather(to: usize, plane: usize, count: i32): void {
  const shift = f64.load(to, 56)
  let n = f64.load(to)
  let sum = f64.load(to, 8)
  let squares = f64.load(to, 16)
  let least = f64.load(to, 24)
  let most = f64.load(to, 32)
  let nans = f64.load(to, 40)
  let infinities = f64.load(to, 48)
  for (let p = plane, end = plane + (<usize>count << 2); p < end; p += 4) {
    const v = <f64>f32.load(p)
    if (v - v === 0) {
      const d = v - shift
      n += 1
      sum += d
      squares += d * d
      if (v < least) least = v
      if (v > most) most = v
    } else if (v !== v) nans += 1
    else infinities += 1
  }
  f64.store(to, n)
  f64.store(to, sum, 8)
  f64.store(to, squares, 16)
  f64.store(to, least, 24)
  f64.store(to, most, 32)
  f64.store(to, nans, 40)
  f64.store(to, infinities, 48)
}

/** Floats as whole numbers in the same order. */
// @ts-ignore: decorator
@inline
function ordered(bits: u32): u32 {
  return bits >>> 31 ? ~bits : bits | 0x80000000
}

/**
 * The value of rank `rank` (0 is the least) among `count` floats, NaN left out; NaN when there is none so
 * high. Exact: two passes over 65536 bins.
 *
 * @param bins 262144 bytes to work in
 */
export function valueOfRank(values: usize, count: i32, rank: i32, bins: usize): f32 {
  memory.fill(bins, 0, 262144)
  const end = values + (<usize>count << 2)
  for (let p = values; p < end; p += 4) {
    const v = f32.load(p)
    if (v === v) bump(bins, ordered(load<u32>(p)) >>> 16)
  }
  let left = rank
  const upper = find(bins, left)
  if (upper < 0) return NaN
  left -= before
  memory.fill(bins, 0, 262144)
  for (let p = values; p < end; p += 4) {
    const v = f32.load(p)
    if (v !== v) continue
    const key = ordered(load<u32>(p))
    if (<i32>(key >>> 16) === upper) bump(bins, key & 0xffff)
  }
  const key = (<u32>upper << 16) | <u32>find(bins, left)
  return reinterpret<f32>(key >>> 31 ? key ^ 0x80000000 : ~key)
}

let before: i32 = 0

// @ts-ignore: decorator
@inline
function bump(bins: usize, bin: u32): void {
  const at = bins + (<usize>bin << 2)
  store<u32>(at, load<u32>(at) + 1)
}

/** The bin that holds the rank; how many lie in the bins before it is left in `before`. -1 when there is none. */
function find(bins: usize, rank: i32): i32 {
  let sum = 0
  for (let bin = 0; bin < 65536; bin++) {
    const inBin = i32.load(bins + (<usize>bin << 2))
    if (sum + inBin > rank) {
      before = sum
      return bin
    }
    sum += inBin
  }
  return -1
}
