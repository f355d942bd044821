/**
 * The stand-in camera: plays the camera crew and the render farm, and makes a demo shot.
 *
 * node dist/node/standin.mjs [--shot quay-010|quay-020] --media DIR --truth DIR [--size 1280x720] [--frames 48] [--seed 1] [--threads N]
 */

import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { join } from 'node:path'
import { Worker } from 'node:worker_threads'
import { Command, InvalidArgumentError, Option } from 'commander'
import { distort, eye, lensFor, swayAt, undistort, type Frame, type Lens } from './camera'
import { quayShot } from './demo-shot'
import { writeCamera } from '../formats/camera'
import { farSceneSize } from './far-scene'
import { framesPerSecond, part, planesOf, writeJson, writePicture, writeWhole } from './files'
import type { Task, WorkerSetUp } from './tasks'
import { lampLevelsAt, veilLevelAt } from './light'
import { cameraPose, scenePlanes, scenePoints } from './moving-camera'
import { overscanOf } from './guest-passes'
import { recordingFor } from './sensor'
import { cgGain } from './shot-files'

/** Raise when the same options should give other pictures. */
const version = 15
const firstFrame = 1001
/** Ball and chart are shot for so many frames, or as many as the shot has. */
const mostReferenceFrames = 8

const shotNames = ['quay-010', 'quay-020'] as const

interface Options {
  readonly shot: (typeof shotNames)[number]
  readonly media: string
  readonly truth: string
  readonly size: Frame
  readonly frames: number
  readonly seed: number
  readonly threads: number
}

const wholeFrom = (least: number) => (text: string) => {
  const value = Number(text)
  if (!Number.isInteger(value) || value < least)
    throw new InvalidArgumentError(`It must be a whole number from ${least} up.`)
  return value
}

function sizeFrom(text: string): Frame {
  const match = /^(\d+)x(\d+)$/.exec(text)
  const [width, height] = match ? [Number(match[1]), Number(match[2])] : [0, 0]
  if (width < 64 || height < 36 || width > 8192 || height > 8192)
    throw new InvalidArgumentError('It must look like 1280x720.')
  return { width, height }
}

const options = new Command('standin')
  .addOption(new Option('--shot <name>', 'which demo shot').choices(shotNames).default('quay-010'))
  .requiredOption('--media <folder>', 'where plate, passes and shot file go')
  .requiredOption('--truth <folder>', 'where the truth goes')
  .option('--size <WxH>', 'frame size', sizeFrom, { width: 1280, height: 720 })
  .option('--frames <count>', 'frames from 1001', wholeFrom(1), 48)
  .option('--seed <number>', 'changes camera, noise, lens and veil', wholeFrom(0), 1)
  .option('--threads <count>', 'worker threads', wholeFrom(1), availableParallelism())
  .parse()
  .opts<Options>()

const started = Date.now()
const say = (text: string) => console.log(`[standin ${((Date.now() - started) / 1000).toFixed(1)} s] ${text}`)

/** Where it does, no far scene can serve all frames. */
const cameraMoves = options.shot === 'quay-020'
const shotFolder = join(options.media, options.shot)
const truthFolder = join(options.truth, options.shot)
const manifestPath = join(truthFolder, 'manifest.json')
const identity = createHash('sha256')
  .update(JSON.stringify([version, options.size, options.seed]))
  .digest('hex')
  .slice(0, 16)

function reuseOrClear(): void {
  const before = existsSync(manifestPath)
    ? (JSON.parse(readFileSync(manifestPath, 'utf8')) as { identity: string }).identity
    : null
  if (before === identity) return
  rmSync(shotFolder, { recursive: true, force: true })
  rmSync(truthFolder, { recursive: true, force: true })
  mkdirSync(shotFolder, { recursive: true })
  writeJson(manifestPath, { identity })
}

function lensMap(lens: Lens, direction: typeof distort): Float32Array {
  const { width, height } = options.size
  const map = new Float32Array(width * height * 2)
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [u, v] = direction(x + 0.5, y + 0.5, lens)
      map[(y * width + x) * 2] = u / width
      map[(y * width + x) * 2 + 1] = v / height
    }
  }
  return map
}

/** White lines on black, as if a board with a square grid had been photographed through the lens. */
function lensGrid(lens: Lens): Float32Array {
  const { width, height } = options.size
  const out = new Float32Array(width * height)
  const spacing = width / 20
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [u, v] = undistort(x + 0.5, y + 0.5, lens)
      const near = (value: number, centre: number) =>
        Math.abs((value - centre) / spacing - Math.round((value - centre) / spacing)) * spacing
      const distance = Math.min(near(u, width / 2), near(v, height / 2))
      out[y * width + x] = 0.8 * Math.min(1, Math.max(0, 1.5 - distance))
    }
  }
  return out
}

async function writeSetUp(): Promise<void> {
  const { size, frames, seed } = options
  const lens = lensFor(size, seed)
  const last = firstFrame + frames - 1
  const display = { x: 0, y: 0, ...size }
  const file = (folder: string, kind: string) => join(shotFolder, folder, `${options.shot}_${kind}`)
  writeJson(file('lens', 'lens.json'), {
    model: 'opencv',
    focalPx: lens.focal,
    centrePx: [lens.centreX, lens.centreY],
    k1: lens.k1,
    k2: lens.k2,
    k3: 0,
    p1: 0,
    p2: 0,
    overscan: overscanOf(size),
  })
  const camera = await writeCameraFile(lens, file)
  for (const [name, direction] of [
    ['undistort', distort],
    ['redistort', undistort],
  ] as const) {
    await writePicture(file('lens', `${name}.exr`), [
      part(undefined, display, display, planesOf(lensMap(lens, direction), ['R', 'G'], 'float'), firstFrame),
    ])
  }
  await writePicture(file('lens', 'grid.exr'), [
    part(undefined, display, display, planesOf(lensGrid(lens), ['Y'], 'half'), firstFrame),
  ])
  writeJson(join(truthFolder, 'truth.json'), {
    camera: { lens, recording: recordingFor(seed), ...camera },
    cgGain,
    frames: Array.from({ length: frames }, (_, i) => ({
      frame: firstFrame + i,
      lampLevels: lampLevelsAt(i),
      veil: recordingFor(seed).veil.map((v) => v * veilLevelAt(i)),
    })),
  })
  writeJson(
    join(shotFolder, `${options.shot}.shot.json`),
    quayShot({
      ...{ name: options.shot, frame: size, first: firstFrame, last },
      lastReference: firstFrame + Math.min(frames, mostReferenceFrames) - 1,
      // The lens of a carried camera is known by its numbers, that of the other by a map.
      lens: cameraMoves ? lens : null,
    }),
  )
}

/** @returns what the truth says of how the camera stood */
async function writeCameraFile(lens: Lens, file: (folder: string, kind: string) => string): Promise<object> {
  const { size, frames, seed } = options
  const indices = Array.from({ length: frames }, (_, i) => i)
  if (!cameraMoves) {
    const poses = indices.map((i) => ({ frame: firstFrame + i, ...swayAt(i, seed) }))
    writeJson(file('camera', 'camera.json'), { unit: 'metre', eye, focalPx: lens.focal, frameSize: size, poses })
    return { poses }
  }
  const poses = indices.map((i) => ({ frame: firstFrame + i, ...cameraPose(i, seed, lens, size) }))
  const { numerator, denominator } = framesPerSecond
  const text = await writeCamera({
    ...{ name: 'Shot camera', aspect: size.width / size.height, poses, planes: scenePlanes },
    timing: { firstFrame, framesPerSecond: numerator / denominator },
    points: scenePoints(frames, seed, lens, size),
  })
  writeWhole(file('camera', 'camera.gltf'), text)
  return { poses }
}

/** What a task takes, beside a frame. */
const weights: Readonly<Record<Task['kind'], number>> = { rows: 0.09, frame: 1, clean: 0.5, reference: 0.8 }
let share = { done: 0, of: 1 }

/** Whoever started this program hears how far it is. */
function countDone(task: Task): void {
  share = { ...share, done: share.done + weights[task.kind] }
  process.send?.({ share: Math.min(1, share.done / share.of) })
}

/** Gives tasks in order to workers that are free; ends when all are done. */
function runTasks(workers: readonly Worker[], tasks: readonly Task[], done: (task: Task) => void): Promise<void> {
  return new Promise((resolve, reject) => {
    let next = 0
    let left = tasks.length
    if (left === 0) return resolve()
    const give = (worker: Worker) => {
      worker.removeAllListeners('message')
      if (next >= tasks.length) return
      const task = tasks[next++]
      worker.once('message', (answer: { failed?: string }) => {
        if (answer.failed !== undefined) return reject(new Error(answer.failed))
        countDone(task)
        done(task)
        if (--left === 0) resolve()
        else give(worker)
      })
      worker.postMessage(task)
    }
    for (const worker of workers) {
      worker.once('error', reject)
      give(worker)
    }
  })
}

async function main(): Promise<void> {
  reuseOrClear()
  await writeSetUp()
  const numbers = Array.from({ length: options.frames }, (_, i) => firstFrame + i)
  const missing = numbers.filter((n) => !existsSync(join(shotFolder, 'plate', `${options.shot}_plate.${n}.exr`)))
  const lateTasks: Task[] = []
  for (const guest of ['ball', 'chart'] as const)
    for (const frame of numbers.slice(0, mostReferenceFrames))
      if (!existsSync(join(shotFolder, 'reference', `${options.shot}_${guest}_plate.${frame}.exr`)))
        lateTasks.push({ kind: 'reference', guest, frame })
  const needsClean = !existsSync(join(shotFolder, 'clean', `${options.shot}_clean.exr`))
  if (missing.length === 0 && lateTasks.length === 0 && !needsClean) return say('the demo shot is there already')

  const size = farSceneSize(options.size)
  const bytes = cameraMoves ? 0 : size.width * size.height * 16
  const setUp: WorkerSetUp = {
    shot: options.shot,
    frame: options.size,
    seed: options.seed,
    firstFrame,
    media: shotFolder,
    truth: truthFolder,
    pixels: new SharedArrayBuffer(bytes),
    cleanPixels: new SharedArrayBuffer(bytes),
  }
  const workers = Array.from(
    { length: options.threads },
    () => new Worker(new URL('./standin-worker.mjs', import.meta.url), { workerData: setUp }),
  )
  try {
    const rows = (withFront: boolean, from: number): Task[] => {
      const tasks: Task[] = []
      if (cameraMoves) return tasks
      for (let first = from; first < size.height; first += 16)
        tasks.push({ kind: 'rows', first, last: Math.min(size.height, first + 16), withFront })
      return tasks
    }
    // Bollard and rope, their shadows and mirror images lie in the lower half; above it both scenes are the same.
    const half = Math.floor(size.height / 2)
    const frames = missing.map((frame): Task => ({ kind: 'frame', frame }))
    const cleanTasks: Task[] = needsClean ? [...rows(false, half), { kind: 'clean' }] : []
    share = {
      done: 0,
      of: [...rows(true, 0), ...frames, ...lateTasks, ...cleanTasks].reduce((sum, { kind }) => sum + weights[kind], 0),
    }
    await runTasks(workers, rows(true, 0), () => undefined)
    if (!cameraMoves) say(`far scene of ${size.width}x${size.height} rendered`)
    await runTasks(workers, frames, (task) => task.kind === 'frame' && say(`frame ${task.frame}`))
    await runTasks(workers, lateTasks, (task) => task.kind === 'reference' && say(`${task.guest} ${task.frame}`))
    if (needsClean) {
      new Float32Array(setUp.cleanPixels).set(new Float32Array(setUp.pixels).subarray(0, half * size.width * 4))
      await runTasks(workers, rows(false, half), () => undefined)
      await runTasks(workers, [{ kind: 'clean' }], () => say('clean plate'))
    }
    say('the demo shot is complete')
  } finally {
    await Promise.all(workers.map((worker) => worker.terminate()))
  }
}

// Without whoever started it, nobody wants the shot any more.
const abandoned = () => process.exit(1)
if (process.send) process.once('disconnect', abandoned)
await main()
process.off('disconnect', abandoned)
if (process.connected) process.disconnect()
