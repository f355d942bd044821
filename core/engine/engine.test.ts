import fc from 'fast-check'
import { blend, type FrameRequest } from '../graph/steps'
import { localEngine } from '../test/local-engine'
import { someFrame } from '../test/steps'
import { cgWindow, frameSize, loadMadeUp, loads, madeUpFrame, pictureOf, smallShot } from '../test/small-shot'
import { lightIn, sameBits, windowsIn } from '../test/windows'
import { halfToFloat } from '../image/half'
import { applyEdit, tableOf, type Shot } from '../shot'
import { ArenaFullError } from './arena'
import { CancelledError } from './engine'

const fullFrame = { x: 0, y: 0, ...frameSize }
const plan = (shot: Shot = smallShot, frame = 1001, scale: 1 | 2 | 4 = 1) => pictureOf(shot, frame, scale)
const only = (...ids: string[]): Shot => ({
  ...smallShot,
  elements: tableOf(ids.map((id) => smallShot.elements.byId[id])),
})

describe('the composite', () => {
  test('pixels that nothing touches are the plate’s, bit for bit, a negative zero included', async () => {
    const engine = localEngine(2)
    const light = await engine.light(plan().composite, fullFrame)
    const plate = madeUpFrame({ source: 'plate', frame: 1001 })
    const bits = new Uint32Array(light.buffer)
    const expected = new Float32Array(1)
    const expectedBits = new Uint32Array(expected.buffer)
    let untouched = 0
    for (let y = 0; y < frameSize.height; y++) {
      for (let x = 0; x < frameSize.width; x++) {
        const inCg = x < cgWindow.x + cgWindow.width && y >= cgWindow.y && y < cgWindow.y + cgWindow.height
        if (inCg && Math.hypot(x - 45, y - 75) < 34) continue
        if (x >= 20 && x < 80 && y >= 60 && y < 110) continue
        untouched++
        plate.planes.forEach((plane, c) => {
          expected[0] = halfToFloat(plane.samples[y * frameSize.width + x])
          if (bits[(y * frameSize.width + x) * 4 + c] !== expectedBits[0]) throw new Error(`pixel ${x} ${y} differs`)
        })
      }
    }
    expect(untouched).toBeGreaterThan(38_000)
    expect(Object.is(light[(3 * frameSize.width + 3) * 4], -0)).toBe(true)
  })

  test('over is F + B (1 - a), veil and gain before it: gain F + veil a', async () => {
    let shot = only('plate', 'cg')
    const at = { owner: { kind: 'treatment', id: 'match' } as const, parameter: 'veil', channel: 1 }
    shot = applyEdit(shot, { kind: 'set-parameter', at, frame: 1001, value: 0.02 }).shot
    shot = applyEdit(shot, { kind: 'set-parameter', at: { ...at, parameter: 'gain' }, frame: 1001, value: 1.5 }).shot
    const light = await localEngine(1).light(plan(shot).composite, fullFrame)
    const cg = madeUpFrame({ source: 'cg', frame: 1001 })
    const plate = madeUpFrame({ source: 'plate', frame: 1001 })
    for (const [x, y] of [
      [45, 75],
      [20, 70],
      [16, 75],
      [100, 50],
      [48, 104],
    ]) {
      const inCg = (y - cgWindow.y) * cgWindow.width + x - cgWindow.x
      const f = halfToFloat(cg.planes[1].samples[inCg])
      const a = halfToFloat(cg.planes[3].samples[inCg])
      const b = halfToFloat(plate.planes[1].samples[y * frameSize.width + x])
      expect(light[(y * frameSize.width + x) * 4 + 1]).toBeCloseTo(1.5 * f + 0.02 * a + b * (1 - a), 6)
    }
  })

  test('a lifted black stays zero where alpha is zero', async () => {
    const at = { owner: { kind: 'treatment', id: 'match' } as const, parameter: 'veil', channel: null }
    const shot = applyEdit(smallShot, { kind: 'set-parameter', at, frame: 1001, value: 0.3 }).shot
    const step = plan(shot).elements.get('cg')
    if (!step) throw new Error('no element')
    const [r, g, b, a] = await localEngine(1).light(step, { x: 100, y: 45, width: 1, height: 1 })
    expect([r, g, b, a]).toEqual([0, 0, 0, 0])
  })

  test('reveal with a full matte gives the plate back exactly, over CG and shadow', async () => {
    const light = await localEngine(1).light(plan().composite, { x: 25, y: 75, width: 1, height: 1 })
    const plate = madeUpFrame({ source: 'plate', frame: 1001 })
    expect([...light.slice(0, 3)]).toEqual(plate.planes.map((p) => halfToFloat(p.samples[75 * frameSize.width + 25])))
  })

  test('hidden elements and elements whose source does not reach the frame are absent', async () => {
    const hidden = applyEdit(only('plate', 'cg'), { kind: 'show-element', element: 'cg', visible: false }).shot
    const plate = await localEngine(1).light(plan(hidden).composite, fullFrame)
    expect(sameBits(await localEngine(1).light(plan(only('plate')).composite, fullFrame), plate)).toBe(true)
    expect(plan(smallShot, 1009).elements.has('cg')).toBe(false)
  })
})

describe('the same bits everywhere', () => {
  test('for one worker or three, for the whole frame or any window of it', async () => {
    const reference = await localEngine(1).light(plan().composite, fullFrame)
    expect(sameBits(await localEngine(3).light(plan().composite, fullFrame), reference)).toBe(true)
    const engine = localEngine(2)
    await fc.assert(
      fc.asyncProperty(windowsIn(fullFrame, 90, 90), async (window) => {
        const part = await engine.light(plan().composite, window)
        expect(sameBits(part, lightIn(reference, fullFrame, window))).toBe(true)
      }),
      { numRuns: 40 },
    )
  })

  test('a window outside every data window is empty', async () => {
    const light = await localEngine(1).light(plan().composite, { x: 1000, y: -500, width: 4, height: 4 })
    expect([...light].every((value) => value === 0)).toBe(true)
  })

  test('a window of no pixels gives no pixels', async () => {
    expect(await localEngine(1).light(plan().composite, { x: 5, y: 5, width: 0, height: 9 })).toHaveLength(0)
  })
})

describe('keeping and dropping', () => {
  test('a frame is brought once however many pictures need it', async () => {
    loads.clear()
    const engine = localEngine(2)
    await Promise.all([engine.light(plan().composite, fullFrame), engine.light(plan().plate, fullFrame)])
    await engine.light(plan().composite, fullFrame)
    expect([...loads.values()]).toEqual([...loads.values()].map(() => 1))
    expect(loads.size).toBe(3)
  })

  test('in a memory too small for all frames each picture is still right', async () => {
    const engine = localEngine(1, loadMadeUp, 5)
    const reference = localEngine(1)
    for (const frame of [1001, 1002, 1003, 1004, 1005, 1001, 1003]) {
      const step = plan(smallShot, frame).composite
      expect(sameBits(await engine.light(step, fullFrame), await reference.light(step, fullFrame))).toBe(true)
    }
  })

  test('pictures whose frames are brought in ahead of need do not take the room from each other', async () => {
    const size = { x: 0, y: 0, width: 512, height: 512 }
    // Two sources of 4 MB a picture, three pictures at once, in a memory that holds little more than one of them.
    const load = async ({ path }: FrameRequest) => ({
      decoded: false,
      dataWindow: size,
      displayWindow: size,
      planes: ['R', 'G', 'B', 'A'].map((name, c) => ({
        name,
        type: 'float' as const,
        samples: new Float32Array(512 * 512).fill(path.length / 100 + c / 10),
      })),
    })
    const step = (n: number) =>
      blend(
        someFrame({ path: `plate.${n}`, source: `plate.${n}` }),
        someFrame({ path: `cg${'.'.repeat(n)}`, source: `cg.${n}` }),
        null,
        'over',
        1,
        {},
      )
    const engine = localEngine(1, load, 20)
    const small = { x: 100, y: 100, width: 8, height: 8 }
    const one = async (n: number) => {
      await engine.prefetch(step(n))
      return engine.light(step(n), small)
    }
    for (let turn = 0; turn < 4; turn++) {
      const numbers = [1, 2, 3].map((n) => n + 3 * turn)
      const together = await Promise.all(numbers.map(one))
      for (const [i, n] of numbers.entries())
        expect(together[i]).toEqual(await localEngine(1, load, 64).light(step(n), small))
    }
    // Nothing is lost of the memory.
    expect(engine.usedBytes()).toBeLessThan(20 * 2 ** 20)
  })

  test('a frame that finds no room takes none', async () => {
    const wide = { x: 0, y: 0, width: 1024, height: 1024 }
    const big = localEngine(
      1,
      async () => ({
        decoded: false,
        dataWindow: wide,
        displayWindow: wide,
        planes: ['R', 'G', 'B', 'A'].map((name) => ({
          name,
          type: 'float' as const,
          samples: new Float32Array(1 << 20),
        })),
      }),
      12,
    )
    const before = big.usedBytes()
    for (let i = 0; i < 3; i++) await expect(big.light(someFrame(), wide)).rejects.toThrow(ArenaFullError)
    expect(big.usedBytes()).toBe(before)
  })

  test('a picture larger than the memory is made in bands, with the same bits', async () => {
    const large = { x: -100, y: -50, width: 900, height: 700 }
    const step = plan().composite
    // 10 MB of picture in a memory of 12, of which workers and frames have their part
    const banded = await localEngine(1, loadMadeUp, 12).light(step, large)
    expect(sameBits(banded, await localEngine(1, loadMadeUp, 64).light(step, large))).toBe(true)
  })

  test('what does not fit even in bands is refused in a sentence', async () => {
    const wide = { x: 0, y: 0, width: 400_000, height: 20 }
    await expect(localEngine(1, loadMadeUp, 12).light(plan().plate, wide)).rejects.toThrow(ArenaFullError)
  })

  test('a picture called off says so, and the next one is right', async () => {
    const engine = localEngine(1)
    const abort = new AbortController()
    const first = engine.light(plan().composite, fullFrame, { signal: abort.signal })
    abort.abort()
    await expect(first).rejects.toThrow(CancelledError)
    expect((await engine.light(plan().composite, fullFrame)).length).toBe(fullFrame.width * fullFrame.height * 4)
  })

  test('a frame that cannot be read fails its picture only', async () => {
    const engine = localEngine(1, async (request) => {
      if (request.frame === 1002) throw new Error('plate.1002.exr: the file is empty')
      return loadMadeUp(request)
    })
    await expect(engine.light(plan(smallShot, 1002).composite, fullFrame)).rejects.toThrow(
      'plate.1002.exr: the file is empty',
    )
    expect((await engine.light(plan(smallShot, 1003).composite, fullFrame)).length).toBeGreaterThan(0)
  })
})

describe('reduced scales', () => {
  test('half scale is the mean of four pixels of working light', async () => {
    const step = plan(only('plate'), 1001, 2).composite
    const light = await localEngine(1).light(step, { x: 10, y: 20, width: 1, height: 1 })
    const plate = madeUpFrame({ source: 'plate', frame: 1001 })
    const at = (x: number, y: number) => halfToFloat(plate.planes[2].samples[y * frameSize.width + x])
    expect(light[2]).toBe(Math.fround((at(20, 40) + at(21, 40) + at(20, 41) + at(21, 41)) / 4))
  })

  test('CG outside its data window counts as empty, so its edge is half covered', async () => {
    const shot: Shot = { ...only('plate', 'cg'), name: 'edge' }
    const load = async (request: Parameters<typeof loadMadeUp>[0]) => {
      const { frameAtScale } = await import('./source-frame')
      const planes = ['R', 'G', 'B', 'A'].map((name) => ({
        name,
        type: 'half' as const,
        samples: new Uint16Array([0x3c00]),
      }))
      if (request.source === 'cg')
        return frameAtScale(
          { dataWindow: { x: 5, y: 5, width: 1, height: 1 }, displayWindow: fullFrame, planes },
          request,
        )
      return loadMadeUp(request)
    }
    const step = plan(shot, 1001, 2).elements.get('cg')
    if (!step) throw new Error('no element')
    const light = await localEngine(1, load).light(step, { x: 2, y: 2, width: 1, height: 1 })
    expect([...light]).toEqual([0.25, 0.25, 0.25, 0.25])
  })
})
