import type { FrameRequest } from '../graph/steps'
import type { Window } from '../image/window'
import { measureWindow } from '../measure/window-statistics'
import { localEngine, localWorker } from '../test/local-engine'
import { boundsMadeUp, loadMadeUp, pictureOf, smallShot } from '../test/small-shot'

/** Measuring reads no more than it needs, and measures what is there. */

const windows: readonly Window[] = [
  { x: 20, y: 60, width: 32, height: 16 },
  { x: 200, y: 20, width: 16, height: 16 },
  // beside the first, and partly beyond the frame
  { x: -8, y: 64, width: 16, height: 12 },
]
const { composite } = pictureOf(smallShot, 1003)
const wanted = { percentiles: [0.5], autocorrelation: true, gradients: true }

test('the readings are those of the same windows of light, however many workers and windows there are', async () => {
  const whole = localEngine(1)
  const expected = []
  for (const window of windows) expected.push(measureWindow(await whole.light(composite, window), window, wanted))
  for (const workers of [1, 2]) {
    const engine = localEngine(workers, loadMadeUp, 32, localWorker, boundsMadeUp)
    expect(await engine.measure(composite, windows, wanted)).toEqual(expected)
    expect(await engine.measure(composite, [windows[1]], wanted)).toEqual([expected[1]])
  }
})

test('each part of a frame is read once, and no more of it than the windows need', async () => {
  const read: [string, Window | undefined][] = []
  const load = (request: FrameRequest, signal?: AbortSignal, window?: Window) => {
    read.push([request.path, window])
    return loadMadeUp(request, signal, window)
  }
  const engine = localEngine(2, load, 32, localWorker, boundsMadeUp)
  await engine.measure(composite, windows)
  const plates = read.filter(([path]) => path.startsWith('plate'))
  // Two bands: the first window and the third lie beside each other.
  expect(plates).toHaveLength(2)
  for (const [, window] of plates)
    expect((window?.width ?? 300) * (window?.height ?? 150)).toBeLessThan(300 * 150 * 0.5)
  const before = read.length
  await engine.measure(composite, windows)
  expect(read).toHaveLength(before)
})

test('what cannot be read is told, and nothing stays held', async () => {
  const engine = localEngine(
    1,
    () => Promise.reject(new Error('plate.1003.exr is gone.')),
    32,
    localWorker,
    boundsMadeUp,
  )
  await expect(engine.measure(composite, windows)).rejects.toThrow('plate.1003.exr is gone.')
  expect(engine.usedBytes()).toBe(localEngine(1).usedBytes())
})
