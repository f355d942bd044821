/** The quay from a camera that moves, as a film with a real shutter takes it: every sample of a pixel at a moment of its own. */

import { castGuest, guestSpace, newGuestHit, type GuestPose, type GuestSpace } from './bell'
import { aim, type Frame, type View } from './camera'
import { skyShareAt, withinReach } from './ground-passes'
import { shadeGuest } from './guest-passes'
import { shade, shadeGround, type GuestOverStones, type Shot } from './light'
import { hash3 } from './noise'
import { cast, castFront, newHit } from './quay'
import { shutterOpen } from './moving-camera'
import type { Ray } from './solids'

export interface MovingLight {
  /** r, g, b in plate pixels: the quay alone */
  readonly plate: Float32Array
  /** the same with the guest in it; null where there was none */
  readonly truth: Float32Array | null
  /** coverage of bollard and rope */
  readonly front: Float32Array
}

export interface MovingRequest {
  readonly frame: Frame
  /** for every plate pixel, where its light came from in the undistorted picture */
  readonly map: Float64Array
  /** frames from 0; may lie between two */
  readonly viewAt: (index: number) => View
  readonly index: number
  readonly shot: Shot
  /** null: nobody is there */
  readonly guestAt: ((index: number) => GuestPose) | null
  /** those that are wanted, first and last; absent: all */
  readonly rows?: readonly [number, number]
}

const side = 3
const samples = side * side
/** Moments of the shutter, for which camera and guest are worked out once. */
const moments = 63
const guestLight = new Float64Array(15)
const guestHit = newGuestHit()

function addGuest(ray: Ray, shot: Shot, seed: number, lift: number, most: number, out: Float64Array): void {
  shadeGuest(ray, guestHit, shot, seed, lift, guestLight)
  for (let c = 0; c < 3; c++) {
    let sum = 0
    for (let i = c; i < 15; i += 3) sum += guestLight[i]
    out[c] = Math.min(most, sum)
  }
}

function overStones(space: GuestSpace, shot: Shot): GuestOverStones {
  const { lift } = space.pose
  return {
    blocks(towards, distance) {
      castGuest(towards, space, guestHit, false)
      return guestHit.t < distance
    },
    skyShare: (x, z) => skyShareAt(space, x, z),
    mirrored(ray, distance, seed, out) {
      castGuest(ray, space, guestHit, true)
      if (guestHit.t >= distance) return false
      addGuest(ray, shot, seed + 9, lift, 4, out)
      return true
    },
  }
}

export function renderMoving({ frame, map, viewAt, index, shot, guestAt, rows }: MovingRequest): MovingLight {
  const { width, height } = frame
  const count = width * height
  const plate = new Float32Array(count * 3)
  const truth = guestAt ? new Float32Array(count * 3) : null
  const front = new Float32Array(count)
  const guestShot = { ...shot, withFront: false }
  const times = Array.from({ length: moments }, (_, k) => index + shutterOpen * ((k + 0.5) / moments - 0.5))
  const views = times.map(viewAt)
  const spaces = guestAt ? times.map((time) => guestSpace(guestAt(time))) : []
  const stones = spaces.map((space) => overStones(space, guestShot))
  const ray: Ray = { ox: 0, oy: 0, oz: 0, dx: 0, dy: 0, dz: 0 }
  const hit = newHit()
  const rgb = new Float64Array(3)
  const withIt = new Float64Array(3)
  const [firstRow, lastRow] = rows ?? [0, height - 1]
  for (let y = firstRow; y <= lastRow; y++) {
    for (let x = 0; x < width; x++) {
      const at = y * width + x
      const turn = hash3(x, y, 77 + index) % samples
      let taken = 0
      let met = false
      // Bright metal on the move wants more: three rounds where the guest was met in the first.
      for (let s = 0; s < samples * (met ? 3 : 1); s++) {
        taken++
        const seed = hash3(x, y, s + 31 * index)
        const cell = s % samples
        const jx = ((cell % side) + (seed & 255) / 256) / side - 0.5
        const jy = (Math.floor(cell / side) + ((seed >> 8) & 255) / 256) / side - 0.5
        // Each ninth of the shutter has one sample, at a moment of its own inside that.
        const ninth = (s * 4 + turn) % samples
        const k = Math.floor(((ninth + ((seed >> 16) & 255) / 256) / samples) * moments)
        aim(ray, map[at * 2] + jx, map[at * 2 + 1] + jy, views[k])
        cast(ray, hit, shot.withFront)
        shade(ray, hit, shot, seed, 0, rgb)
        for (let c = 0; c < 3; c++) plate[at * 3 + c] += rgb[c]
        const inFront = shot.withFront && castFront(ray) <= hit.t * (1 + 1e-9)
        if (inFront) front[at]++
        if (!truth) continue
        withIt.set(rgb)
        castGuest(ray, spaces[k], guestHit, true)
        if (guestHit.t < hit.t && !inFront) {
          addGuest(ray, guestShot, seed, spaces[k].pose.lift, Infinity, withIt)
          met = true
        } else if (hit.what === 'ground' && mayShow(spaces[k].pose, hit.x, hit.z, ray))
          shadeGround(ray, hit, shot, seed, 0, withIt, stones[k])
        for (let c = 0; c < 3; c++) truth[at * 3 + c] += withIt[c]
      }
      front[at] /= taken
      for (let c = 0; c < 3; c++) {
        plate[at * 3 + c] /= taken
        if (truth) truth[at * 3 + c] /= taken
      }
    }
  }
  return { plate, truth, front }
}

/** Whether the guest darkens those stones, or can be mirrored in them. */
function mayShow(pose: GuestPose, x: number, z: number, { dx, dz }: Ray): boolean {
  if (withinReach(pose, x, z)) return true
  // Seen from above: the line of sight goes on past the guest.
  const toX = pose.hook.x - x
  const toZ = pose.hook.z - z
  const along = (toX * dx + toZ * dz) / Math.sqrt(dx * dx + dz * dz)
  return along > 0 && toX * toX + toZ * toZ - along * along < 2
}
