/** Pixels from where a mapping leads: the one place where pictures are moved, bent, enlarged or shrunk. */

import type { Leading, Matrix3, ResampleStep, Warp } from '../../graph/steps'
import { emptyWindow, intersect, isEmpty, union, type Window } from '../../image/window'
import { resampling } from '../../kernels/kernels'
import { inverseOf, multiplied, shrinkOver, throughMatrix } from '../../motion/mapping'
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
    const named = leadingOf(step).reduce<Places | null | 'everywhere'>((all, leading) => {
      const back = placesBack(leading, input)
      if (all === 'everywhere' || back === 'everywhere') return 'everywhere'
      return back === null ? all : all === null ? back : both(all, back)
    }, null)
    if (named === null) return emptyWindow
    const { field } = step.mapping
    if (field) return at.blocks(field).naming(named === 'everywhere' ? placesOf(everywhere) : named)
    return named === 'everywhere' ? everywhere : windowOf(grown(named, 1))
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
    const { field } = step.mapping
    return {
      node: 'resample',
      buffer: source.buffer,
      within: intersect(window, at.bounds(step)),
      field: field && at.rows(field),
      leading: leadingOf(step),
      filter: step.filter,
    }
  },
}

/** What is sampled behind the field: the mapping itself, or all of a shutter. */
const leadingOf = ({ mapping, shutter }: ResampleStep): readonly Leading[] => (shutter.length > 0 ? shutter : [mapping])

const both = (a: Places, b: Places): Places => ({
  left: Math.min(a.left, b.left),
  right: Math.max(a.right, b.right),
  top: Math.min(a.top, b.top),
  bottom: Math.max(a.bottom, b.bottom),
})

/** How far a warp moves a place at most. */
const warpReach = ({ half, bow, twist }: Warp) => Math.abs(bow) + 0.3 * Math.abs(twist) * Math.max(...half)
/** How much a warp stretches at most. */
const warpStretch = ({ half, bow, twist }: Warp) => 1 + (1.54 * Math.abs(bow)) / half[0] + Math.abs(twist)

/** The pixels that are made of an input's; null: none; everywhere where a part of it lies behind the eye. */
function placesBack({ matrix, warp }: Leading, input: Window): Places | null | 'everywhere' {
  const back = inverseOf(matrix)
  const backWarp = warp && inverseOf(warp.then)
  if (!back || backWarp === null) return null
  const unbent = (places: Places): Places | null => {
    if (!warp || !backWarp) return places
    const before = placesThrough(backWarp, places)
    return before && grown(before, warpReach(warp))
  }
  const bent = unbent(placesOf(input))
  const near = bent && placesThrough(back, bent)
  if (!near) return 'everywhere'
  const most = shrinkOf({ matrix, warp }, windowOf(near))
  const all = unbent(grown(placesOf(input), filterReach * most))
  return (all && placesThrough(back, all)) ?? 'everywhere'
}

/** How many pixels of the input a step of one pixel passes at most. */
function shrinkOf({ matrix, warp }: Leading, window: Window): number {
  const before = shrinkOver(matrix, window)
  if (!warp) return before
  const named = placesThrough(matrix, placesOf(window))
  return before * warpStretch(warp) * (named ? shrinkOver(warp.then, windowOf(named)) : 1)
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
  const { field } = step.mapping
  const named = field ? at.blocks(field).namedBy(window) : placesOf(window)
  if (!named) return emptyWindow
  const read = leadingOf(step).reduce<Window>((all, leading) => {
    const { matrix, warp } = leading
    const before = placesThrough(matrix, named)
    const places = before && warp ? placesThrough(warp.then, grown(before, warpReach(warp))) : before
    if (!places) return bounds
    return union(all, windowOf(grown(places, filterReach * shrinkOf(leading, windowOf(named)))))
  }, emptyWindow)
  return intersect(read, bounds)
}

export const runResample: RunRows<'resample'> = ({ buffer, within, field, leading, filter }, maker) => {
  const { kernels } = maker
  const { address, window } = buffer
  const fillField = field && maker.fill(field)
  const offsets = fillField ? maker.packedRow() : 0
  const out = maker.packedRow()
  const one = leading.length > 1 ? maker.packedRow() : out
  const { width, height } = window
  const ways = leading.map(({ matrix, warp }) => {
    const bent = warp !== undefined && (warp.bow !== 0 || warp.twist !== 0)
    const straight = warp && !bent ? multiplied(warp.then, matrix) : matrix
    const settings = maker.doubles(bent ? bentSettings(matrix, warp) : straight)
    const run = bent ? kernels.resampleBent : kernels.resample
    return (to: number, x: number, y: number, count: number) =>
      run(to, count, x, y, offsets, settings, address, window.x, window.y, width, height, resampling[filter])
  })
  const [first, ...others] = ways
  return maker.inside(within, (strip, x, y, count) => {
    if (fillField) {
      fillField(strip, x, y, count)
      kernels.pack(offsets, strip, count)
    }
    first(out, x, y, count)
    for (const way of others) {
      way(one, x, y, count)
      kernels.addPacked(out, one, count)
    }
    if (others.length > 0) kernels.dividePacked(out, count, ways.length)
    kernels.unpack(strip, out, count)
  })
}

const bentSettings = (matrix: Matrix3, { then, middle, half, bow, twist }: Warp): number[] => [
  ...matrix,
  ...then,
  ...middle,
  ...half,
  bow,
  twist,
]
