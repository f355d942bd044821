import { randomOf } from '../test/random'
import { grainAdded, grainLevel } from './grain-level'

/** How strong the grain of a region is, by two frames. */

const { hypot, sin, sqrt } = Math
const size = { width: 64, height: 48 }
const window = { x: 300, y: -20, ...size }
const sigmas = [0.004, 0.003, 0.008]

interface Ground {
  readonly light?: (x: number, y: number, frame: number) => number
  /** grain of a size: each pixel's is the mean of so many, one way and the other */
  readonly wide?: number
  readonly sigma?: number
  readonly alpha?: number
}

function frameOf(
  random: ReturnType<typeof randomOf>,
  frame: number,
  { light = () => 0.1, wide = 1, sigma = 1, alpha = 1 }: Ground,
) {
  const out = new Float32Array(4 * size.width * size.height).fill(alpha)
  for (let c = 0; c < 3; c++) {
    const fine = Array.from({ length: (size.width + wide) * (size.height + wide) }, () => random.normal())
    for (let y = 0; y < size.height; y++)
      for (let x = 0; x < size.width; x++) {
        let sum = 0
        for (let j = 0; j < wide; j++) for (let i = 0; i < wide; i++) sum += fine[(y + j) * (size.width + wide) + x + i]
        out[4 * (y * size.width + x) + c] = light(x, y, frame) + (sigma * sigmas[c] * sum) / wide
      }
  }
  return out
}
const pairOf = (seed: number, ground: Ground = {}) => {
  const random = randomOf(seed)
  return [frameOf(random, 0, ground), frameOf(random, 1, ground)] as const
}

test('the deviation is told within its errors, whatever shading lies under it and whatever size the grain has', () => {
  for (const wide of [1, 2])
    for (const light of [() => 0.1, (x: number, y: number) => 0.05 + 0.001 * x - 0.0005 * y]) {
      let [inside, all] = [0, 0]
      for (let seed = 1; seed <= 60; seed++) {
        const found = grainLevel(...pairOf(seed, { light, wide }), window)
        for (const c of [0, 1, 2]) {
          all++
          if (found && Math.abs(found.sigma[c] - sigmas[c]) < 1.96 * found.error[c]) inside++
        }
      }
      expect(inside / all).toBeGreaterThan(0.88)
      expect(inside / all).toBeLessThan(0.99)
    }
})

test('grain of a size is told less surely', () => {
  const errorOf = (wide: number) => grainLevel(...pairOf(3, { wide }), window)?.error[0] ?? NaN
  expect(errorOf(1)).toBeCloseTo(sigmas[0] / sqrt(2 * (64 * 48 - 3)), 4)
  expect(errorOf(2) / errorOf(1)).toBeGreaterThan(1.3)
})

test('nothing is said where it is textured, moves, is clipped or is no number', () => {
  const texture = (x: number, y: number) => 0.1 + 0.03 * sin(x / 3) * sin(y / 2)
  const moving = (x: number, y: number, frame: number) => texture(x + 9 * frame, y)
  const flips = (x: number, _: number, frame: number) => 0.1 + (frame === 0 ? 1 : -1) * 0.02 * sin(x)
  for (const light of [texture, moving, flips]) expect(grainLevel(...pairOf(4, { light }), window)).toBeNull()
  const [before, after] = pairOf(5)
  expect(
    grainLevel(
      before.map((v, i) => (i % 4 === 2 ? Math.max(v, 0.095) : v)),
      after,
      window,
    ),
  ).toBeNull()
  expect(
    grainLevel(
      before.map((v, i) => (i === 80 ? NaN : v)),
      after,
      window,
    ),
  ).toBeNull()
})

test('frames that are alike hold no grain', () => {
  const [before] = pairOf(6, { sigma: 0 })
  expect(grainLevel(before, before, window)).toBeNull()
})

test('what was added is told beside the picture without it, light without coverage as well', () => {
  for (const alpha of [1, 0]) {
    const light = (x: number, y: number) => 0.1 + 0.05 * sin(x / 3) * sin(y / 2)
    const [grainy] = pairOf(7, { light, alpha })
    const [without] = pairOf(7, { light, sigma: 0, alpha })
    const found = grainAdded(grainy, without, window)
    sigmas.forEach((sigma, c) => {
      expect(Math.abs((found?.sigma[c] ?? NaN) - sigma)).toBeLessThan(3 * (found?.error[c] ?? NaN))
    })
    expect(grainAdded(without, without, window)).toEqual({ sigma: [0, 0, 0], error: [0, 0, 0] })
  }
})

test('half the frame’s pixels have half the deviation: each is the mean of four', () => {
  const [before, after] = pairOf(8)
  const half = { x: 150, y: -10, width: size.width / 2, height: size.height / 2 }
  const reduced = (full: Float32Array) =>
    Float32Array.from({ length: 4 * half.width * half.height }, (_, i) => {
      const [c, x, y] = [i % 4, (i >> 2) % half.width, Math.floor((i >> 2) / half.width)]
      const at = (dx: number, dy: number) => full[4 * ((2 * y + dy) * size.width + 2 * x + dx) + c]
      return (at(0, 0) + at(1, 0) + at(0, 1) + at(1, 1)) / 4
    })
  const found = grainLevel(reduced(before), reduced(after), half)
  sigmas.forEach((sigma, c) => {
    expect(Math.abs((found?.sigma[c] ?? NaN) - sigma / 2)).toBeLessThan(3 * hypot(found?.error[c] ?? NaN))
  })
})
