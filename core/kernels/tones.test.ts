import {
  encodingNames,
  lightOfEntry,
  lumaWeights,
  monotoneLine,
  toneTable,
  withEnds,
  type EncodingName,
} from '../colour'
import { changeOfHue, type HueRange } from '../treatments/hue-ranges'
import { colourAt, picksByLuma } from '../treatments/tint'
import { curveOfLight } from '../treatments/curves'
import { treatments, type PictureTreatment } from '../treatments'
import { getStrip, kernelBench, putStrip } from '../test/kernels'
import { planeBytes, stripBytes } from './kernels'

/** Colour by tables, beside the same in double precision. */

const bench = kernelBench(8)
const [strip, tableAt] = [bench.free, bench.free + 4 * stripBytes]
const weights = lumaWeights('rec709')

/** Straight colours from the dark to far above white, with coverage of all kinds. */
const pixels = Array.from({ length: 500 }, (_, i) => {
  const a = [1, 0.5, 0.03, 1][i % 4]
  const level = 2 ** (-14 + (i / 500) * 20)
  return [level * a, level * (0.3 + (i % 7) / 7) * a, level * (0.2 + (i % 11) / 9) * a, a].map(Math.fround)
})

function through(kind: 'curves' | 'hue-ranges' | 'tint', values: Record<string, readonly number[]>): number[][] {
  const { tables, run } = treatments[kind] as PictureTreatment
  if (!tables || !run) throw new Error('no kernel')
  let at = tableAt
  const addresses = tables(values).map((table) => {
    new Float32Array(bench.kernels.memory, at, table.length).set(table)
    at += Math.ceil((table.length * 4) / 64) * 64
    return at - Math.ceil((table.length * 4) / 64) * 64
  })
  putStrip(bench, strip, pixels)
  run(bench.kernels, strip, pixels.length, values, { seed: '', frame: 0 }, 0, 0, 0, [], addresses)
  return getStrip(bench, strip, pixels.length)
}
/** Within 1e-4 of the reference, relative above 1. */
function expectNear(found: number[][], expected: (pixel: readonly number[]) => readonly number[]) {
  let worst = 0
  found.forEach((out, i) => {
    const want = expected(pixels[i])
    out.forEach((value, c) => (worst = Math.max(worst, Math.abs(value - want[c]) / Math.max(1, Math.abs(want[c])))))
  })
  expect(worst).toBeLessThan(1e-4)
}
const lumaOf = ([r, g, b]: readonly number[]) => r * weights[0] + g * weights[1] + b * weights[2]

describe.each(['srgb', 'linear', 'logc3', 'acescct'] as EncodingName[])('curves in %s', (encoding) => {
  const number = encodingNames.indexOf(encoding)
  const luma = [
    { in: 0.1, out: 0.13 },
    { in: 0.4, out: 0.5 },
  ]
  const red = [
    { in: 0, out: 0.02 },
    { in: 0.5, out: 0.42 },
  ]
  const flat = (points: readonly { in: number; out: number }[]) => points.flatMap((one) => [one.in, one.out])

  test('luma and channels are those of double precision', () => {
    const found = through('curves', {
      luma: flat(luma),
      red: flat(red),
      green: [],
      blue: [],
      encoding: [number],
      weights,
    })
    const [f, g] = [curveOfLight(encoding, luma), curveOfLight(encoding, red)]
    expectNear(found, ([r, gr, b, a]) => {
      const y = lumaOf([r, gr, b]) / a
      const ratio = (f(y) - f(0)) / y
      const [nr, ng, nb] = [r, gr, b].map((c) => f(0) * a + c * ratio)
      return [g(nr / a) * a, ng, nb, a]
    })
  })
})

test('a table is exact at its entries, straight below and beyond, and NaN stays NaN', () => {
  const curve = (light: number) => 0.01 + 0.5 * light + (light < 4 ? 0.1 * Math.sqrt(light) : 0.05 * light)
  const table = toneTable(curve)
  new Float32Array(bench.kernels.memory, tableAt, table.length).set(table)
  const values = [0, lightOfEntry(0), lightOfEntry(1000), lightOfEntry(3071), 512, -0.25, NaN, Infinity]
  putStrip(
    bench,
    strip,
    values.map((v) => [v, 0, 0, 1]),
  )
  bench.kernels.toneChannel(strip, strip + 3 * planeBytes, values.length, tableAt)
  const out = getStrip(bench, strip, values.length).map(([v]) => v)
  for (const i of [0, 1, 2, 3, 4]) expect(out[i] / curve(values[i])).toBeCloseTo(1, 6)
  const slope = (curve(lightOfEntry(0)) - curve(0)) / lightOfEntry(0)
  expect(out[5]).toBeCloseTo(0.01 - 0.25 * slope, 3)
  expect(out[6]).toBeNaN()
  expect(out[7]).toBe(Infinity)
})

test('light without coverage goes through the curve as it is; of nothing comes nothing, however much black is lifted', () => {
  const table = toneTable((light) => 0.1 + 2 * light)
  new Float32Array(bench.kernels.memory, tableAt, table.length).set(table)
  putStrip(bench, strip, [
    [0, 0, 0, 0],
    [0.5, 0, 0, 0],
    [0.25, 0, 0, 0.5],
  ])
  bench.kernels.toneChannel(strip, strip + 3 * planeBytes, 3, tableAt)
  expect(getStrip(bench, strip, 3).map(([v]) => v)).toEqual([0, expect.closeTo(1, 5), expect.closeTo(0.55, 5)])
})

test('a drawn curve goes through its points and 0 and 1, and never turns between two', () => {
  const points = withEnds([
    { in: 0.6, out: 0.9 },
    { in: 0.2, out: 0.1 },
  ])
  const line = monotoneLine(points)
  expect([0, 0.2, 0.6, 1].map(line)).toEqual([0, 0.1, 0.9, 1])
  let before = -1
  for (let at = 0; at <= 1; at += 0.01) {
    expect(line(at)).toBeGreaterThanOrEqual(before)
    before = line(at)
  }
})

test('hue ranges turn hue, keep luma and greys, and change light as far as there is colour', () => {
  const ranges: HueRange[] = [
    { hue: 20, width: 70, shift: 35, saturation: 0.5, stops: 0.7 },
    { hue: 200, width: 90, shift: -50, saturation: 1.4, stops: -0.5 },
  ]
  const flat = ranges.flatMap(({ hue, width, shift, saturation, stops }) => [hue, width, shift, saturation, stops])
  const found = through('hue-ranges', { ranges: flat, weights })
  const hueOf = ([r, g, b]: readonly number[]) => {
    const most = Math.max(r, g, b)
    const range = most - Math.min(r, g, b)
    const sixth = most === r ? (g - b) / range : most === g ? 2 + (b - r) / range : 4 + (r - g) / range
    return (sixth * 60 + 360) % 360
  }
  expectNear(found, (pixel) => {
    const { shift, saturation, light } = changeOfHue(ranges, hueOf(pixel))
    const angle = (shift * Math.PI) / 180
    const y = lumaOf(pixel)
    const d = pixel.slice(0, 3).map((c) => c - y)
    const sum = d[0] + d[1] + d[2]
    const cross = [d[2] - d[1], d[0] - d[2], d[1] - d[0]]
    // Rodrigues' rotation about the grey axis.
    const turned = d.map(
      (v, c) =>
        saturation *
        (v * Math.cos(angle) + ((1 - Math.cos(angle)) / 3) * sum + (Math.sin(angle) / Math.sqrt(3)) * cross[c]),
    )
    const most = Math.max(...pixel.slice(0, 3))
    const colourful = (most - Math.min(...pixel.slice(0, 3))) / most
    const factor = 1 + (light - 1) * colourful
    return [...turned.map((v) => (y + v - lumaOf(turned)) * factor), pixel[3]]
  })
  putStrip(bench, strip, [[0.3, 0.3, 0.3, 1]])
  const table = (treatments['hue-ranges'] as PictureTreatment).tables?.({ ranges: flat, weights })[0] as Float32Array
  new Float32Array(bench.kernels.memory, tableAt, table.length).set(table)
  bench.kernels.changeByHue(strip, 1, tableAt, ...weights)
  expect(getStrip(bench, strip, 1)[0]).toEqual([0.3, 0.3, 0.3, 1].map(Math.fround))
})

test('tint gives each brightness its pick’s colour, keeps luma, and lies between two picks by stops', () => {
  const colours = [
    [0.02, 0.025, 0.05],
    [0.4, 0.35, 0.3],
    [2, 1.7, 1.2],
  ]
  const found = through('tint', { amount: [0.7], colours: colours.flat(), weights })
  const picks = picksByLuma(colours, [weights[0], weights[1], weights[2]])
  expectNear(found, (pixel) => {
    const y = lumaOf(pixel)
    const tint = colourAt(picks, y / pixel[3])
    return [...[0, 1, 2].map((c) => pixel[c] * 0.3 + 0.7 * y * tint[c]), pixel[3]]
  })
  found.forEach((out, i) => expect(lumaOf(out) / lumaOf(pixels[i])).toBeCloseTo(1, 4))
  const dark = picks[0]
  expect(lumaOf(dark.colour)).toBeCloseTo(1, 9)
  expect(colourAt(picks, dark.luma / 10)).toEqual(dark.colour)
})
