import { axisReach, enlargeTaps, erf, gaussianAxis, reach } from './gaussian'

const { abs, floor } = Math

/** What the whole of reducing, filtering and enlarging makes of a single lit pixel, in double precision. */
function response(sigma: number, at: number): Map<number, number> {
  const { step, weights, reduce, enlarge } = gaussianAxis(sigma)
  const radius = weights.length - 1
  const out = new Map<number, number>()
  const span = axisReach(gaussianAxis(sigma)) + 4
  if (step === 1) {
    for (let i = at - span; i <= at + span; i++) out.set(i, weights[Math.abs(i - at)] ?? 0)
    return out
  }
  const reduced = (k: number) => reduce[at - (k - reach) * step] ?? 0
  const filtered = new Map<number, number>()
  const middle = (k: number) => {
    let sum = filtered.get(k)
    if (sum !== undefined) return sum
    sum = 0
    for (let j = -radius; j <= radius; j++) sum += weights[abs(j)] * reduced(k + j)
    filtered.set(k, sum)
    return sum
  }
  for (let i = at - span; i <= at + span; i++) {
    const block = floor(i / step)
    let sum = 0
    for (let t = 0; t < enlargeTaps; t++)
      sum += enlarge[(i - block * step) * enlargeTaps + t] * middle(block - reach + t)
    out.set(i, sum)
  }
  return out
}

const normal = (x: number, sigma: number) =>
  (erf((x + 0.5) / (Math.SQRT2 * sigma)) - erf((x - 0.5) / (Math.SQRT2 * sigma))) / 2

const narrow = [0.1, 0.15, 0.2, 0.3, 0.45, 0.6, 0.69, 0.7, 0.76, 0.85, 0.99]
const wide = [1, 1.5, 2, 3, 3.49, 3.5, 3.9, 4, 5, 6.9, 7, 10, 13.9, 14, 27, 40, 55, 100, 200]

test.each([...narrow, ...wide])('sigma %p: the weights sum to 1', (sigma) => {
  const { weights, reduce, enlarge, step } = gaussianAxis(sigma)
  expect(weights.reduce((sum, w, k) => sum + (k === 0 ? w : 2 * w), 0)).toBeCloseTo(1, 12)
  if (step === 1) return
  expect(reduce.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 12)
  for (let j = 0; j < step; j++) {
    expect(enlarge.slice(j * enlargeTaps, (j + 1) * enlargeTaps).reduce((a, b) => a + b, 0)).toBeCloseTo(1, 12)
  }
})

/** Mean over the places that a lit pixel can have in its block of the variance of what becomes of it. */
function variance(sigma: number): number {
  const { step } = gaussianAxis(sigma)
  let sum = 0
  for (let at = 0; at < step; at++) {
    let [light, first, second] = [0, 0, 0]
    for (const [i, value] of response(sigma, at)) {
      light += value
      first += value * (i - at)
      second += value * (i - at) ** 2
    }
    sum += second / light - (first / light) ** 2
  }
  return sum / step
}

test.each([...narrow, ...wide])('sigma %p: it is the square root of the second moment, within 1 %%', (sigma) => {
  expect(Math.abs(Math.sqrt(variance(sigma)) / sigma - 1)).toBeLessThan(0.01)
})

test('nothing jumps while sigma changes: not at 0.7 to 0.76 px, where it used to, nor anywhere up to 3.4', () => {
  const taps = (sigma: number) => Array.from({ length: 20 }, (_, k) => gaussianAxis(sigma).weights[k] ?? 0)
  for (let sigma = 0.2; sigma < 3.4; sigma += 0.02) {
    const [before, after] = [taps(sigma), taps(sigma + 0.02)]
    const change = before.reduce((sum, w, k) => sum + Math.abs(w - after[k]), 0)
    // The middle tap of a narrow one falls by 2 sigma d(sigma) at most; wider ones change more slowly.
    expect(change).toBeLessThan(0.045)
  }
})

test('variances of blurs that follow each other add up, to a thousandth', () => {
  for (const [a, b] of [
    [0.3, 0.5],
    [0.9, 1.1],
    [2, 1.5],
  ])
    expect(Math.abs((variance(a) + variance(b)) / variance(Math.hypot(a, b)) - 1)).toBeLessThan(1e-3)
})

test.each(wide)(
  'sigma %p: the shape is the Gaussian over each pixel, to 1e-4 of its peak, wherever the pixel lies',
  (sigma) => {
    const { step } = gaussianAxis(sigma)
    // Integrating over a pixel adds its own variance.
    const own = Math.sqrt(sigma ** 2 - 1 / 12)
    const peak = normal(0, own)
    for (const at of new Set([0, 1, step >> 1, step - 1, -3])) {
      for (const [i, value] of response(sigma, at)) {
        if (Math.abs(value - normal(i - at, own)) > 1e-4 * peak)
          throw new Error(`at ${i - at} it is ${value / peak} instead of ${normal(i - at, own) / peak} of the peak`)
      }
    }
  },
)

test('below a tenth of a pixel nothing is done', () => {
  expect(gaussianAxis(0.09).weights).toEqual([1])
  expect(gaussianAxis(0).weights).toEqual([1])
  expect(gaussianAxis(NaN).weights).toEqual([1])
})

test('the cost for each pixel stays nearly the same for wide ones', () => {
  const taps = (sigma: number) => {
    const { step, weights } = gaussianAxis(sigma)
    return step === 1 ? 2 * weights.length : 2 * 7 + 7 + (4 * weights.length) / step
  }
  for (const sigma of [8, 40, 100, 200]) expect(taps(sigma)).toBeLessThan(1.2 * taps(4))
})

test('the error function at published values (Abramowitz and Stegun, table 7.1)', () => {
  for (const [x, value] of [
    [0.5, 0.5204998778],
    [1, 0.8427007929],
    [2, 0.995322265],
    [3.1, 0.9999883513],
    [-1, -0.8427007929],
    [7, 1],
  ])
    expect(erf(x)).toBeCloseTo(value, 9)
})
