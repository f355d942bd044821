/**
 * The reordering of bytes that ZIP and RLE blocks of EXR files share: even bytes before odd ones, each stored as the
 * difference from the one before it, plus 128 (openexr.com, "Technical Introduction to OpenEXR", predictor).
 */

/** The lanes' running sums, modulo 256. */
// @ts-ignore: decorator
@inline
function runningSums(bytes: v128): v128 {
  const none = i8x16.splat(0)
  bytes = i8x16.add(bytes, v128.shuffle<i8>(none, bytes, 0, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27, 28, 29, 30))
  bytes = i8x16.add(bytes, v128.shuffle<i8>(none, bytes, 0, 1, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27, 28, 29))
  bytes = i8x16.add(bytes, v128.shuffle<i8>(none, bytes, 0, 1, 2, 3, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27))
  return i8x16.add(bytes, v128.shuffle<i8>(none, bytes, 0, 1, 2, 3, 4, 5, 6, 7, 16, 17, 18, 19, 20, 21, 22, 23))
}

/** The sum of `count` bytes, modulo 256. */
function sumOfBytes(from: usize, count: i32): i32 {
  let sums = i8x16.splat(0)
  let i = 0
  for (; i + 16 <= count; i += 16) sums = i8x16.add(sums, v128.load(from + <usize>i))
  let sum = i8x16.extract_lane_u(runningSums(sums), 15) as i32
  for (; i < count; i++) sum += load<u8>(from + <usize>i)
  return sum & 255
}

/** Undoes it: `count` bytes as they are stored to `count` bytes as they are meant. The pieces must not overlap. */
export function gatherBytes(to: usize, stored: usize, count: i32): void {
  const half = (count + 1) >> 1
  const paired = count >> 1
  const second = stored + <usize>half
  // The second half goes on where the first one ends.
  let even = 128
  let odd = 128 + sumOfBytes(stored, half) + ((half & 1) << 7)
  const away = i8x16.splat(<i8>-128)
  let evens = i8x16.splat(<i8>even)
  let odds = i8x16.splat(<i8>odd)
  let i = 0
  for (; i + 16 <= paired; i += 16) {
    evens = i8x16.add(evens, runningSums(i8x16.add(v128.load(stored + <usize>i), away)))
    odds = i8x16.add(odds, runningSums(i8x16.add(v128.load(second + <usize>i), away)))
    const t = to + (<usize>i << 1)
    v128.store(t, v128.shuffle<i8>(evens, odds, 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23))
    v128.store(t, v128.shuffle<i8>(evens, odds, 8, 24, 9, 25, 10, 26, 11, 27, 12, 28, 13, 29, 14, 30, 15, 31), 16)
    evens = i8x16.splat(i8x16.extract_lane_s(evens, 15))
    odds = i8x16.splat(i8x16.extract_lane_s(odds, 15))
  }
  even = i8x16.extract_lane_u(evens, 0)
  odd = i8x16.extract_lane_u(odds, 0)
  for (; i < paired; i++) {
    even += <i32>load<u8>(stored + <usize>i) - 128
    odd += <i32>load<u8>(second + <usize>i) - 128
    store<u8>(to + (<usize>i << 1), <u8>even)
    store<u8>(to + (<usize>i << 1), <u8>odd, 1)
  }
  if (count & 1) store<u8>(to + <usize>(count - 1), <u8>(even + <i32>load<u8>(stored + <usize>(half - 1)) - 128))
}

/** Differences of 16 bytes from the ones before them, plus 128. */
// @ts-ignore: decorator
@inline
function differences(bytes: v128, before: v128): v128 {
  const shifted = v128.shuffle<i8>(before, bytes, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27, 28, 29, 30)
  return i8x16.add(i8x16.sub(bytes, shifted), i8x16.splat(<i8>-128))
}

/** The way there: `count` bytes to `count` bytes ready for the entropy coder. The pieces must not overlap. */
export function spreadBytes(to: usize, from: usize, count: i32): void {
  if (count <= 0) return
  const half = (count + 1) >> 1
  const paired = count >> 1
  const second = to + <usize>half
  let even = 0
  // The second half's first difference is from the first half's last byte.
  let odd = <i32>load<u8>(from + (<usize>(half - 1) << 1))
  let evens = i8x16.splat(0)
  let odds = i8x16.splat(<i8>odd)
  let i = 0
  for (; i + 16 <= paired; i += 16) {
    const low = v128.load(from + (<usize>i << 1))
    const high = v128.load(from + (<usize>i << 1), 16)
    const e = v128.shuffle<i8>(low, high, 0, 2, 4, 6, 8, 10, 12, 14, 16, 18, 20, 22, 24, 26, 28, 30)
    const o = v128.shuffle<i8>(low, high, 1, 3, 5, 7, 9, 11, 13, 15, 17, 19, 21, 23, 25, 27, 29, 31)
    v128.store(to + <usize>i, differences(e, evens))
    v128.store(second + <usize>i, differences(o, odds))
    evens = e
    odds = o
  }
  even = i8x16.extract_lane_u(evens, 15)
  odd = i8x16.extract_lane_u(odds, 15)
  for (; i < paired; i++) {
    const e = <i32>load<u8>(from + (<usize>i << 1))
    const o = <i32>load<u8>(from + (<usize>i << 1), 1)
    store<u8>(to + <usize>i, <u8>(e - even + 128))
    store<u8>(second + <usize>i, <u8>(o - odd + 128))
    even = e
    odd = o
  }
  if (count & 1) store<u8>(to + <usize>(half - 1), <u8>(<i32>load<u8>(from + <usize>(count - 1)) - even + 128))
  // The first byte has none before it and is stored as it is.
  store<u8>(to, load<u8>(from))
}
