import { frameAtScale, type SourceFrame } from '../engine/source-frame'
import { blend, type FrameRequest, type Scale } from '../graph/steps'
import type { PrimariesName } from '../colour'
import type { Window } from '../image/window'
import { localEngine } from '../test/local-engine'
import { lightIn, mostDifference } from '../test/windows'
import { someFrame } from '../test/steps'
import { blendKinds, blends, type BlendKind } from './blends'

/** What holds for every blend wherever the element lies, in any working space and at half scale. */

const frame: Window = { x: 0, y: 0, width: 128, height: 96 }
const element: Window = { x: 33, y: 21, width: 62, height: 45 }

const files: Readonly<Record<string, { window: Window; pixel: (x: number, y: number) => readonly number[] }>> = {
  plate: { window: frame, pixel: (x, y) => [0.2 + 0.1 * Math.sin(x / 9), 0.25, 0.3 + 0.1 * Math.cos(y / 7), 1] },
  // Covered on the left, light without coverage in the middle, nothing on the right.
  cg: {
    window: element,
    pixel: (x, y) => {
      if (x >= 75) return [0, 0, 0, 0]
      const a = x < 55 ? 0.6 + 0.2 * Math.sin(y / 8) : 0
      return [0.15, 0.1 + 0.05 * Math.sin(x / 9), 0.2, a]
    },
  },
  matte: { window: element, pixel: (x) => [0.5 + 0.4 * Math.sin(x / 10)] },
}

const load = async (request: FrameRequest): Promise<SourceFrame> => {
  const { window, pixel } = files[request.source]
  const names = request.takes === 'scalar' ? ['Y'] : ['R', 'G', 'B', 'A']
  const planes = names.map((name, c) => ({
    name,
    type: 'float' as const,
    samples: Float32Array.from(
      { length: window.width * window.height },
      (_, i) => pixel(window.x + (i % window.width), window.y + Math.floor(i / window.width))[c],
    ),
  }))
  return frameAtScale({ dataWindow: window, displayWindow: frame, planes }, request)
}

const values = {
  amount: [0.5, 0.6, 0.7],
  ratio: [0.4, 0.5, 0.6],
  veil: [0.02, 0.02, 0.03],
  strength: [0.8],
}

function picture(
  kind: BlendKind,
  at: Window,
  working: PrimariesName = 'rec709',
  scale: Scale = 1,
): Promise<Float32Array> {
  const read = (source: string, takes: 'rgba' | 'scalar' = 'rgba') =>
    someFrame({
      ...{ source, path: source, takes, working, reduce: scale },
      claims: { encoding: 'linear', primaries: working, alpha: 'premultiplied' },
    })
  const own = blends[kind].takes === 'scalar' ? read('matte', 'scalar') : read('cg')
  return localEngine(1, load).light(blend(read('plate'), own, read('plate'), kind, 1, values), at)
}

describe.each(blendKinds)('%s', (kind) => {
  test('a part of the picture is that part of the whole picture, wherever its origin lies', async () => {
    const around: Window = { x: -7, y: -5, width: 150, height: 110 }
    const whole = await picture(kind, around)
    const part: Window = { x: 27, y: 17, width: 41, height: 33 }
    const cut = lightIn(whole, around, part)
    expect(mostDifference(await picture(kind, part), cut)).toBe(0)
  })

  test('light without coverage and nothing at all leave the coverage behind as it is; every value is a number', async () => {
    const uncovered = await picture(kind, { x: 57, y: 25, width: 36, height: 30 })
    expect(uncovered.every(Number.isFinite)).toBe(true)
    expect(uncovered.filter((_, i) => i % 4 === 3).every((a) => a === 1)).toBe(true)
    const nothing: Window = { x: 78, y: 25, width: 12, height: 30 }
    if (blends[kind].takes === 'rgba')
      expect(await picture(kind, nothing)).toEqual(
        await localEngine(1, load).light(someFrame({ source: 'plate', path: 'plate' }), nothing),
      )
  })

  test('the same pixels in another working space blend the same', async () => {
    expect(mostDifference(await picture(kind, frame, 'acescg'), await picture(kind, frame))).toBe(0)
  })

  test('at half scale it is what the full picture is when it is reduced, away from edges', async () => {
    const [full, half] = [
      await picture(kind, frame),
      await picture(kind, { x: 0, y: 0, width: 64, height: 48 }, 'rec709', 2),
    ]
    let worst = 0
    for (let y = 13; y < 30; y++)
      for (let x = 18; x < 26; x++)
        for (let c = 0; c < 4; c++) {
          const mean = [0, 1, 128, 129].reduce((sum, d) => sum + full[(2 * y * 128 + 2 * x + d) * 4 + c] / 4, 0)
          worst = Math.max(worst, Math.abs(half[(y * 64 + x) * 4 + c] - mean))
        }
    // Not every blend is linear: how light changes within four pixels stays.
    expect(worst).toBeLessThan(kind === 'color-dodge' ? 0.01 : kind === 'difference' ? 0.004 : 0.002)
  })
})
