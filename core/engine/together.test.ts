import type { Counting } from '../kernels/counting'
import { levelCount } from '../kernels/counting'
import { localEngine, localWorker } from '../test/local-engine'
import { frameSize, loadMadeUp, pictureOf, smallShot } from '../test/small-shot'
import { CancelledError } from './engine'
import type { Phase } from './program'

/** What is asked for at the same time of the same window. */

const fullFrame = { x: 0, y: 0, ...frameSize }
const plan = (frame = 1001) => pictureOf(smallShot, frame)
const view = { exposure: 1, channel: 'all', encoding: 'srgb' } as const
const luma: Counting = { counts: 'luma', weights: [0.2126, 0.7152, 0.0722], columns: 30 }
const channels: Counting = { counts: 'channels', columns: 1 }
const colours: Counting = { counts: 'colours', size: 64 }

/** An engine that tells which phases its worker was given. */
function watchedEngine() {
  const work: (readonly Phase[])[] = []
  const engine = localEngine(1, loadMadeUp, 32, () => {
    const port = localWorker()
    return {
      ...port,
      post: (message) => {
        if (message.kind === 'work') work.push(message.job.phases)
        port.post(message)
      },
    }
  })
  return { engine, work }
}

function element() {
  const step = plan().elements.get('cg')
  if (!step) throw new Error('no element')
  return step
}

test('a picture, its scope and an element’s scope are made in one go, as they would be apart', async () => {
  const { engine, work } = watchedEngine()
  const { composite } = plan()
  const [picture, scope, ofElement] = await Promise.all([
    engine.view(composite, fullFrame, view),
    engine.counts(composite, fullFrame, luma),
    engine.counts(element(), fullFrame, luma),
  ])
  expect(work).toHaveLength(1)
  // The picture and its scope are two stores of the same rows.
  const outputs = work[0].flatMap((phase) => (phase.phase === 'output' ? [phase.placed.length] : []))
  expect(outputs).toEqual([2, 1])
  const apart = localEngine(1)
  expect(picture).toEqual(await apart.view(composite, fullFrame, view))
  expect(scope).toEqual(await apart.counts(composite, fullFrame, luma))
  expect(ofElement).toEqual(await apart.counts(element(), fullFrame, luma))
})

test('who hears of a picture and asks at once for the next is in time to be made together with others', async () => {
  const { engine, work } = watchedEngine()
  const ask = async (counting: Counting) => {
    await engine.counts(plan(1001).composite, fullFrame, counting)
    await Promise.resolve()
    await engine.counts(plan(1002).composite, fullFrame, counting)
  }
  await Promise.all([ask(luma), ask(channels)])
  expect(work).toHaveLength(2)
})

test('windows that differ are made one after the other', async () => {
  const { engine, work } = watchedEngine()
  const left = { ...fullFrame, width: 290 }
  await Promise.all([engine.light(plan().composite, fullFrame), engine.light(plan().composite, left)])
  expect(work).toHaveLength(2)
})

test('what cannot be made fails alone', async () => {
  const engine = localEngine(1, (request) =>
    request.frame === 1002 ? Promise.reject(new Error('plate.1002.exr: the file is empty')) : loadMadeUp(request),
  )
  const [bad, good] = await Promise.allSettled([
    engine.light(plan(1002).composite, fullFrame),
    engine.light(plan(1001).composite, fullFrame),
  ])
  expect(bad).toMatchObject({ status: 'rejected', reason: { message: 'plate.1002.exr: the file is empty' } })
  expect(good).toEqual({ status: 'fulfilled', value: await localEngine(1).light(plan(1001).composite, fullFrame) })
})

test('calling one off leaves the others', async () => {
  const engine = localEngine(1)
  const abort = new AbortController()
  const given = engine.view(plan().composite, fullFrame, view, { signal: abort.signal })
  const kept = engine.counts(plan().composite, fullFrame, luma)
  setTimeout(() => abort.abort())
  await expect(given).rejects.toThrow(CancelledError)
  expect(await kept).toEqual(await localEngine(1).counts(plan().composite, fullFrame, luma))
})

describe('counts', () => {
  const sum = (counts: Uint32Array) => counts.reduce((a, b) => a + b, 0)

  test('every covered pixel is counted once', async () => {
    const { composite } = plan()
    const light = await localEngine(1).light(element(), fullFrame)
    let covered = 0
    for (let i = 3; i < light.length; i += 4) if (light[i] >= 0.5) covered++
    expect(covered).toBeGreaterThan(1000)
    const engine = localEngine(2)
    expect(sum(await engine.counts(element(), fullFrame, luma))).toBe(covered)
    expect(sum(await engine.counts(element(), fullFrame, colours))).toBe(covered)
    expect(sum(await engine.counts(composite, fullFrame, channels))).toBe(3 * fullFrame.width * fullFrame.height)
  })

  test('columns count their own pixels', async () => {
    const counts = await localEngine(2).counts(plan().plate, fullFrame, luma)
    for (let column = 0; column < 30; column++)
      expect(sum(counts.subarray(column * levelCount, (column + 1) * levelCount))).toBe(10 * fullFrame.height)
  })

  test.each([luma, channels, colours])('are the same for any number of workers and in bands: %j', async (counting) => {
    const large = { x: -100, y: -50, width: 900, height: 700 }
    const { composite } = plan()
    const expected = await localEngine(1, loadMadeUp, 64).counts(composite, large, counting)
    expect(await localEngine(3, loadMadeUp, 64).counts(composite, large, counting)).toEqual(expected)
    // Together with a picture that is too large for the memory.
    const small = localEngine(1, loadMadeUp, 12)
    const [counts] = await Promise.all([small.counts(composite, large, counting), small.light(composite, large)])
    expect(counts).toEqual(expected)
  })

  test('of no pixels are none', async () => {
    const counts = await localEngine(1).counts(plan().composite, { x: 5, y: 5, width: 0, height: 3 }, luma)
    expect(counts).toHaveLength(30 * levelCount)
    expect(sum(counts)).toBe(0)
  })
})
