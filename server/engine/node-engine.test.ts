import { readFileSync } from 'node:fs'
import { pathToFileURL } from 'node:url'
import { Worker } from 'node:worker_threads'
import { Engine } from '../../core/engine/engine'
import { localEngine } from '../../core/test/local-engine'
import { frameSize, loadMadeUp, pictureOf, smallShot } from '../../core/test/small-shot'
import { blur } from '../../core/graph/steps'
import type { WorkerPort } from '../../core/engine/worker-messages'
import { nodeEngine, threadPort } from './node-engine'

/** Real threads: the same bits as in one thread, and what happens when one dies. */

const built = pathToFileURL('dist/node/')
const large = { x: -500, y: -400, width: 2000, height: 1500 }
const step = () => blur(pictureOf(smallShot, 1001).composite, 3, 25, 'extend')
const reference = localEngine(1, loadMadeUp, 256).light(step(), large)

function sameBits(a: Float32Array, b: Float32Array): boolean {
  return Buffer.from(a.buffer).equals(Buffer.from(b.buffer))
}

/** An engine whose threads can be killed from outside. */
function fragileEngine(threads: number, port: (worker: Worker) => WorkerPort = threadPort) {
  const workers: Worker[] = []
  const pages = 256 * 16
  const engine = new Engine({
    module: new WebAssembly.Module(readFileSync('dist/kernels/kernels.wasm')),
    memory: new WebAssembly.Memory({ initial: pages, maximum: pages, shared: true }),
    load: loadMadeUp,
    workers: threads,
    spawn: () => {
      const worker = new Worker(new URL('engine-worker.mjs', built))
      workers.push(worker)
      return port(worker)
    },
  })
  return { engine, workers }
}

test('threads give the same bits as one thread', async () => {
  const engine = nodeEngine({ load: loadMadeUp, threads: 2, memoryBytes: 256 * 2 ** 20, built })
  expect(sameBits(await engine.light(step(), large), await reference)).toBe(true)
  engine.close()
})

test.each([1, 2])('of %p threads one that dies is replaced, and its tiles are done again', async (threads) => {
  const { engine, workers } = fragileEngine(threads)
  await engine.light(step(), { x: 0, y: 0, ...frameSize })
  const picture = engine.light(step(), large)
  await new Promise((done) => setTimeout(done, 15))
  await workers[0].terminate()
  expect(sameBits(await picture, await reference)).toBe(true)
  expect(workers).toHaveLength(threads + 1)
  // and the next picture finds the crew complete
  expect(sameBits(await engine.light(step(), large), await reference)).toBe(true)
  engine.close()
})

test.each([1, 2])('of %p threads that count one dies, and everything is counted again', async (threads) => {
  const counting = { counts: 'channels', columns: 7 } as const
  const { engine, workers } = fragileEngine(threads)
  await engine.light(step(), { x: 0, y: 0, ...frameSize })
  const counts = engine.counts(step(), large, counting)
  await new Promise((done) => setTimeout(done, 15))
  await workers[0].terminate()
  expect(await counts).toEqual(await localEngine(1, loadMadeUp, 256).counts(step(), large, counting))
  expect(workers).toHaveLength(threads + 1)
  engine.close()
})

test('threads that die again and again end the picture with a sentence, not the engine', async () => {
  let deadly = true
  const { engine } = fragileEngine(1, (worker) => {
    const port = threadPort(worker)
    return {
      ...port,
      post: (message) => {
        port.post(message)
        if (deadly && message.kind === 'work') void worker.terminate()
      },
    }
  })
  await expect(engine.light(step(), large)).rejects.toThrow(/^The workers of the engine keep failing/)
  deadly = false
  expect(sameBits(await engine.light(step(), large), await reference)).toBe(true)
  engine.close()
})

test('a picture is called off between tiles, long before it would be done', async () => {
  const engine = nodeEngine({ load: loadMadeUp, threads: 2, memoryBytes: 256 * 2 ** 20, built })
  await engine.light(step(), { x: 0, y: 0, ...frameSize })
  // The least of three: while another program takes the processor a picture takes many times as long.
  let duration = Infinity
  for (let i = 0; i < 3; i++) {
    const started = performance.now()
    await engine.light(step(), { ...large, x: -600 - i }, { once: true })
    duration = Math.min(duration, performance.now() - started)
  }
  const delays: number[] = []
  for (let i = 0; i < 9; i++) {
    const abort = new AbortController()
    const picture = engine.light(step(), { ...large, x: -500 - i }, { signal: abort.signal, once: true })
    await new Promise((done) => setTimeout(done, duration / 10))
    const asked = performance.now()
    abort.abort()
    const ended = await picture.then(
      () => 'made',
      (error: Error) => error.message,
    )
    // Where another program held this one up, the picture was done before it could be called off.
    if (ended === 'made') continue
    expect(ended).toContain('called off')
    delays.push(performance.now() - asked)
  }
  expect(delays.length).toBeGreaterThanOrEqual(3)
  // The median, since another program may take the processor at any moment; the bench has the figure in ms.
  expect(delays.sort((x, y) => x - y)[delays.length >> 1]).toBeLessThan(duration / 3)
  engine.close()
})

test('an urgent picture does not wait for an idle one, which is made all the same', async () => {
  const engine = nodeEngine({ load: loadMadeUp, threads: 2, memoryBytes: 256 * 2 ** 20, built })
  const order: string[] = []
  const idle = engine.light(step(), large, { idle: true }).then((pixels) => {
    order.push('idle')
    return pixels
  })
  await new Promise((done) => setTimeout(done, 20))
  const urgent = engine.light(step(), { x: 0, y: 0, width: 30, height: 30 }).then(() => order.push('urgent'))
  await urgent
  expect(sameBits(await idle, await reference)).toBe(true)
  expect(order).toEqual(['urgent', 'idle'])
  engine.close()
})

test('a closed engine refuses pictures and ends those under way', async () => {
  const engine = nodeEngine({ load: loadMadeUp, threads: 1, memoryBytes: 256 * 2 ** 20, built })
  const picture = engine.light(step(), large)
  await new Promise((done) => setTimeout(done, 20))
  engine.close()
  await expect(picture).rejects.toThrow('The engine was closed.')
  await expect(engine.light(step(), large)).rejects.toThrow('The engine was closed.')
})
