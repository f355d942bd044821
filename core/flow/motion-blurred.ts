/** A picture blurred by its own motion, known from the frames before and after it: as a shutter would have seen it that stood open. */

import { dilate, emptyWindow, intersect, isEmpty, union, type Window } from '../image/window'
import { boxOfCoverage } from '../measure/box-of-coverage'
import type { Picture } from './features'
import { opticalFlow, type Flow } from './optical-flow'
import { spreadMotion } from './spread-motion'

export interface Neighbours {
  readonly picture: Picture
  /** null: there is none, and the motion goes on as on the other side */
  readonly before: Picture | null
  readonly after: Picture | null
}

/** Pixels of motion between two moments of the shutter, at most. */
const apart = 0.75
const mostMoments = 128
/** Pixels around what covers on any of the frames. */
const margin = 16
/** Less coverage than this tells nothing of how a pixel moves. */
const leastCoverage = 0.05

const { ceil, floor, hypot, max, min } = Math

/**
 * @param open how long the shutter stands open around the frame, in frames: 0.5 for 180 degrees
 * @returns premultiplied light of the same size; a picture that does not move keeps every bit
 */
export function motionBlurred(frames: Neighbours, open: number): Float32Array {
  const { picture, before, after } = frames
  const { width, height, light } = picture
  if (open <= 0 || (!before && !after)) return light
  const all = { x: 0, y: 0, width, height }
  const box = [picture, before, after]
    .map((one) => one && boxOfCoverage(one.light, all))
    .reduce<Window>((sum, one) => (one ? union(sum, one) : sum), emptyWindow)
  if (isEmpty(box)) return light
  const around = intersect(dilate(box, margin, margin), all)
  if (around.width === width && around.height === height) return blurredInside(frames, open)
  // Nothing is looked for where nothing is.
  const cut = (one: Picture | null) => one && cropped(one, around)
  const inside = blurredInside({ picture: cropped(picture, around), before: cut(before), after: cut(after) }, open)
  const out = new Float32Array(light.length)
  for (let y = 0; y < around.height; y++) {
    const from = 4 * y * around.width
    out.set(inside.subarray(from, from + 4 * around.width), 4 * ((around.y + y) * width + around.x))
  }
  return out
}

function cropped({ width, light }: Picture, { x, y, width: w, height: h }: Window): Picture {
  const out = new Float32Array(w * h * 4)
  for (let row = 0; row < h; row++) {
    const from = 4 * ((y + row) * width + x)
    out.set(light.subarray(from, from + 4 * w), 4 * row * w)
  }
  return { width: w, height: h, light: out }
}

function blurredInside({ picture, before, after }: Neighbours, open: number): Float32Array {
  const { width, height, light } = picture
  const weight = new Float32Array(width * height)
  for (let i = 0; i < weight.length; i++) {
    const covers = max(light[4 * i + 3], light[4 * i], light[4 * i + 1], light[4 * i + 2])
    weight[i] = covers > leastCoverage ? min(1, covers) : 0
  }
  const motionTo = (other: Picture | null) => other && spreadMotion(opticalFlow(picture, other), weight)
  const [back, on] = [motionTo(before), motionTo(after)]
  const toBefore = back ?? turned(on as Flow)
  const toAfter = on ?? turned(back as Flow)
  const moments = momentsFor(longest(toBefore, weight), longest(toAfter, weight), open)
  if (moments === 1) return light
  const sum = new Float64Array(light.length)
  for (let m = 0; m < moments; m++) {
    const time = ((m + 0.5) / moments - 0.5) * open
    addMoved(sum, picture, time < 0 ? toBefore : toAfter, time < 0 ? -time : time)
  }
  return Float32Array.from(sum, (one) => one / moments)
}

const turned = ({ width, height, across, down }: Flow): Flow => ({
  ...{ width, height },
  across: across.map((one) => -one),
  down: down.map((one) => -one),
})

function longest({ across, down }: Flow, weight: Float32Array): number {
  let most = 0
  for (let i = 0; i < across.length; i++) if (weight[i] > 0) most = max(most, hypot(across[i], down[i]))
  return most
}

/** An even number, so that as much is seen before as after; 1 where nothing moves. */
function momentsFor(before: number, after: number, open: number): number {
  const way = (before + after) * (open / 2)
  return way < 1e-3 ? 1 : min(mostMoments, 2 * ceil(max(4, way / apart / 2)))
}

/** Adds the picture as it is a part of a frame later: each pixel shows what has come there. */
function addMoved(sum: Float64Array, { width, height, light }: Picture, { across, down }: Flow, share: number): void {
  const motionAt = (x: number, y: number): number => {
    const px = x < 0 ? 0 : x > width - 1 ? width - 1 : x
    const py = y < 0 ? 0 : y > height - 1 ? height - 1 : y
    return floor(py + 0.5) * width + floor(px + 0.5)
  }
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      // Where it was: the place that moves here.
      let at = i
      let [fx, fy] = [x, y]
      for (let k = 0; k < 3; k++) {
        fx = x - share * across[at]
        fy = y - share * down[at]
        at = motionAt(fx, fy)
      }
      const [left, top] = [floor(fx), floor(fy)]
      const [u, v] = [fx - left, fy - top]
      for (let j = 0; j < 2; j++)
        for (let k = 0; k < 2; k++) {
          const [px, py] = [left + k, top + j]
          const part = (k === 0 ? 1 - u : u) * (j === 0 ? 1 - v : v)
          if (part === 0 || px < 0 || py < 0 || px >= width || py >= height) continue
          const from = 4 * (py * width + px)
          for (let c = 0; c < 4; c++) sum[4 * i + c] += part * light[from + c]
        }
    }
}
