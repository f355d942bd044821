import { randomOf } from '../test/random'
import { textureOf } from '../track/test/texture'
import { measuredFringe, type FringePicture } from './measured-fringe'

/** Red and blue of a picture drawn larger and smaller than green, by closed forms, and measured. */

const [width, height] = [640, 360]

interface Drawn {
  readonly red: number
  readonly blue: number
  readonly noise?: number
  readonly centre?: readonly [number, number]
  readonly seed?: number
  /** a part of the picture where things are of two colours */
  readonly odd?: boolean
}

function picture({
  red,
  blue,
  noise = 0,
  centre = [width / 2, height / 2],
  seed = 1,
  odd = false,
}: Drawn): FringePicture {
  const texture = textureOf(seed, 14)
  const { normal } = randomOf(seed + 50)
  const light = new Float32Array(width * height * 4)
  const share = [red, 0, blue]
  const tone = [0.3, 0.24, 0.16]
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < 3; c++) {
        const by = 1 / (1 + share[c])
        const [u, v] = [centre[0] + (x + 0.5 - centre[0]) * by, centre[1] + (y + 0.5 - centre[1]) * by]
        // Stripes whose colours are not at the same places.
        const own = odd && y < 90 ? 0.3 * Math.sin((u + 4 * c) / 3) : 0.25 * texture(u, v)
        light[(y * width + x) * 4 + c] = tone[c] * (1 + own) + noise * normal()
      }
  return { light, width, height, centre }
}

test.each([
  [0.0015, -0.001],
  [0, 0],
  [-0.004, 0.003],
])('red by %d and blue by %d are found to a thirtieth of a pixel at the corners', (red, blue) => {
  const found = measuredFringe(picture({ red, blue, noise: 0.002 }))
  const corner = Math.hypot(width, height) / 2
  expect(Math.abs((found?.red ?? NaN) - red) * corner).toBeLessThan(1 / 30)
  expect(Math.abs((found?.blue ?? NaN) - blue) * corner).toBeLessThan(1 / 30)
  expect(found?.places).toBeGreaterThan(100)
})

test('about another centre too, and where a quarter of the picture is of two colours', () => {
  const off = measuredFringe(picture({ red: 0.002, blue: -0.002, noise: 0.002, centre: [250, 200] }))
  expect(Math.abs((off?.red ?? NaN) - 0.002)).toBeLessThan(1e-4)
  const mixed = measuredFringe(picture({ red: 0.002, blue: -0.002, noise: 0.002, odd: true }))
  expect(Math.abs((mixed?.red ?? NaN) - 0.002)).toBeLessThan(1.5e-4)
  expect(Math.abs((mixed?.blue ?? NaN) + 0.002)).toBeLessThan(1.5e-4)
})

test('the stated errors hold the truth, over twelve noisy pictures, within three of them', () => {
  for (let seed = 1; seed <= 12; seed++) {
    const found = measuredFringe(picture({ red: 0.001, blue: -0.001, noise: 0.01, seed }))
    if (!found) throw new Error('nothing was found')
    expect(Math.abs(found.red - 0.001)).toBeLessThan(3 * found.redError + 3e-5)
    expect(Math.abs(found.blue + 0.001)).toBeLessThan(3 * found.blueError + 3e-5)
  }
})

test('a flat picture, and one of noise alone, tell nothing', () => {
  const flat = picture({ red: 0, blue: 0 })
  expect(measuredFringe({ ...flat, light: flat.light.map(() => 0.2) })).toBeNull()
  const { normal } = randomOf(3)
  expect(measuredFringe({ ...flat, light: flat.light.map(() => 0.2 + 0.01 * normal()) })).toBeNull()
})
