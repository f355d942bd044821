/** Frames of quay-020: the camera is carried, the bell crosses fast, and the shutter is a real one. */

import { craneHook, type GuestPose } from './bell'
import { lensFor } from './camera'
import type { ShotMaker, WorkerSetUp } from './tasks'
import { renderGround } from './ground-passes'
import { renderGuest } from './guest-passes'
import { lampLevelsAt, veilLevelAt } from './light'
import { crossingPoseAt, movingView } from './moving-camera'
import { renderMoving } from './moving-plate'
import { undistortMap } from './plate'
import { addGrain, lensBlur, record, recordingFor } from './sensor'
import { shotFiles } from './shot-files'

export function movingShot(setUp: WorkerSetUp): ShotMaker {
  const { frame, seed } = setUp
  const files = shotFiles(setUp)
  const lens = lensFor(frame, seed)
  const recording = recordingFor(seed)
  const map = undistortMap(frame, lens)
  const viewAt = (index: number) => movingView(index, seed, lens)
  const light = (index: number, withFront: boolean, guestAt: ((index: number) => GuestPose) | null) => {
    const shot = { time: index / 24, withFront, lampLevels: lampLevelsAt(index) }
    return renderMoving({ frame, map, viewAt, index, shot, guestAt })
  }
  /** As the farm renders: at the moment of the frame, without motion blur. */
  const passesAt = (index: number, poseAt: (index: number) => GuestPose) => {
    const shot = { time: index / 24, withFront: false, lampLevels: lampLevelsAt(index) }
    const views = { view: viewAt(index), nextView: viewAt(index + 1) }
    const request = { frame, ...views, pose: poseAt(index), nextPose: poseAt(index + 1), shot }
    return { guest: renderGuest(request), ground: renderGround(request) }
  }
  const recorded = (values: Float32Array, index: number) =>
    record(lensBlur(values, frame, 3, recording), frame, recording, veilLevelAt(index))

  return {
    rows: () => undefined,

    async frame(number) {
      const index = number - setUp.firstFrame
      const { plate, truth, front } = light(index, true, crossingPoseAt)
      const { guest, ground } = passesAt(index, crossingPoseAt)
      const matte = lensBlur(front, frame, 1, recording).map((m) => (m < 1e-4 ? 0 : m > 0.9999 ? 1 : m))
      await files.truth(recorded(truth ?? plate, index), number)
      await files.front(matte, number)
      await files.bell(guest, ground, number)
      // The plate comes last: where it exists, the whole frame does.
      await files.plate(addGrain(recorded(plate, index), frame, recording, number, seed), number)
    },

    clean: () =>
      files.clean(addGrain(recorded(light(0, false, null).plate, 0), frame, recording, 9001, seed), setUp.firstFrame),

    async reference(kind, number) {
      const index = number - setUp.firstFrame
      const poseAt = (): GuestPose => ({ kind, hook: craneHook, lift: 0, swingX: 0, swingZ: 0, turn: 0 })
      const { plate, truth } = light(index, true, poseAt)
      const { guest, ground } = passesAt(index, poseAt)
      const grain = (kind === 'ball' ? 20_000 : 30_000) + number
      await files.referenceRender(kind, guest, ground, number)
      // The photograph comes last: where it exists, both do.
      await files.referencePlate(kind, addGrain(recorded(truth ?? plate, index), frame, recording, grain, seed), number)
    },
  }
}
