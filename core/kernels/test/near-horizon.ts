/**
 * For the tests and the bench: a checker on the ground, seen from above to 1 degree of the horizon, where a pixel stands for a hundred and the next one for fewer. Judged by 256 samples a
 * pixel of the same filter: the same picture 16 times as fine, made smaller by the filter.
 */

import { kernelBench } from '../../test/kernels'
import { resampling, type Resampling } from '../kernels'

const size = 1024
const { kernels, floats, free } = kernelBench(320)
const [source, matrixAt] = [free, free + size * size * 16]
const target = matrixAt + 4096
const doubles = new Float64Array(floats.buffer)
const square = 32
for (let y = 0; y < size; y++)
  for (let x = 0; x < size; x++)
    floats.fill((Math.floor(x / square) + Math.floor(y / square)) % 2 === 0 ? 0.1 : 0.9, ...at4(y * size + x))
function at4(pixel: number): readonly [number, number] {
  return [source / 4 + pixel * 4, source / 4 + pixel * 4 + 4]
}

const width = 96
const focal = 300
const [first, rows] = [40, 30]
/** The first row lies 1 degree below it. */
const horizon = first - Math.tan(Math.PI / 180) * focal
const [steps, reach] = [16, 3]

/** From the picture's pixels, so many times as fine and beginning so far to the left, to the checker's. */
function ground(finer: number, left: number): number[] {
  const [across, far, wide] = [10, size + 40, width / 2]
  const plain = [
    ...[across / focal, size / 2 / focal, (-across * wide - (size / 2) * horizon) / focal],
    ...[0, far / focal, (-far * horizon) / focal - across],
    ...[0, 1 / focal, -horizon / focal],
  ]
  return plain.map((value, i) => (i % 3 === 2 ? value - left * plain[i - 2] : value / finer))
}

function picture(matrix: readonly number[], wide: number, top: number, high: number, filter: Resampling): Float32Array {
  matrix.forEach((value, i) => (doubles[matrixAt / 8 + i] = value))
  const out = new Float32Array(wide * high)
  for (let y = 0; y < high; y++) {
    kernels.resample(target, wide, 0, top + y, 0, matrixAt, source, 0, 0, size, size, resampling[filter])
    for (let x = 0; x < wide; x++) out[y * wide + x] = floats[target / 4 + 4 * x]
  }
  return out
}

const sinc = (x: number) => (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x))
const weights = Array.from({ length: 2 * reach * steps }, (_, i) => (i + 0.5) / steps - reach).map(
  (x) => sinc(x) * sinc(x / reach),
)
const total = weights.reduce((sum, one) => sum + one, 0)

/** Signal to noise of the whole, and of the row nearest to the horizon, in dB of full range. */
export function nearHorizon(filter: Resampling): { readonly whole: number; readonly nearest: number } {
  const direct = picture(ground(1, 0), width, first, rows, filter)
  const [wide, high] = [(width + 2 * reach) * steps, (rows + 2 * reach) * steps]
  const fine = picture(ground(steps, reach), wide, (first - reach) * steps, high, filter)
  const middle = (i: number) => (i + reach) * steps + steps / 2 - reach * steps
  const narrowed = new Float64Array(width * high)
  for (let y = 0; y < high; y++)
    for (let x = 0; x < width; x++)
      narrowed[y * width + x] = weights.reduce((sum, one, i) => sum + one * fine[y * wide + middle(x) + i], 0) / total
  const squares = Array.from({ length: rows }, (_, y) => {
    let sum = 0
    for (let x = 0; x < width; x++) {
      const truth = weights.reduce((all, one, i) => all + one * narrowed[(middle(y) + i) * width + x], 0) / total
      sum += (direct[y * width + x] - truth) ** 2
    }
    return sum / width
  })
  const decibels = (mean: number) => -10 * Math.log10(mean)
  return { whole: decibels(squares.reduce((a, b) => a + b, 0) / rows), nearest: decibels(squares[0]) }
}
