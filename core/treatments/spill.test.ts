import type { FrameRequest } from '../graph/steps'
import { localEngine } from '../test/local-engine'
import { someFrame, surroundings } from '../test/steps'
import { spill } from './spill'

const window = { x: 7, y: 3, width: 8, height: 1 }
type Pixel = readonly [number, number, number, number]

async function held(
  pixel: Pixel,
  values: { amount?: number; back?: readonly number[] },
  choices: Record<string, string>,
) {
  const load = async (_request: FrameRequest) => ({
    decoded: false,
    dataWindow: window,
    displayWindow: window,
    planes: ['R', 'G', 'B', 'A'].map((name, c) => ({
      name,
      type: 'float' as const,
      samples: new Float32Array(8).fill(pixel[c]),
    })),
  })
  const { amount = 1, back = [0, 0, 0] } = values
  const step = spill.build(someFrame(), { amount: [amount], back }, surroundings({ choices }))
  return [...(await localEngine(1, load).light(step, window)).subarray(0, 4)]
}
const close = (values: readonly number[]) => values.map((v) => expect.closeTo(v, 6) as number)
const green = { channel: 'green', to: 'larger' }

test.each([
  ['green above both is held to the larger', [0.3, 0.6, 0.2, 1], {}, green, [0.3, 0.3, 0.2, 1]],
  ['to the mean', [0.3, 0.6, 0.2, 1], {}, { ...green, to: 'mean' }, [0.3, 0.25, 0.2, 1]],
  ['half held', [0.3, 0.6, 0.2, 1], { amount: 0.5 }, green, [0.3, 0.45, 0.2, 1]],
  ['green below the larger is left', [0.3, 0.25, 0.2, 1], {}, green, [0.3, 0.25, 0.2, 1]],
  ['blue', [0.1, 0.2, 0.5, 1], {}, { ...green, channel: 'blue' }, [0.1, 0.2, 0.2, 1]],
  ['red', [0.5, 0.2, 0.3, 1], {}, { ...green, channel: 'red' }, [0.3, 0.2, 0.3, 1]],
  ['premultiplied light by itself', [0.15, 0.3, 0.1, 0.5], {}, green, [0.15, 0.15, 0.1, 0.5]],
  ['light without coverage too', [0.15, 0.3, 0.1, 0], {}, green, [0.15, 0.15, 0.1, 0]],
  [
    'what is taken comes back in another colour',
    [0.3, 0.6, 0.2, 1],
    { back: [0.5, 0.5, 1] },
    green,
    [0.45, 0.45, 0.5, 1],
  ],
] as const)('%s', async (_name, pixel, values, choices, want) => {
  expect(await held(pixel, values, choices)).toEqual(close(want))
})

test('held by nothing it is its input', () => {
  const input = someFrame()
  expect(spill.build(input, { amount: [0], back: [0, 0, 0] }, surroundings({ choices: green }))).toBe(input)
})
