/** A worker of the stand-in camera: rows of the far scene first, then whole frames. */

import { join } from 'node:path'
import { parentPort, workerData } from 'node:worker_threads'
import { bellPoseAt, type GuestPose } from './bell'
import { lensFor, rotationOf, swayAt, type Frame } from './camera'
import { farSceneLens, farSceneSize, renderFarRows, withWater, type FarScene } from './far-scene'
import { part, planesOf, writePicture } from './files'
import type { Shot } from './light'
import { renderGround, type GroundPasses } from './ground-passes'
import { lightPasses, renderGuest, type GuestPasses } from './guest-passes'
import { aimedScene, frontCoverage, undistortMap, withGuest } from './plate'
import { addGrain, lensBlur, record, recordingFor } from './sensor'

export interface WorkerSetUp {
  readonly frame: Frame
  readonly seed: number
  readonly firstFrame: number
  readonly media: string
  readonly truth: string
  /** shared: the far scene with and without bollard and rope */
  readonly pixels: SharedArrayBuffer
  readonly cleanPixels: SharedArrayBuffer
}

export type Task =
  | { readonly kind: 'rows'; readonly first: number; readonly last: number; readonly withFront: boolean }
  | { readonly kind: 'frame'; readonly frame: number }
  | { readonly kind: 'clean' }
  | { readonly kind: 'reference'; readonly guest: 'ball' | 'chart'; readonly frame: number }

/** What the render farm's lights are wrong by: the true light is the CG's times this. */
export const cgGain: readonly [number, number, number] = [1.3, 1.12, 0.96]

export function lampLevelsAt(index: number): [number, number] {
  return [1 + 0.035 * Math.sin(index * 0.41) + 0.015 * Math.sin(index * 1.7), 1 + 0.01 * Math.sin(index * 0.23 + 1)]
}

export function veilLevelAt(index: number): number {
  return (lampLevelsAt(index)[0] + 1) / 2
}

if (parentPort) {
  const port = parentPort
  const setUp = workerData as WorkerSetUp
  const { frame, seed } = setUp
  const lens = lensFor(frame, seed)
  const recording = recordingFor(seed)
  const size = farSceneSize(frame)
  const scene: FarScene = { ...size, lens: farSceneLens(size, lens), pixels: new Float32Array(setUp.pixels) }
  const clean: FarScene = { ...scene, pixels: new Float32Array(setUp.cleanPixels) }
  const display = { x: 0, y: 0, ...frame }
  let map: Float64Array | null = null
  const undistorted = () => (map ??= undistortMap(frame, lens))
  const shotAt = (index: number, withFront: boolean): Shot => ({
    time: index / 24,
    withFront,
    lampLevels: lampLevelsAt(index),
  })

  const plateLight = (index: number, withFront: boolean) => {
    const from = withFront ? scene : clean
    return aimedScene(from, withWater(from, shotAt(index, withFront)), frame, lens, swayAt(index, seed), undistorted())
  }
  const passesAt = (index: number, pose: GuestPose, nextPose: GuestPose) => {
    const request = {
      frame,
      lens,
      rotation: rotationOf(swayAt(index, seed)),
      nextRotation: rotationOf(swayAt(index + 1, seed)),
      pose,
      nextPose,
      // The lamps stand behind bollard and rope: those never shade the guest.
      shot: shotAt(index, false),
    }
    return { guest: renderGuest(request), ground: renderGround(request) }
  }
  const writePlate = (path: string, values: Float32Array, number: number) =>
    writePicture(path, [part(undefined, display, display, planesOf(values, ['R', 'G', 'B'], 'half'), number)])

  const writeCg = async (path: string, guest: GuestPasses, ground: GroundPasses, number: number) => {
    const rgb = ['R', 'G', 'B']
    // What is delivered was rendered with other lights: divide, then round each pass as a half, and sum the rounded passes.
    const passes = guest.light.map((values) => values.map((value, i) => value / cgGain[i % 3]))
    const beauty = new Float32Array(guest.alpha.length * 4)
    guest.alpha.forEach((a, i) => {
      for (let c = 0; c < 3; c++) beauty[i * 4 + c] = passes.reduce((sum, pass) => sum + pass[i * 3 + c], 0)
      beauty[i * 4 + 3] = a
    })
    const at = (name: string, values: Float32Array, channels: string[], type: 'half' | 'float' = 'half') =>
      part(name, guest.window, display, planesOf(values, channels, type), number)
    const onGround = (name: string, values: Float32Array, channels: string[]) =>
      part(name, ground.window, display, planesOf(values, channels, 'half'), number)
    await writePicture(path, [
      at('beauty', beauty, [...rgb, 'A']),
      ...lightPasses.map((name, i) => at(name, passes[i], rgb)),
      at('alpha', guest.alpha, ['Y']),
      at('depth', guest.depth, ['Z'], 'float'),
      at('normal', guest.normal, ['X', 'Y', 'Z']),
      at('facing', guest.facing, ['Y']),
      at('motion', guest.motion, ['X', 'Y'], 'float'),
      at(
        'id',
        guest.alpha.map((a) => (a > 0 ? 1 : 0)),
        ['Y'],
      ),
      onGround('shadow', ground.shadow, ['Y']),
      onGround('occlusion', ground.occlusion, ['Y']),
      onGround(
        'ground_reflection',
        ground.reflection.map((value, i) => value / cgGain[i % 3]),
        rgb,
      ),
    ])
  }

  const makeFrame = async (number: number) => {
    const index = number - setUp.firstFrame
    const name = (kind: string) => `quay-010_${kind}.${number}.exr`
    const light = plateLight(index, true)
    const level = veilLevelAt(index)
    const plate = addGrain(
      record(lensBlur(light, frame, 3, recording), frame, recording, level),
      frame,
      recording,
      number,
      seed,
    )
    const { guest, ground } = passesAt(index, bellPoseAt(index), bellPoseAt(index + 1))
    const front = frontCoverage(frame, lens, swayAt(index, seed), undistorted())
    const matte = lensBlur(front, frame, 1, recording).map((m) => (m < 1e-4 ? 0 : m > 0.9999 ? 1 : m))
    const truth = record(
      lensBlur(withGuest(light, frame, undistorted(), guest, ground, front), frame, 3, recording),
      frame,
      recording,
      level,
    )
    await writePlate(join(setUp.truth, name('truth')), truth, number)
    await writePicture(join(setUp.media, 'matte', name('front')), [
      part(undefined, display, display, planesOf(matte, ['Y'], 'half'), number),
    ])
    await writeCg(join(setUp.media, 'cg', name('bell')), guest, ground, number)
    // The plate comes last: where it exists, the whole frame does.
    await writePlate(join(setUp.media, 'plate', name('plate')), plate, number)
  }

  const makeClean = async () => {
    const recorded = record(lensBlur(plateLight(0, false), frame, 3, recording), frame, recording, veilLevelAt(0))
    await writePlate(
      join(setUp.media, 'clean', 'quay-010_clean.exr'),
      addGrain(recorded, frame, recording, 9001, seed),
      setUp.firstFrame,
    )
  }

  /** Shot before the take, with the camera where it will be: its sway and the lamps are those of the shot's first frames. */
  const makeReference = async (kind: 'ball' | 'chart', number: number) => {
    const index = number - setUp.firstFrame
    const pose: GuestPose = { kind, lift: 0, swingX: 0, swingZ: 0, turn: 0 }
    const light = plateLight(index, true)
    const { guest, ground } = passesAt(index, pose, pose)
    const front = frontCoverage(frame, lens, swayAt(index, seed), undistorted())
    const seen = withGuest(light, frame, undistorted(), guest, ground, front)
    const recorded = record(lensBlur(seen, frame, 3, recording), frame, recording, veilLevelAt(index))
    const grain = (kind === 'ball' ? 20_000 : 30_000) + number
    await writeCg(join(setUp.media, 'reference', `quay-010_${kind}_cg.${number}.exr`), guest, ground, number)
    // The photograph comes last: where it exists, both do.
    await writePlate(
      join(setUp.media, 'reference', `quay-010_${kind}_plate.${number}.exr`),
      addGrain(recorded, frame, recording, grain, seed),
      number,
    )
  }

  port.on('message', (task: Task) => {
    const work = async () => {
      if (task.kind === 'rows')
        renderFarRows(task.withFront ? scene : clean, task.first, task.last, shotAt(0, task.withFront))
      else if (task.kind === 'frame') await makeFrame(task.frame)
      else if (task.kind === 'clean') await makeClean()
      else await makeReference(task.guest, task.frame)
    }
    work().then(
      () => port.postMessage({ done: true }),
      (error: unknown) =>
        port.postMessage({ failed: error instanceof Error ? (error.stack ?? error.message) : String(error) }),
    )
  })
}
