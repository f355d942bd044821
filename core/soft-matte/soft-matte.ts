/** Soft matte: a figure with hair and soft edges out of its picture, with its own light. */

import type { Window } from '../image/window'
import { noiseLevel } from '../measure/noise-level'
import type { ColourPlanes } from './colour-lines'
import { ownLight } from './own-light'
import { softCoverage } from './soft-coverage'

export interface Filmed {
  readonly width: number
  readonly height: number
  /** scene-linear RGBA, premultiplied */
  readonly light: Float32Array
  /** how surely each pixel is inside, and outside: from 0.5 on it is */
  readonly inside: Float32Array
  readonly outside: Float32Array
}

export interface SoftMatte {
  /** scene-linear RGBA of the figure alone, premultiplied */
  readonly light: Float32Array
  /** share of the picture that is neither surely inside nor surely outside */
  readonly band: number
}

/** What is given leaves nothing to go by; the sentence says what to do. */
export class NothingToGoByError extends Error {
  override readonly name = 'NothingToGoByError'
}

const surely = 0.5
/** Beyond this share of the picture colours say nothing of what is whose. */
const mostBand = 0.5
const { max, min } = Math

/** @throws NothingToGoByError */
export function softMatte(filmed: Filmed, signal?: AbortSignal): SoftMatte {
  const { width, height, light, inside, outside } = filmed
  const known = new Float32Array(width * height)
  let [within, without] = [0, 0]
  for (let i = 0; i < known.length; i++) {
    const isIn = inside[i] >= surely
    const isOut = outside[i] >= surely
    known[i] = isIn === isOut ? NaN : isIn ? 1 : 0
    if (isIn && !isOut) within++
    if (isOut && !isIn) without++
  }
  const band = 1 - (within + without) / known.length
  if (within === 0)
    throw new NothingToGoByError(
      'Nothing is surely inside. Draw the outline larger, or let less inside of it be unsure.',
    )
  if (without === 0)
    throw new NothingToGoByError(
      'Nothing is surely outside. Draw the outline smaller, or let less outside of it be unsure.',
    )
  if (band > mostBand)
    throw new NothingToGoByError(
      `${Math.round(100 * band)} % of the frame is unsure, and at most ${100 * mostBand} % can be. Draw the outline closer to the edge.`,
    )
  const around = boxOf(known, width, height)
  const picture = cut(light, width, around)
  const cutKnown = new Float32Array(around.width * around.height)
  for (let y = 0, o = 0; y < around.height; y++)
    for (let x = 0; x < around.width; x++) cutKnown[o++] = known[(around.y + y) * width + around.x + x]
  const noise = max(...picture.planes.map((plane) => noiseLevel(Float64Array.from(plane), { ...around, x: 0, y: 0 })))
  const coverage = softCoverage(picture, cutKnown, { noise, signal })
  const own = ownLight(picture, coverage)
  const out = new Float32Array(width * height * 4)
  for (let y = 0, i = 0; y < around.height; y++)
    for (let x = 0; x < around.width; x++, i++) {
      const at = ((around.y + y) * width + around.x + x) * 4
      const a = coverage[i] * light[at + 3]
      // Inside the picture's own bits stand.
      for (let c = 0; c < 3; c++) out[at + c] = coverage[i] === 1 ? light[at + c] : a * own[c][i]
      out[at + 3] = a
    }
  return { light: out, band }
}

/** All that may be covered, and some pixels of what is behind around it. */
function boxOf(known: Float32Array, width: number, height: number): Window {
  let [left, right, top, bottom] = [width, -1, height, -1]
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++)
      if (known[i] !== 0) {
        ;[left, right] = [min(left, x), max(right, x)]
        ;[top, bottom] = [min(top, y), max(bottom, y)]
      }
  const margin = 8
  const [x, y] = [max(0, left - margin), max(0, top - margin)]
  return { x, y, width: min(width, right + 1 + margin) - x, height: min(height, bottom + 1 + margin) - y }
}

function cut(light: Float32Array, width: number, window: Window): ColourPlanes {
  const planes = [0, 1, 2].map((c) => {
    const plane = new Float32Array(window.width * window.height)
    for (let y = 0, o = 0; y < window.height; y++)
      for (let x = 0; x < window.width; x++) plane[o++] = light[((window.y + y) * width + window.x + x) * 4 + c]
    return plane
  })
  return { width: window.width, height: window.height, planes: [planes[0], planes[1], planes[2]] }
}
