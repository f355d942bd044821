/** Pixels from where a mapping leads: the one place where pictures are moved, bent, enlarged or shrunk. */

import type { Matrix3, ResampleStep } from '../../graph/steps'
import { emptyWindow, intersect, isEmpty, type Window } from '../../image/window'
import { resampling } from '../../kernels/kernels'
import { inverseOf, shrinkOver, throughMatrix } from '../../motion/mapping'
import type { Places } from '../map-blocks'
import type { Bounding, RunRows, StepKind } from './kind'

/** Lanczos-3, the widest filter, looks three pixels far; one more, since places are rounded. */
const filterReach = 4
/** Windows of a mapping without bounds of its own (seen from behind, or nearly edge on) are no larger than this. */
const everywhere: Window = { x: -65536, y: -65536, width: 131072 + 65536, height: 131072 + 65536 }

export const resample: StepKind<ResampleStep> = {
  kept: true,
  bounds(step, at) {
    const input = at.bounds(step.inputs[0])
    if (isEmpty(input)) return emptyWindow
    const { field, matrix } = step.mapping
    const back = inverseOf(matrix)
    if (!back) return emptyWindow
    const near = placesThrough(back, placesOf(input))
    const reach = near && filterReach * shrinkOver(matrix, windowOf(near))
    const named = reach === null ? null : placesThrough(back, grown(placesOf(input), reach))
    if (field) return at.blocks(field).naming(named ?? placesOf(everywhere))
    return named ? windowOf(grown(named, 1)) : everywhere
  },
  needs(step, window, at) {
    const inside = intersect(window, at.bounds(step))
    const { field } = step.mapping
    return [
      { input: step.inputs[0], window: readFrom(step, inside, at), buffered: true },
      ...(field ? [{ input: field, window: inside }] : []),
    ]
  },
  lower(step, window, at) {
    const source = at.rows(step.inputs[0])
    if (source.node === 'nothing') return source
    if (source.node !== 'buffer') throw new Error('What is resampled must lie in a buffer.')
    const { field, matrix } = step.mapping
    return {
      node: 'resample',
      buffer: source.buffer,
      within: intersect(window, at.bounds(step)),
      field: field && at.rows(field),
      matrix,
      filter: step.filter,
    }
  },
}

const placesOf = ({ x, y, width, height }: Window): Places => ({
  left: x,
  right: x + width,
  top: y,
  bottom: y + height,
})
const grown = ({ left, right, top, bottom }: Places, by: number): Places => ({
  left: left - by,
  right: right + by,
  top: top - by,
  bottom: bottom + by,
})

function windowOf({ left, right, top, bottom }: Places): Window {
  const x = Math.max(everywhere.x, Math.floor(left))
  const y = Math.max(everywhere.y, Math.floor(top))
  const width = Math.min(everywhere.x + everywhere.width, Math.ceil(right)) - x
  const height = Math.min(everywhere.y + everywhere.height, Math.ceil(bottom)) - y
  return width > 0 && height > 0 ? { x, y, width, height } : emptyWindow
}

/** @returns what holds all that a rectangle becomes; null where a part of it lies behind the eye */
function placesThrough(matrix: Matrix3, { left, right, top, bottom }: Places): Places | null {
  const corners = [
    [left, top],
    [right, top],
    [left, bottom],
    [right, bottom],
  ].map(([x, y]) => throughMatrix(matrix, x, y))
  if (corners.some((corner) => corner === null)) return null
  const known = corners.filter((corner) => corner !== null)
  const xs = known.map(([x]) => x)
  const ys = known.map(([, y]) => y)
  return { left: Math.min(...xs), right: Math.max(...xs), top: Math.min(...ys), bottom: Math.max(...ys) }
}

/** The pixels of the input that the window's pixels are made of. */
function readFrom(step: ResampleStep, window: Window, at: Bounding): Window {
  const bounds = at.bounds(step.inputs[0])
  if (isEmpty(window) || isEmpty(bounds)) return emptyWindow
  const { field, matrix } = step.mapping
  const named = field ? at.blocks(field).namedBy(window) : placesOf(window)
  if (!named) return emptyWindow
  const places = placesThrough(matrix, named)
  if (!places) return bounds
  return intersect(windowOf(grown(places, filterReach * shrinkOver(matrix, windowOf(named)))), bounds)
}

export const runResample: RunRows<'resample'> = ({ buffer, within, field, matrix, filter }, maker) => {
  const { kernels } = maker
  const { address, window } = buffer
  const fillField = field && maker.fill(field)
  const offsets = fillField ? maker.packedRow() : 0
  const out = maker.packedRow()
  const at = maker.work.take(72)
  new Float64Array(kernels.memory, at, 9).set(matrix)
  return maker.inside(within, (strip, x, y, count) => {
    if (fillField) {
      fillField(strip, x, y, count)
      kernels.pack(offsets, strip, count)
    }
    const { width, height } = window
    kernels.resample(out, count, x, y, offsets, at, address, window.x, window.y, width, height, resampling[filter])
    kernels.unpack(strip, out, count)
  })
}
