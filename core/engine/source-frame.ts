/** Source frames on their way into the engine: which channels are wanted, and how a frame is reduced. */

import { decoder, matrixBetween, primaries, type EncodingName } from '../colour'
import { coverageOfIds } from '../image/object-ids'
import type { Plane, Planes } from '../image/planes'
import { contains, reduceWindow, type Window } from '../image/window'
import { floatToHalf, halfTable } from '../kernels/half'
import type { FrameRequest } from '../graph/steps'

/** A source frame as it was brought: raw planes, or already decoded to working light because it was reduced. */
export interface SourceFrame extends Planes {
  readonly decoded: boolean
  /** the window of all that the file holds, in pixels of the graph, where `dataWindow` is a part of it; absent: all of it */
  readonly bounds?: Window
}

/**
 * Brings a frame, or the part of it in a window of the graph's pixels, from a disk or a server. More than the window may
 * come. Errors are sentences that name file and frame.
 */
export type LoadFrame = (request: FrameRequest, signal?: AbortSignal, window?: Window) => Promise<SourceFrame>

/** Asks a file's header where its pixels lie, in pixels of the graph. */
export type LoadBounds = (request: FrameRequest, signal?: AbortSignal) => Promise<Window>

/** The file has none of the channels that the element needs. */
export class NoSuchChannelsError extends Error {
  override readonly name = 'NoSuchChannelsError'
}

/**
 * @param available channel names of the part
 * @returns the names to read: those that are asked for; else red, green, blue and alpha where it is claimed and there, the
 *   one channel of a scalar or a matte, the three of a matte in colour, the two of a map
 */
export function channelsFor(
  request: Pick<FrameRequest, 'takes' | 'claims' | 'path' | 'part' | 'channels'>,
  available: readonly string[],
): string[] {
  const { takes, claims, path, part, channels } = request
  const has = (names: readonly string[]) => names.every((name) => available.includes(name))
  if (channels) {
    if (has(channels))
      return takes === 'rgba' && channels.length === 1 ? Array<string>(3).fill(channels[0]) : [...channels]
  } else if (takes === 'rgb-matte' && has(['R', 'G', 'B']) && !has(['Y']) && !has(['A'])) {
    return ['R', 'G', 'B']
  } else if (takes === 'scalar' || takes === 'rgb-matte' || takes === 'bits') {
    const name = ['Y', 'A', 'R', 'Z'].find((wanted) => available.includes(wanted)) ?? available[0]
    if (name !== undefined) return [name]
  } else if (takes === 'vec2') {
    const pair = [
      ['R', 'G'],
      ['U', 'V'],
      ['X', 'Y'],
    ].find(has)
    if (pair) return pair
  } else if (has(['R', 'G', 'B'])) {
    return available.includes('A') && claims.alpha !== 'none' ? ['R', 'G', 'B', 'A'] : ['R', 'G', 'B']
  } else if (available.includes('Y')) {
    return ['Y', 'Y', 'Y']
  }
  throw new NoSuchChannelsError(
    `${path}${part === null ? '' : `, part "${part}"`} has ${channels ? `no channel ${channels.join(', ')}` : 'no picture to take'} (its channels are ${available.join(', ') || 'none'}). Choose another part, channel or file.`,
  )
}

/** How a request wants a frame's pixels. */
export type Reading = Pick<
  FrameRequest,
  'claims' | 'working' | 'takes' | 'reduce' | 'framing' | 'frameSize' | 'greenUp' | 'ids'
>

/**
 * A frame as the graph takes it: lying in the frame, at the scale that is asked for, decoded to working light where that
 * must be done before pixels are mixed.
 *
 * Reduced by box averages on the grid of the frame (pixel 0 of the result covers 0..n-1): with alpha, what lies outside the
 * data window counts as empty; without, the average is over the pixels there are. Depth, directions and ids are picked, one
 * pixel of each box, since between two of them lies neither.
 */
export function frameAtScale(planes: Planes & { readonly fileWindow?: Window }, reading: Reading): SourceFrame {
  const { fileWindow, ...rest } = planes
  const frame = wholeAtScale(rest, reading)
  return fileWindow && !sameWindow(fileWindow, planes.dataWindow)
    ? { ...frame, bounds: boundsAtScale({ ...planes, dataWindow: fileWindow }, reading) }
    : frame
}

/** The window of a file's pixels, in pixels of the graph. */
export function boundsAtScale(file: FileWindows, reading: Reading): Window {
  const { x, y } = movedBy(file, reading)
  const { dataWindow } = file
  return reduceWindow({ ...dataWindow, x: dataWindow.x + x, y: dataWindow.y + y }, reading.reduce)
}

/** @returns the file's pixels of which the window's are made */
export function fileWindowOf(window: Window, file: FileWindows, reading: Reading): Window {
  const { x, y } = movedBy(file, reading)
  const { reduce } = reading
  return {
    x: window.x * reduce - x,
    y: window.y * reduce - y,
    width: window.width * reduce,
    height: window.height * reduce,
  }
}

type FileWindows = Pick<Planes, 'dataWindow' | 'displayWindow'>

const sameWindow = (a: Window, b: Window) => contains(a, b) && contains(b, a)

function wholeAtScale(planes: Planes, reading: Reading): SourceFrame {
  const { reduce, takes, claims } = reading
  if (takes === 'table') return { ...planes, decoded: false }
  // Ids become coverage before anything is averaged: between two of them lies neither.
  const covered = reading.ids ? [coverageOfIds(planes.planes, reading.ids, halfTable)] : planes.planes
  const placed = inFrame({ ...planes, planes: covered }, reading)
  if (takes === 'vec2') {
    const offsets = offsetsOf(placed, reading)
    return reduce === 1 ? { ...offsets, decoded: true } : reduceFrame(offsets, reading, reduce)
  }
  // Light that was encoded after it was multiplied by alpha is encoded straight light only after a division.
  const divided = takes === 'rgba' && claims.alpha === 'premultiplied' && claims.encoding !== 'linear'
  if (reduce === 1 && !(divided && planes.planes.length === 4)) return { ...placed, decoded: false }
  return reduceFrame(placed, reading, reduce)
}

/** By how many pixels of the file it is moved so that its display window lies in the middle of the frame. */
function movedBy({ displayWindow }: FileWindows, { framing, frameSize }: Reading) {
  if (framing === 'file') return { x: 0, y: 0 }
  const by = (size: number, own: number, first: number) => Math.round((size - own) / 2) - first
  return {
    x: by(frameSize.width, displayWindow.width, displayWindow.x),
    y: by(frameSize.height, displayWindow.height, displayWindow.y),
  }
}

function inFrame(planes: Planes, reading: Reading): Planes {
  const { dataWindow, displayWindow } = planes
  const { x, y } = movedBy(planes, reading)
  if (x === 0 && y === 0) return planes
  const move = (window: Window) => ({ ...window, x: window.x + x, y: window.y + y })
  return { ...planes, dataWindow: move(dataWindow), displayWindow: move(displayWindow) }
}

/**
 * A lens map's shares of width and height (pixel centres at (i + 0.5) / n) as pixels from where each stands: floats hold
 * these to a thousandth of what they hold shares. What a map without any bending would hold becomes 0.
 */
function offsetsOf(planes: Planes, { frameSize, greenUp }: Reading): Planes {
  const { x, y, width, height } = planes.dataWindow
  const offsets = planes.planes.map(({ name, type, samples }, axis): Plane => {
    const [size, first, count] = axis === 0 ? [frameSize.width, x, width] : [frameSize.height, y, height]
    const held = type === 'half' ? (share: number) => halfTable[floatToHalf(share)] : Math.fround
    const centres = Float64Array.from({ length: count }, (_, i) => first + i + 0.5)
    const turned = axis === 1 && greenUp === true
    // What a map without any bending holds there.
    const unbent = centres.map((centre) => held(turned ? 1 - centre / size : centre / size))
    const shares = type === 'half' ? lightOf(samples) : samples
    const out = new Float32Array(samples.length)
    for (let row = 0, i = 0; row < height; row++) {
      for (let column = 0; column < width; column++, i++) {
        const at = axis === 0 ? column : row
        const share = shares[i]
        out[i] = share === unbent[at] ? 0 : (turned ? 1 - share : share) * size - centres[at]
      }
    }
    return { name, type: 'float', samples: out }
  })
  return { ...planes, planes: offsets }
}

/** Typed arrays' own `from` goes through an iterator, which is many times slower. */
function lightOf(halves: ArrayLike<number>): Float32Array {
  const out = new Float32Array(halves.length)
  for (let i = 0; i < out.length; i++) out[i] = halfTable[halves[i]]
  return out
}

/** Channels of which two neighbours have no mean: depths, directions, ids. */
function isPicked(
  { name, type }: { readonly name: string; readonly type: Plane['type'] },
  takes: FrameRequest['takes'],
) {
  if (takes === 'bits' || type === 'uint') return true
  const own = name.slice(name.lastIndexOf('.') + 1)
  const layer = name.slice(0, Math.max(0, name.lastIndexOf('.')))
  return (
    (takes === 'scalar' || takes === 'rgb-matte') &&
    (/^(z|zback|depth|id|.*id)$/i.test(own) || /depth|normal|position|motion|vector|id$/i.test(layer))
  )
}

function reduceFrame(planes: Planes, reading: Reading, factor: number): SourceFrame {
  const { dataWindow } = planes
  const { takes } = reading
  const target = reduceWindow(dataWindow, factor)
  const hasAlpha = takes === 'rgba' && planes.planes.length === 4
  // Offsets are in pixels of what they move.
  const unit = takes === 'vec2' ? 1 / factor : 1
  return {
    decoded: true,
    dataWindow: target,
    displayWindow: reduceWindow(planes.displayWindow, factor),
    planes: workingPlanes(planes, reading).map((plane, i): Plane => {
      const { samples } = plane
      if (isPicked({ name: plane.name, type: planes.planes[i].type }, takes))
        return { name: plane.name, type: 'float', samples: picked(samples, dataWindow, target, factor) }
      return { name: plane.name, type: 'float', samples: boxMeans(samples, dataWindow, target, factor, hasAlpha, unit) }
    }),
  }
}

/** Of each box the pixel right below its middle, or the nearest there is. */
function picked(samples: Plane['samples'], from: Window, to: Window, factor: number): Float32Array {
  const at = samples instanceof Uint16Array ? (i: number) => halfTable[samples[i]] : (i: number) => samples[i]
  const clamp = (value: number, first: number, count: number) =>
    Math.min(first + count - 1, Math.max(first, value)) - first
  const out = new Float32Array(to.width * to.height)
  for (let row = 0, o = 0; row < to.height; row++) {
    const y = clamp((to.y + row) * factor + (factor >> 1), from.y, from.height)
    for (let column = 0; column < to.width; column++) {
      const x = clamp((to.x + column) * factor + (factor >> 1), from.x, from.width)
      out[o++] = at(y * from.width + x)
    }
  }
  return out
}

/**
 * Of each box the mean, times `unit`.
 *
 * @param empty what lies outside `from` counts as 0; else the mean is over the pixels there are
 */
function boxMeans(
  samples: Plane['samples'],
  from: Window,
  to: Window,
  scale: number,
  empty: boolean,
  unit: number,
): Float32Array {
  const out = new Float32Array(to.width * to.height)
  const [firsts, counts] = boxesAlong(from.x, from.width, to.x, to.width, scale)
  const [tops, rows] = boxesAlong(from.y, from.height, to.y, to.height, scale)
  const halves = samples instanceof Uint16Array
  for (let row = 0; row < to.height; row++) {
    const line = tops[row] * from.width
    const outLine = row * to.width
    let column = 0
    while (column < to.width) {
      if (scale === 2 && rows[row] === 2 && counts[column] === 2) {
        const full = fullBoxes(counts, column, scale)
        const at = line + firsts[column]
        const share = unit / 4
        if (halves) halveHalves(out, outLine + column, full, samples, at, at + from.width, share)
        else halveFloats(out, outLine + column, full, samples as Float32Array, at, at + from.width, share)
        column += full
        continue
      }
      let sum = 0
      for (let y = 0; y < rows[row]; y++) {
        const first = line + y * from.width + firsts[column]
        for (let x = first; x < first + counts[column]; x++) sum += halves ? halfTable[samples[x]] : samples[x]
      }
      const share = 1 / (empty ? scale * scale : rows[row] * counts[column])
      out[outLine + column++] = sum * (share * unit)
    }
  }
  return out
}

/** How many boxes from `column` on have all their pixels. */
function fullBoxes(counts: Int32Array, column: number, scale: number): number {
  let end = column
  while (end < counts.length && counts[end] === scale) end++
  return end - column
}

// Half scale is what is looked at most. Loops over two pixels take five times as long; one function for each type of samples.

function halveHalves(
  out: Float32Array,
  to: number,
  count: number,
  samples: Uint16Array,
  upper: number,
  lower: number,
  share: number,
): void {
  for (let end = to + count; to < end; to++, upper += 2, lower += 2)
    out[to] =
      (halfTable[samples[upper]] +
        halfTable[samples[upper + 1]] +
        halfTable[samples[lower]] +
        halfTable[samples[lower + 1]]) *
      share
}

function halveFloats(
  out: Float32Array,
  to: number,
  count: number,
  samples: Float32Array,
  upper: number,
  lower: number,
  share: number,
): void {
  for (let end = to + count; to < end; to++, upper += 2, lower += 2)
    out[to] = (samples[upper] + samples[upper + 1] + samples[lower] + samples[lower + 1]) * share
}

/** Along one axis: of each box the first pixel there is, counted from the window's own first, and how many there are. */
function boxesAlong(from: number, length: number, to: number, boxes: number, scale: number): [Int32Array, Int32Array] {
  const firsts = new Int32Array(boxes)
  const counts = new Int32Array(boxes)
  for (let box = 0; box < boxes; box++) {
    const first = Math.max(from, (to + box) * scale)
    firsts[box] = first - from
    counts[box] = Math.min(from + length, (to + box + 1) * scale) - first
  }
  return [firsts, counts]
}

/** Light of every half, by the bits, for each encoding that was met. */
const lightOfHalves = new Map<EncodingName, Float32Array>()

function tableFor(encoding: EncodingName): Float32Array {
  let table = lightOfHalves.get(encoding)
  if (!table) {
    const light = decoder(encoding)
    table = new Float32Array(halfTable.length)
    for (let bits = 0; bits < table.length; bits++) table[bits] = light(halfTable[bits])
    lightOfHalves.set(encoding, table)
  }
  return table
}

/** Samples in working light: as they are where they already are, else decoded to floats. */
function workingPlanes(
  { planes }: Planes,
  { claims, working, takes }: Reading,
): { readonly name: string; readonly samples: Plane['samples'] }[] {
  const straight = claims.alpha === 'straight' && planes.length === 4
  const divided = claims.alpha === 'premultiplied' && claims.encoding !== 'linear' && planes.length === 4
  if (takes !== 'rgba' || (claims.encoding === 'linear' && claims.primaries === working && !straight))
    return [...planes]
  const alpha = planes.length === 4 ? planes[3] : null
  const [r, g, b, a] = planes.map(({ name, type, samples }, channel) => {
    const out = new Float32Array(samples.length)
    if (divided && alpha && channel < 3) decodeDivided(out, samples, alpha, claims.encoding)
    else if (type === 'half') {
      const table = channel < 3 ? tableFor(claims.encoding) : halfTable
      for (let i = 0; i < out.length; i++) out[i] = table[samples[i]]
    } else if (channel < 3 && claims.encoding !== 'linear') {
      const light = decoder(claims.encoding)
      for (let i = 0; i < out.length; i++) out[i] = light(samples[i])
    } else out.set(samples)
    return { name, samples: out }
  })
  if (claims.primaries !== working) {
    const [toR, toG, toB] = matrixBetween(primaries[claims.primaries], primaries[working])
    for (let i = 0; i < r.samples.length; i++) {
      const [x, y, z] = [r.samples[i], g.samples[i], b.samples[i]]
      r.samples[i] = toR[0] * x + toR[1] * y + toR[2] * z
      g.samples[i] = toG[0] * x + toG[1] * y + toG[2] * z
      b.samples[i] = toB[0] * x + toB[1] * y + toB[2] * z
    }
  }
  if (straight) for (const { samples } of [r, g, b]) for (let i = 0; i < samples.length; i++) samples[i] *= a.samples[i]
  return a ? [r, g, b, a] : [r, g, b]
}

/** Alpha up to here is none: colour without it is light of its own. */
const noAlpha = 1e-6

/** Encoded straight light that was multiplied by alpha: divided, decoded, multiplied again. Empty pixels stay empty. */
function decodeDivided(out: Float32Array, samples: Plane['samples'], alpha: Plane, encoding: EncodingName): void {
  const light = decoder(encoding)
  const valueOf = (all: Plane['samples']) =>
    all instanceof Uint16Array ? (i: number) => halfTable[all[i]] : (i: number) => all[i]
  const [code, cover] = [valueOf(samples), valueOf(alpha.samples)]
  for (let i = 0; i < out.length; i++) {
    const a = cover(i)
    const covers = a > noAlpha
    if (covers) out[i] = light(code(i) / a) * a
    else out[i] = code(i) === 0 ? 0 : light(code(i))
  }
}
