/** The engine on a reference composite: what a second thread gains, small windows on many frames, and the demo from cold. */

import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { Worker } from 'node:worker_threads'
import type { Step } from '../core/graph/steps'
import { planFrame } from '../core/plan/plan'
import type { Files } from '../core/plan/catalog'
import type { Shot } from '../core/shot'
import { nodeEngine } from '../server/engine/node-engine'
import { filesIn } from '../core/plan/catalog'
import { catalogOf } from '../server/media/catalog'
import { windowsAtOnce, inOrder } from '../server/delivery/in-order'
import { FrameReaders } from '../server/media/frame-readers'
import { readShotFile } from '../server/shots/shot-store'
import { referenceFrame, referenceShot } from './reference-shot'
import { atLeast, atMost, median, type Row } from './row'

const built = pathToFileURL(`${resolve('dist/node')}/`)
const size = { width: 1920, height: 1080 }
const fullFrame = { x: 0, y: 0, ...size }

export async function benchEngine(data: string): Promise<Row[]> {
  return [await secondThread(), await callingOff(), await witnesses(data), await witnessesFromCold(data)]
}

const allThere: Files = { fingerprint: () => 'bench', before: (_source, number) => number - 1 }

/** @throws Error when the shot has no picture there */
function picture(shot: Shot, frame: number, files = allThere): Step {
  const { composite, problems } = planFrame(shot, frame, 1, files)
  if (!composite) throw new Error(problems.map(({ sentence }) => sentence).join(' '))
  return composite
}

/** Best of some pictures of different frames, in ms; sources come from memory. */
async function pictures(threads: number, count: number): Promise<number> {
  const shot = referenceShot(size)
  const engine = nodeEngine({
    load: async (request) => referenceFrame(request, size),
    threads,
    memoryBytes: 1536 * 2 ** 20,
    built,
  })
  let best = Infinity
  for (let i = 0; i <= count; i++) {
    const step = picture(shot, 1001 + i)
    await engine.prefetch(step)
    const start = performance.now()
    await engine.halves(step, fullFrame, { once: true })
    if (i > 0) best = Math.min(best, performance.now() - start)
  }
  engine.close()
  return best
}

async function secondThread(): Promise<Row> {
  // Both are measured twice, in turns, so that a slow spell of the machine does not fall on one of them.
  const times = { one: Infinity, two: Infinity }
  let plain = 0
  for (let turn = 0; turn < 3; turn++) {
    times.one = Math.min(times.one, await pictures(1, 4))
    times.two = Math.min(times.two, await pictures(2, 4))
    plain = Math.max(plain, await plainGain())
  }
  const gain = times.one / times.two
  return atLeast(
    `Reference composite 1920x1080: gain of two threads (${times.one.toFixed(0)} to ${times.two.toFixed(0)} ms, ${gain.toFixed(2)}) as a share of plain kernels' (${plain.toFixed(2)})`,
    (100 * gain) / plain,
    85,
    '%',
  )
}

/** From calling a picture off to its end, on two threads. */
async function callingOff(): Promise<Row> {
  const engine = nodeEngine({
    load: async (request) => referenceFrame(request, size),
    threads: 2,
    memoryBytes: 1536 * 2 ** 20,
    built,
  })
  const step = picture(referenceShot(size), 1001)
  await engine.prefetch(step)
  const delays: number[] = []
  for (let i = 0; i < 15; i++) {
    const abort = new AbortController()
    const picture = engine.halves(step, fullFrame, { once: true, signal: abort.signal }).catch(() => undefined)
    await new Promise((done) => setTimeout(done, 20 + 15 * i))
    const asked = performance.now()
    abort.abort()
    await picture
    delays.push(performance.now() - asked)
  }
  engine.close()
  return atMost('Calling off the reference composite at 1920x1080, median', median(delays), 30, 'ms')
}

/** How much sooner two threads are done with as many kernel calls as one. */
async function plainGain(): Promise<number> {
  const workers = [0, 1].map(() => new Worker(new URL('bench-plain.mjs', built)))
  const run = (worker: Worker, calls: number) =>
    new Promise<void>((done) => {
      worker.once('message', () => done())
      worker.postMessage(calls)
    })
  const calls = 40_000
  await Promise.all(workers.map((worker) => run(worker, calls / 4)))
  let [one, two] = [Infinity, Infinity]
  for (let turn = 0; turn < 3; turn++) {
    const start = performance.now()
    await run(workers[0], calls)
    const middle = performance.now()
    await Promise.all(workers.map((worker) => run(worker, calls / 2)))
    one = Math.min(one, middle - start)
    two = Math.min(two, performance.now() - middle)
  }
  await Promise.all(workers.map((worker) => worker.terminate()))
  return one / two
}

const places = [
  [200, 133],
  [630, 260],
  [760, 420],
  [800, 600],
  [1000, 100],
  [640, 640],
].map(([x, y]) => ({ x, y, width: 32, height: 32 }))

/** On the demo, computing alone: every frame's sources are in memory before. */
async function witnesses(data: string): Promise<Row> {
  const demo = await openDemo(data, 1536)
  for (const step of demo.steps) await demo.engine.prefetch(step)
  // Nothing is kept from one picture for the next. The best of four turns: the first have what reading left to tidy, and code not yet compiled.
  const best = async (pictures: (step: Step) => Promise<unknown>) => {
    let ms = Infinity
    for (let turn = 0; turn < 4; turn++) {
      const start = performance.now()
      for (const step of demo.steps) await pictures(step)
      ms = Math.min(ms, performance.now() - start)
    }
    return ms
  }
  const frame = { x: 0, y: 0, ...demo.shot.frameSize }
  const full = await best((step) => demo.engine.halves(step, frame, { once: true }))
  const small = await best(async (step) => {
    for (const place of places) await demo.engine.light(step, place, { once: true })
  })
  await demo.close()
  return atMost(
    `Six windows of 32x32 on the 48 demo frames (${small.toFixed(0)} ms) as a share of 48 whole frames (${full.toFixed(0)} ms)`,
    (100 * small) / full,
    5,
    '%',
  )
}

async function openDemo(data: string, megabytes: number) {
  const folder = join(data, 'media/quay-010')
  const shot = await readShotFile(join(folder, 'quay-010.shot.json'))
  const readers = new FrameReaders(new URL('frame-reader.mjs', built), 2)
  const engine = nodeEngine({
    load: readers.loader({ roots: [folder], folder }),
    bounds: (request) => readers.bounds({ roots: [folder], folder }, request),
    threads: 2,
    memoryBytes: megabytes * 2 ** 20,
    built,
  })
  const files = filesIn(await catalogOf({ roots: [folder], folder }, shot))
  const steps = Array.from({ length: shot.frames.last - shot.frames.first + 1 }, (_, i) =>
    picture(shot, shot.frames.first + i, files),
  )
  const close = async () => {
    engine.close()
    await readers.close()
  }
  return { shot, engine, steps, close }
}

/** Where twelve witnesses may stand: all over the frame, on the bell and beside it. */
const twelve = [60, 380, 700, 1020].flatMap((x) => [90, 330, 580].map((y) => ({ x, y, width: 32, height: 32 })))

async function witnessesFromCold(data: string): Promise<Row> {
  const start = performance.now()
  const { engine, steps, close } = await openDemo(data, 512)
  // While one frame's windows are computed, those of the next ones are read.
  for await (const ended of inOrder(steps, windowsAtOnce, (step) => engine.measure(step, twelve)))
    if ('error' in ended) throw ended.error
  const seconds = (performance.now() - start) / 1000
  await close()
  return atMost('Twelve windows of 32x32 on the 48 demo frames from cold, decoding included', seconds, 3, 's')
}
