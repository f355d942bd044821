import { encode, lumaWeights, matrixBetween, primaries } from '../colour'
import { packTable } from '../colour/table'
import { colour } from '../graph/steps'
import { localEngine } from '../test/local-engine'
import { someFrame } from '../test/steps'
import type { Planes } from '../image/planes'
import {
  differenceOf,
  edgesOf,
  inspectionBoard,
  lookAt,
  plainLook,
  readAsCodes,
  readAsLight,
  readAsShown,
  type AsRead,
  type Looking,
} from './looking'

const window = { x: 0, y: 0, width: 8, height: 2 }
/** Pixels that are grey, coloured, dark, bright, negative, infinite, no number. */
const pixels: readonly (readonly number[])[] = [
  [0.18, 0.18, 0.18],
  [0.5, 0.25, 0.125],
  [0.02, 0.04, 0.01],
  [2, 1.5, 1.1],
  [-0.2, 0.1, 0.1],
  [Infinity, 0, 0],
  [NaN, 0.2, 0.2],
  [0.1, 0.3, 0.9],
]
const frame: Planes = {
  dataWindow: window,
  displayWindow: window,
  planes: ['R', 'G', 'B'].map((name, c) => ({
    name,
    type: 'float',
    samples: Float32Array.from({ length: 16 }, (_, i) => pixels[i % 8][c]),
  })),
}
const picture = someFrame({ claims: { encoding: 'linear', primaries: 'rec709', alpha: 'none' } })
const engine = localEngine(1, async () => ({ ...frame, decoded: false }))
afterAll(() => engine.close())

/** What the eye gets, pixel by pixel of the first row. */
async function seen(looking: Partial<Looking>): Promise<number[][]> {
  const { step, view } = lookAt(picture, { ...plainLook, ...looking }, 'rec709')
  const bytes = await engine.view(step, window, view)
  return Array.from({ length: 8 }, (_, i) => [...bytes.subarray(i * 4, i * 4 + 3)])
}
const code = (light: number) => Math.round(255 * Math.min(1, Math.max(0, encode('srgb', light))))
const near = (found: readonly number[], expected: readonly number[]) =>
  found.forEach((value, i) => expect(Math.abs(value - expected[i])).toBeLessThanOrEqual(1))

test('looking plainly computes nothing besides the screen’s encoding', () => {
  expect(lookAt(picture, plainLook, 'rec709').step).toBe(picture)
})

test('exposure, gamma and saturation push the picture, not the data', async () => {
  near((await seen({ exposure: 1 }))[0], [0.36, 0.36, 0.36].map(code))
  near(
    (await seen({ gamma: 2 }))[1],
    [0.5, 0.25, 0.125].map((v) => code(Math.sqrt(v))),
  )
  const luma = lumaWeights('rec709').reduce((sum, w, i) => sum + w * pixels[1][i], 0)
  near((await seen({ saturation: 0 }))[1], [luma, luma, luma].map(code))
  near((await seen({ saturation: 2 }))[0], [0.18, 0.18, 0.18].map(code))
})

test('the crank fills the screen with the dark end, the bright end, or colour', async () => {
  near((await seen({ crank: 'dark' }))[2], [0.02 / 0.15, 0.04 / 0.15, 0.01 / 0.15].map(code))
  near((await seen({ crank: 'bright' }))[3], [(2 - 0.4) / 3.6, (1.5 - 0.4) / 3.6, (1.1 - 0.4) / 3.6].map(code))
  const [r, g, b] = (await seen({ crank: 'vivid' }))[1]
  expect(r).toBe(255)
  expect(b).toBe(0)
  expect(g).toBeGreaterThan(0)
})

test('hue, saturation and value are those of the hexcone', async () => {
  near((await seen({ channel: 'value' }))[7], [0.9, 0.9, 0.9].map(code))
  near(
    (await seen({ channel: 'saturation' }))[1],
    [0.75, 0.75, 0.75].map((v) => v * 255),
  )
  // 0.1 0.3 0.9: four sixths of a turn, and (r - g) / range further.
  near((await seen({ channel: 'hue' }))[7], Array(3).fill((255 * (4 + (0.1 - 0.3) / 0.8)) / 6))
  expect((await seen({ channel: 'hue' }))[0]).toEqual([0, 0, 0])
})

test('luma has the weights of the working space', async () => {
  for (const working of ['rec709', 'rec2020', 'acescg'] as const) {
    const { step, view } = lookAt(picture, { ...plainLook, channel: 'luma' }, working)
    const bytes = await engine.view(step, window, view)
    const luma = lumaWeights(working).reduce((sum, w, i) => sum + w * pixels[1][i], 0)
    near([...bytes.subarray(4, 7)], [luma, luma, luma].map(code))
  }
})

test('other screens have their own curve and primaries', async () => {
  near((await seen({ screen: 'bt1886' }))[0], Array(3).fill(255 * 0.18 ** (1 / 2.4)))
  near((await seen({ screen: 'p3-d65' }))[0], Array(3).fill(255 * 0.18 ** (1 / 2.6)))
  const [r, g, b] = (await seen({ screen: 'p3-d65' }))[1]
  const plain = [0.5, 0.25, 0.125].map((v) => 255 * v ** (1 / 2.6))
  // The same colour is less saturated in wider primaries.
  expect(r).toBeLessThan(plain[0])
  expect(g).toBeGreaterThan(plain[1])
  expect(b).toBeGreaterThan(plain[2])
  near((await seen({ screen: 'bt1886', channel: 'green' }))[1], Array(3).fill(255 * 0.25 ** (1 / 2.4)))
})

test('a table takes the place of the screen’s encoding, in the encoding that it claims', async () => {
  // Half of every code value, by a table of two entries.
  const samples = packTable([
    { kind: 'axis', size: 2, least: 0, most: 1, entries: Float32Array.of(0, 0.5, 0, 0.5, 0, 0.5) },
  ])
  const tableWindow = { x: 0, y: 0, width: samples.length, height: 1 }
  const tableFrame = someFrame({
    path: 'half.cube',
    takes: 'table',
    claims: { encoding: 'logc3', primaries: 'rec709', alpha: 'none' },
  })
  const withTable = localEngine(1, async ({ takes }) =>
    takes === 'table'
      ? {
          decoded: true,
          dataWindow: tableWindow,
          displayWindow: tableWindow,
          planes: [{ name: 'table', type: 'float', samples }],
        }
      : { ...frame, decoded: false },
  )
  const { step, view } = lookAt(picture, { ...plainLook, exposure: 1 }, 'rec709', tableFrame)
  const bytes = await withTable.view(step, window, view)
  near([...bytes.subarray(0, 3)], Array(3).fill(255 * 0.5 * encode('logc3', 0.36)))
  withTable.close()
})

test('marks lie on what is too bright, negative or no number, and on nothing else', async () => {
  const rows = async (marks: boolean) => {
    const { step, view } = lookAt(picture, { ...plainLook, marks }, 'rec709')
    return engine.view(step, window, view)
  }
  const [plain, marked] = [await rows(false), await rows(true)]
  const differs = (i: number) =>
    [0, 8].some((row) => [0, 1, 2].some((c) => plain[(i + row) * 4 + c] !== marked[(i + row) * 4 + c]))
  expect([0, 1, 2, 7].map(differs)).toEqual([false, false, false, false])
  expect([5, 6].map(differs)).toEqual([true, true])
  // Stripes of black and white, leaning one way for what is too bright, the other way for what is negative.
  const filled = async (light: number) => {
    const step = colour(picture, [{ do: 'affine', gain: [0, 0, 0], veil: [light, light, light] }])
    const bytes = await engine.view(
      step,
      { ...window, width: 5 },
      lookAt(step, { ...plainLook, marks: true }, 'rec709').view,
    )
    return [0, 1].map((row) => Array.from({ length: 5 }, (_, i) => bytes[(row * 5 + i) * 4]))
  }
  expect(await filled(2)).toEqual([
    [0, 0, 255, 255, 255],
    [255, 0, 0, 255, 255],
  ])
  expect(await filled(-2)).toEqual([
    [255, 255, 0, 0, 0],
    [255, 0, 0, 0, 0],
  ])
})

test('a difference is the distance of the light, times its gain; of a picture from itself it is nothing', async () => {
  const brighter = colour(picture, [{ do: 'affine', gain: [2, 2, 2], veil: [0, 0, 0] }])
  const light = await engine.light(differenceOf(picture, brighter, 10), window)
  near([...light.subarray(4, 7)], [5, 2.5, 1.25])
  expect([...(await engine.light(differenceOf(picture, picture, 10), window)).subarray(0, 3)]).toEqual([0, 0, 0])
})

test('edges are where neighbours differ', async () => {
  const flat = localEngine(1, async () => ({
    ...frame,
    planes: frame.planes.map((plane) => ({ ...plane, samples: new Float32Array(16).fill(0.4) })),
    decoded: false,
  }))
  const light = await flat.light(edgesOf(picture), window)
  for (let i = 0; i < 16; i++) expect(Math.abs(light[i * 4])).toBeLessThan(1e-5)
  flat.close()
})

test('the board shows every channel, the hexcone’s three, both ends, colour and edges', () => {
  const board = inspectionBoard(picture, { ...plainLook, channel: 'green', crank: 'dark' }, 'rec709')
  expect(board.map(({ name }) => name)).toEqual([
    'red',
    'green',
    'blue',
    'hue',
    'saturation',
    'value',
    'dark end',
    'bright end',
    'colour',
    'edges',
  ])
  expect(new Set(board.map(({ looked }) => `${looked.step.key} ${looked.view.channel}`)).size).toBe(10)
})

describe('values are read', () => {
  const read = async (asRead: AsRead) => {
    const { step, view } = asRead(picture)
    return view ? [...(await engine.view(step, window, view))] : [...(await engine.light(step, window))]
  }

  test('as light: untouched', async () => {
    expect((await read(readAsLight)).slice(4, 7)).toEqual([0.5, 0.25, 0.125])
  })

  test('as the code values that a file of that encoding and those primaries would have', async () => {
    expect((await read(readAsCodes('cineon', 'rec709', 'rec709')))[0]).toBeCloseTo(0.45732, 5)
    const rows = matrixBetween(primaries['rec709'], primaries['rec2020'])
    const codes = (await read(readAsCodes('logc3', 'rec2020', 'rec709'))).slice(4, 7)
    rows.forEach((row, c) => {
      const light = row.reduce((sum, weight, i) => sum + weight * pixels[1][i], 0)
      expect(codes[c]).toBeCloseTo(encode('logc3', light), 5)
    })
  })

  test('as the bytes on the screen, whatever is done to the picture there, but for the marks', async () => {
    const looking = { ...plainLook, crank: 'dark', exposure: -1, marks: true } as const
    const bytes = await read(readAsShown(looking, 'rec709', null))
    near(bytes.slice(8, 11), (await seen({ crank: 'dark', exposure: -1 }))[2])
    expect(bytes.slice(4, 7)).toEqual((await seen({ crank: 'dark', exposure: -1 }))[1])
  })
})
