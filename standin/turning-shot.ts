/** Frames of quay-010: the camera only turns, so that one far scene serves them all. */

import { bellPoseAt, craneHook, type GuestPose } from './bell'
import { lensFor, swayAt, turnedView } from './camera'
import { farSceneLens, farSceneSize, renderFarRows, withWater, type FarScene } from './far-scene'
import type { ShotMaker, WorkerSetUp } from './tasks'
import { renderGround } from './ground-passes'
import { renderGuest } from './guest-passes'
import { lampLevelsAt, veilLevelAt, type Shot } from './light'
import { aimedScene, frontCoverage, undistortMap, withGuest } from './plate'
import { addGrain, lensBlur, record, recordingFor } from './sensor'
import { shotFiles } from './shot-files'

export function turningShot(setUp: WorkerSetUp): ShotMaker {
  const { frame, seed } = setUp
  const files = shotFiles(setUp)
  const lens = lensFor(frame, seed)
  const recording = recordingFor(seed)
  const size = farSceneSize(frame)
  const scene: FarScene = { ...size, lens: farSceneLens(size, lens), pixels: new Float32Array(setUp.pixels) }
  const clean: FarScene = { ...scene, pixels: new Float32Array(setUp.cleanPixels) }
  const map = undistortMap(frame, lens)
  const shotAt = (index: number, withFront: boolean): Shot => ({
    time: index / 24,
    withFront,
    lampLevels: lampLevelsAt(index),
  })
  const plateLight = (index: number, withFront: boolean) => {
    const from = withFront ? scene : clean
    return aimedScene(from, withWater(from, shotAt(index, withFront)), frame, lens, swayAt(index, seed), map)
  }
  const passesAt = (index: number, pose: GuestPose, nextPose: GuestPose) => {
    const request = {
      frame,
      view: turnedView(lens, swayAt(index, seed)),
      nextView: turnedView(lens, swayAt(index + 1, seed)),
      pose,
      nextPose,
      // The lamps stand behind bollard and rope: those never shade the guest.
      shot: shotAt(index, false),
    }
    return { guest: renderGuest(request), ground: renderGround(request) }
  }
  const recorded = (light: Float32Array, index: number) =>
    record(lensBlur(light, frame, 3, recording), frame, recording, veilLevelAt(index))

  return {
    rows: (first, last, withFront) => renderFarRows(withFront ? scene : clean, first, last, shotAt(0, withFront)),

    async frame(number) {
      const index = number - setUp.firstFrame
      const light = plateLight(index, true)
      const plate = addGrain(recorded(light, index), frame, recording, number, seed)
      const { guest, ground } = passesAt(index, bellPoseAt(index), bellPoseAt(index + 1))
      const front = frontCoverage(frame, lens, swayAt(index, seed), map)
      const matte = lensBlur(front, frame, 1, recording).map((m) => (m < 1e-4 ? 0 : m > 0.9999 ? 1 : m))
      await files.truth(recorded(withGuest(light, frame, map, guest, ground, front), index), number)
      await files.front(matte, number)
      await files.bell(guest, ground, number)
      // The plate comes last: where it exists, the whole frame does.
      await files.plate(plate, number)
    },

    clean: () =>
      files.clean(addGrain(recorded(plateLight(0, false), 0), frame, recording, 9001, seed), setUp.firstFrame),

    /** Shot before the take, with the camera where it will be: its sway and the lamps are those of the shot's first frames. */
    async reference(kind, number) {
      const index = number - setUp.firstFrame
      const pose: GuestPose = { kind, hook: craneHook, lift: 0, swingX: 0, swingZ: 0, turn: 0 }
      const light = plateLight(index, true)
      const { guest, ground } = passesAt(index, pose, pose)
      const front = frontCoverage(frame, lens, swayAt(index, seed), map)
      const seen = recorded(withGuest(light, frame, map, guest, ground, front), index)
      const grain = (kind === 'ball' ? 20_000 : 30_000) + number
      await files.referenceRender(kind, guest, ground, number)
      // The photograph comes last: where it exists, both do.
      await files.referencePlate(kind, addGrain(seen, frame, recording, grain, seed), number)
    },
  }
}
