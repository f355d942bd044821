/** Placing, motion blur, colour by curves, keyframes: kernels beside copying, and pictures as they are made while dragging. */

import { mkdtempSync, rmSync } from 'node:fs'
import { readFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import type { SourceFrame } from '../core/engine/source-frame'
import { frameAtScale } from '../core/engine/source-frame'
import {
  colour,
  constant,
  identity,
  point,
  resample,
  type FrameRequest,
  type Leading,
  type ParameterValues,
  type Scale,
  type Step,
} from '../core/graph/steps'
import type { Window } from '../core/image/window'
import { PlanMemo } from '../core/plan/memo'
import { planFrame } from '../core/plan/plan'
import type { Files } from '../core/plan/catalog'
import { treatments, type PictureTreatment } from '../core/treatments'
import { applyEdit, keyedCurves, movedKeyframes, type Change, type Shot } from '../core/shot'
import { decodeSourceFrame } from '../formats/wire/source-frame'
import { ComputedFiles } from '../server/computed/computed-files'
import { nodeEngine } from '../server/engine/node-engine'
import { OneThread } from './one-thread'
import { matched, placedShot, texture, type Size } from './placed-shot'
import { atLeast, atMost, besidePeer, inTurns, median, type Row } from './row'

const full: Window = { x: 0, y: 0, width: 1920, height: 1080 }
const built = pathToFileURL(`${resolve('dist/node')}/`)
const draw = { seed: 'bench', frame: 1001 }

export async function benchShaping(): Promise<Row[]> {
  return [...(await colours()), ...(await motionBlur()), keyframes(), ...(await dragging()), await readBack()]
}

const copying = () => {
  const [from, to] = [new Float32Array(1920 * 1080 * 4).fill(0.5), new Float32Array(1920 * 1080 * 4)]
  return () => to.set(from)
}

async function colours(): Promise<Row[]> {
  const thread = new OneThread(256)
  const source = thread.source('texture', full, 4, 'float', (c, x, y) => (c === 3 ? 1 : texture(c, x, y)))
  const copy = copying()
  const weights = [0.2126, 0.7152, 0.0722]
  const cases: readonly (readonly [
    kind: keyof typeof treatments,
    name: string,
    limit: number,
    values: ParameterValues,
  ])[] = [
    [
      'curves',
      'Curves of red, green and blue',
      2.5,
      { luma: [], red: [0.2, 0.25], green: [0.4, 0.45], blue: [0.5, 0.4], encoding: [1], weights },
    ],
    ['hue-ranges', 'Two hue ranges', 4, { ranges: [20, 60, 10, 0.8, 0.2, 200, 60, -10, 1.2, 0], weights }],
    [
      'tint',
      'Tint by three picks',
      3,
      { amount: [0.5], colours: [0.02, 0.03, 0.05, 0.3, 0.25, 0.2, 1, 0.9, 0.7], weights },
    ],
  ]
  const rows: Row[] = []
  for (const [kind, name, limit, values] of cases) {
    const { run } = treatments[kind] as PictureTreatment
    if (!run) throw new Error(`${kind} has no kernel.`)
    const plain = thread.picture(source, full, { kind: 'light' })
    const treated = thread.picture(point(source, kind, 1, values, draw), full, { kind: 'light' })
    const [withIt, copied] = await inTurns(7, treated, copy)
    const [without] = await inTurns(7, plain, copy)
    rows.push(
      besidePeer(
        `${name}, fused, 1920x1080, one thread, beside copying a float frame`,
        withIt - without,
        copied,
        limit,
        'ms',
      ),
    )
  }
  return rows
}

/** Moved by 24 pixels across and a little down while the shutter is open. */
const moving = (count: number): Leading[] =>
  Array.from({ length: count }, (_, i) => {
    const share = (i + 0.5) / count - 0.5
    return { matrix: [1, 0, 0.3 + 23.5 * share, 0, 1, 0.2 + 4.9 * share, 0, 0, 1] }
  })

async function motionBlur(): Promise<Row[]> {
  const thread = new OneThread(384)
  const quarter: Window = { x: 400, y: 200, width: 960, height: 540 }
  const source = thread.source('element', quarter, 4, 'float', (c, x, y) =>
    c === 3 ? 1 : Math.min(1, texture(c, x, y)),
  )
  const around: Window = { x: 380, y: 190, width: 1000, height: 560 }
  const still = { field: null, matrix: identity }
  // As many samples as its way has pixels, and one.
  const samples = Math.ceil(24) + 1
  const blurred = thread.picture(resample(source, still, 'catmull-rom', moving(samples)), around, { kind: 'light' })
  const [ours, copied] = await inTurns(3, blurred, copying())
  return [
    besidePeer(
      'Own motion blur over 24 px, an element of a quarter of 1920x1080, one thread, beside copying a float frame',
      ours,
      copied,
      40,
      'ms',
    ),
    await blurQuality(source, thread, around, samples),
  ]
}

async function blurQuality(source: Step, thread: OneThread, around: Window, samples: number): Promise<Row> {
  const still = { field: null, matrix: identity }
  const bytes = around.width * around.height * 16
  const light = (count: number) => {
    const address = thread.arena.allocate(bytes)
    const step = resample(source, still, 'catmull-rom', moving(count))
    thread.pictureTo(step, around, address)()
    return new Float32Array(thread.buffer, address, bytes / 4)
  }
  const [few, many] = [light(samples), light(256)]
  const squares = few.reduce((sum, v, i) => sum + (v - many[i]) ** 2, 0) / few.length
  return atLeast(
    `The same with ${samples} samples beside 256, peak 1, a texture of 7 px with edges every 32: PSNR`,
    -10 * Math.log10(squares),
    45,
    'dB',
  )
}

const allThere: Files = { fingerprint: () => 'bench', before: (_source, number) => number - 1 }

async function load(request: FrameRequest, { width, height }: Size): Promise<SourceFrame> {
  const plate = request.source === 'plate'
  const window = plate
    ? { x: 0, y: 0, width, height }
    : { x: width / 4, y: height / 4, width: width / 2, height: height / 2 }
  const names = plate ? ['R', 'G', 'B'] : ['R', 'G', 'B', 'A']
  const planes = names.map((name, c) => ({
    name,
    type: 'float' as const,
    samples: Float32Array.from({ length: window.width * window.height }, (_, i) =>
      name === 'A' ? 1 : texture(c, i % window.width, Math.floor(i / window.width)),
    ),
  }))
  return frameAtScale({ dataWindow: window, displayWindow: { x: 0, y: 0, width, height }, planes }, request)
}

/** Pictures a second, planned and made as the screen has them made, while one element is dragged; sources in memory. */
async function dragged(shot: Shot, scale: Scale, count = 24): Promise<number> {
  const engine = nodeEngine({
    load: (request) => load(request, shot.frameSize),
    threads: 2,
    memoryBytes: 2048 * 2 ** 20,
    built,
  })
  const memo = new PlanMemo()
  const window = { x: 0, y: 0, width: shot.frameSize.width / scale, height: shot.frameSize.height / scale }
  const view = { exposure: 1, channel: 'all', encoding: 'srgb' } as const
  const times: number[] = []
  for (let i = 0; i < count; i++) {
    const start = performance.now()
    const edit: Change = {
      kind: 'set-parameter',
      at: { owner: { kind: 'placing', element: 'thing-0' }, parameter: 'x', channel: 0 },
      frame: 1001,
      value: i * 3.3,
    }
    const { composite } = planFrame(applyEdit(shot, edit).shot, 1001, scale, allThere, memo)
    if (!composite) throw new Error('There is no picture.')
    await engine.view(composite, window, view)
    if (i >= 4) times.push(performance.now() - start)
  }
  engine.close()
  return 1000 / median(times)
}

async function dragging(): Promise<Row[]> {
  const one = await dragged(
    placedShot({ width: 1920, height: 1080 }, 1, () => []),
    2,
  )
  const many = await dragged(
    placedShot({ width: 1280, height: 720 }, 12, () => []),
    2,
  )
  const large = placedShot({ width: 3840, height: 2160 }, 6, matched)
  // The scale drops by itself to a quarter where half is too slow.
  const half = await dragged(large, 2, 12)
  const fourK = half >= 12 ? half : await dragged(large, 4)
  const name = (what: string) => `Dragging ${what}, planned and made on two threads, without the screen`
  return [
    atLeast(name('a placed element at half scale of 1920x1080'), one, 15, '/s'),
    atLeast(
      name('one of six on a plate of 3840x2160, softened, veil and gain, at the scale that follows'),
      fourK,
      12,
      '/s',
    ),
    atLeast(name('one of twelve placed elements at half scale of 1280x720'), many, 10, '/s'),
  ]
}

/** 200 keyframes on 20 curves moved together: the edit and the document after it. */
function keyframes(): Row {
  const shot = placedShot({ width: 1920, height: 1080 }, 4, () => [])
  const names = ['x', 'y', 'rotation', 'scale', 'skew']
  const keyed = ['thing-0', 'thing-1', 'thing-2', 'thing-3'].flatMap((id) =>
    names.flatMap((parameter) =>
      Array.from({ length: 10 }, (_, i): Change => ({
        kind: 'add-keyframe',
        at: { owner: { kind: 'placing', element: id }, parameter, channel: 0 },
        frame: 1001 + 4 * i,
      })),
    ),
  )
  const start = keyed.reduce((now, edit) => applyEdit(now, edit).shot, shot)
  const memo = new PlanMemo()
  const times: number[] = []
  for (let i = 0; i < 60; i++) {
    const began = performance.now()
    const curves = keyedCurves(start, ['thing-0', 'thing-1', 'thing-2', 'thing-3'])
    const chosen = curves.flatMap(({ id, curve }) =>
      Object.keys(typeof curve === 'number' ? {} : curve.keyframes).map((frame) => ({
        curve: id,
        frame: Number(frame),
      })),
    )
    if (curves.length !== 20 || chosen.length !== 200) throw new Error('There are not 200 keyframes on 20 curves.')
    const edit = movedKeyframes(curves, chosen, { frames: 1 + (i % 3), value: 0.01 * i + 0.01 })
    if (!edit) throw new Error('Nothing moved.')
    planFrame(applyEdit(start, edit).shot, 1010, 2, allThere, memo)
    times.push(performance.now() - began)
  }
  return atMost('200 keyframes on 20 curves moved together: edit and plan, median', median(times.slice(10)), 16, 'ms')
}

/** An element of a whole frame that is kept computed: from the disk into the engine's memory, beside reading and copying the bytes. */
async function readBack(): Promise<Row> {
  const folder = mkdtempSync(join(tmpdir(), 'enkrasis-bench-'))
  const files = new ComputedFiles(folder, 2 ** 40)
  const light = new Float32Array(1920 * 1080 * 4).map((_, i) => texture(i % 4, (i >> 2) % 1920, Math.floor(i / 7680)))
  const keys = Array.from({ length: 8 }, (_, i) => i.toString(16).padStart(32, '0'))
  for (const key of keys) await files.write(key, light, full, 'bench')
  const engine = nodeEngine({
    load: async ({ computed = '' }) => {
      const bytes = await readFile(join(folder, computed))
      return decodeSourceFrame(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length))
    },
    ...{ threads: 1, memoryBytes: 1024 * 2 ** 20, built },
  })
  engine.readComputed(new Set(keys))
  const steps = keys.map((key): Step => ({
    ...colour(constant([1, 1, 1, 1], full), [{ do: 'clamp', least: 0, most: 1 }]),
    key,
  }))
  const target = new Uint8Array(light.byteLength)
  let [turn, plain] = [0, 0]
  const [ours, peer] = await inTurns(
    keys.length - 1,
    () => engine.prefetch(steps[turn++]),
    async () => target.set((await readFile(join(folder, keys[plain++]))).subarray(0, target.length)),
  )
  engine.close()
  rmSync(folder, { recursive: true, force: true })
  return besidePeer(
    'An element of 1920x1080 that is kept computed, read back into the memory, beside reading and copying its bytes',
    ours,
    peer,
    1.5,
    'ms',
  )
}
