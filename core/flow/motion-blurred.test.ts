import { motionBlurred, opticalFlow, type Picture } from '.'

/** Discs with a texture and a soft edge, before nothing, where they are at a time; known in closed form. */

const [width, height] = [160, 100]
const { abs, hypot, max, min, sin, cos } = Math

interface Disc {
  readonly at: (time: number) => readonly [number, number]
  readonly radius: number
}

function seen(discs: readonly Disc[], time: number): Picture {
  const light = new Float32Array(width * height * 4)
  for (const { at, radius } of discs) {
    const [mx, my] = at(time)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const [dx, dy] = [x + 0.5 - mx, y + 0.5 - my]
        const a = min(1, max(0, radius - hypot(dx, dy) + 0.5))
        if (a === 0) continue
        const i = 4 * (y * width + x)
        const tone = 0.3 + 0.15 * sin(dx / 2.3) * cos(dy / 2.9)
        ;[tone, 0.8 * tone, 0.5 * tone, 1].forEach((one, c) => (light[i + c] = a * one + (1 - a) * light[i + c]))
      }
  }
  return { width, height, light }
}
const going: Disc = { at: (time) => [70 + 9.3 * time, 50 - 4.6 * time], radius: 18 }
const sumOf = (light: Float32Array, channel: number) =>
  light.reduce((sum, one, i) => (i % 4 === channel ? sum + one : sum), 0)
/** What a shutter would have seen: the mean of so many exact pictures. */
function exact(discs: readonly Disc[], open: number, moments = 64): Float32Array {
  const sum = new Float64Array(width * height * 4)
  for (let m = 0; m < moments; m++)
    seen(discs, ((m + 0.5) / moments - 0.5) * open).light.forEach((one, i) => (sum[i] += one / moments))
  return Float32Array.from(sum)
}
const between = (discs: readonly Disc[]) => ({
  picture: seen(discs, 0),
  before: seen(discs, -1),
  after: seen(discs, 1),
})
const meanError = (a: Float32Array, b: Float32Array) => {
  let [sum, many] = [0, 0]
  for (let i = 0; i < a.length; i++) if (a[i] > 0.002 || b[i] > 0.002) [sum, many] = [sum + abs(a[i] - b[i]), many + 1]
  return sum / many
}

test('the motion of a textured thing is found to a small part of a pixel, nearly everywhere on it', () => {
  const flow = opticalFlow(seen([going], 0), seen([going], 1))
  const off: number[] = []
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if (hypot(x + 0.5 - 70, y + 0.5 - 50) < 16)
        off.push(hypot(flow.across[y * width + x] - 9.3, flow.down[y * width + x] + 4.6))
  off.sort((a, b) => a - b)
  expect(off[off.length >> 1]).toBeLessThan(0.1)
  expect(off[Math.floor(0.95 * off.length)]).toBeLessThan(0.4)
})

test('blurred by its motion it is what a shutter would have seen, and no light is lost', () => {
  const blurred = motionBlurred(between([going]), 0.5)
  const truth = exact([going], 0.5)
  const sharp = seen([going], 0).light
  expect(meanError(blurred, truth)).toBeLessThan(0.15 * meanError(sharp, truth))
  for (const c of [0, 1, 2, 3]) expect(sumOf(blurred, c) / sumOf(truth, c)).toBeCloseTo(1, 2)
})

test('two things that go against each other are each blurred by their own motion', () => {
  const pair: Disc[] = [
    { at: (time) => [45 + 6 * time, 50], radius: 15 },
    { at: (time) => [115 - 8 * time, 48 + 3 * time], radius: 17 },
  ]
  const [blurred, truth] = [motionBlurred(between(pair), 0.5), exact(pair, 0.5)]
  expect(meanError(blurred, truth)).toBeLessThan(0.2 * meanError(seen(pair, 0).light, truth))
})

test('what stands still keeps every bit, nothing stays nothing, and a closed shutter changes nothing', () => {
  const still: Disc = { at: () => [80, 50], radius: 20 }
  const picture = seen([still], 0)
  expect(motionBlurred(between([still]), 0.5)).toEqual(picture.light)
  const empty = { width, height, light: new Float32Array(width * height * 4) }
  expect(motionBlurred({ picture: empty, before: empty, after: empty }, 0.5).every((one) => one === 0)).toBe(true)
  expect(motionBlurred(between([going]), 0)).toEqual(seen([going], 0).light)
  expect(motionBlurred({ picture, before: null, after: null }, 0.5)).toEqual(picture.light)
})

test('on the first and last frame the motion goes on as on the side that is known', () => {
  const { picture, before, after } = between([going])
  const truth = exact([going], 0.5)
  const sharp = meanError(picture.light, truth)
  expect(meanError(motionBlurred({ picture, before, after: null }, 0.5), truth)).toBeLessThan(0.2 * sharp)
  expect(meanError(motionBlurred({ picture, before: null, after }, 0.5), truth)).toBeLessThan(0.2 * sharp)
})

test('light without coverage moves like anything', () => {
  const glowing = (time: number): Picture => {
    const { light } = seen([going], time)
    return { width, height, light: light.map((one, i) => (i % 4 === 3 ? 0 : one)) }
  }
  const blurred = motionBlurred({ picture: glowing(0), before: glowing(-1), after: glowing(1) }, 0.5)
  const truth = exact([going], 0.5).map((one, i) => (i % 4 === 3 ? 0 : one))
  expect(meanError(blurred, truth)).toBeLessThan(0.2 * meanError(glowing(0).light, truth))
})
