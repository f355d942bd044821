/** Powers that give the same bits everywhere: exp2 and log2 from additions and multiplications only. */

const float64 = new Float64Array(1)
const words = new Uint32Array(float64.buffer)
const ln2 = 0.6931471805599453
const sqrtHalf = 0.7071067811865476

/** Base-2 logarithm of a finite value > 0, by the series of atanh; relative error below 1e-14. */
export function log2(value: number): number {
  let exponent = 0
  if (value < 2.2250738585072014e-308) {
    value *= 18014398509481984
    exponent = -54
  }
  float64[0] = value
  exponent += (words[1] >>> 20) - 1022
  words[1] = (words[1] & 0x000fffff) | 0x3fe00000
  let m = float64[0]
  if (m < sqrtHalf) {
    m *= 2
    exponent--
  }
  const s = (m - 1) / (m + 1)
  const s2 = s * s
  let sum = 1 / 21
  for (let k = 19; k >= 1; k -= 2) sum = sum * s2 + 1 / k
  return exponent + (2 * s * sum) / ln2
}

/** 2^value, by the Taylor series on +-1/2; relative error below 1e-15. */
export function exp2(value: number): number {
  if (value > 1023.9) return Infinity
  if (value < -1080) return 0
  const integer = Math.floor(value + 0.5)
  const x = (value - integer) * ln2
  let sum = 1
  for (let k = 14; k >= 1; k--) sum = 1 + (sum * x) / k
  const first = integer >> 1
  return sum * powerOfTwo(first) * powerOfTwo(integer - first)
}

function powerOfTwo(n: number): number {
  words[0] = 0
  words[1] = (n + 1023) << 20
  return float64[0]
}

/** value^exponent for value > 0; infinity stays infinity for positive exponents. */
export function power(value: number, exponent: number): number {
  if (value === Infinity) return exponent > 0 ? Infinity : exponent < 0 ? 0 : 1
  return exp2(exponent * log2(value))
}
