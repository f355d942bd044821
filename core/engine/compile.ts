/**
 * From a step and a window to phases: works out which window of every step is needed, fuses what can be fused, and gives
 * buffers to what must be seen as a whole (inputs of blurs, warps and discs, and what is used twice).
 */

import { inputsOf, type BlurStep, type Step, type WarpStep } from '../graph/steps'
import { dilate, emptyWindow, intersect, isEmpty, pixelCount, union, type Window } from '../image/window'
import { pixelBytes } from '../kernels/kernels'
import { discWeights } from '../kernels/disc'
import { axisReach, gaussianAxis, reach, type AxisFilter } from '../kernels/gaussian'
import type { MapBlocks } from './map-blocks'
import {
  rowPixels,
  tileHeight,
  tileWidth,
  type PackedBuffer,
  type Phase,
  type ResidentFrame,
  type ResidentFrames,
  type Rows,
  type Sum,
} from './program'

/** What the compiler asks of the engine. */
export interface Storage {
  readonly frames: ResidentFrames
  /** a buffer made before that holds the key's pixels over at least the window, or null */
  find(key: string, window: Window): PackedBuffer | null
  /** @throws ArenaFullError */
  make(key: string, window: Window): PackedBuffer
  /** the picture before was made of this step too */
  madeBefore(key: string): boolean
  /** what the map's blocks name; the same for the same key */
  mapBlocks(key: string, frame: ResidentFrame): MapBlocks
}

export interface Program {
  readonly phases: readonly Phase[]
  /** of each step that was asked for */
  readonly rows: readonly Rows[]
}

/** Lanczos-3, the widest filter, looks three pixels far; one more, since places are rounded. */
const warpReach = 4

/** Phases that fill the buffers, and the rows of the steps themselves over the window. */
export function compile(roots: readonly Step[], window: Window, storage: Storage): Program {
  return new Compiler(storage).compile(roots, window)
}

function frameOf(key: string, frames: ResidentFrames): ResidentFrame {
  const frame = frames.get(key)
  if (!frame) throw new Error('A frame was not brought into memory before it was needed.')
  return frame
}

function blurAxes({ sigmaX, sigmaY }: BlurStep): { x: AxisFilter; y: AxisFilter } {
  return { x: gaussianAxis(sigmaX), y: gaussianAxis(sigmaY) }
}

/** The reduced pixels that an enlargement of the window reads along one axis. */
function reducedSpan(first: number, length: number, { step }: AxisFilter): [number, number] {
  if (step === 1) return [first, length]
  const start = Math.floor(first / step) - reach
  return [start, Math.floor((first + length - 1) / step) + reach - start + 1]
}

/** The pixels that a reduction to `length` reduced pixels reads along one axis. */
function fullSpan(first: number, length: number, { step }: AxisFilter): [number, number] {
  return step === 1 ? [first, length] : [(first - reach) * step, (length + 2 * reach) * step]
}

interface Demand {
  window: Window
  consumers: number
  /** some consumer needs its pixels in a buffer */
  whole: boolean
  /** same as in the picture before, but what is made of it is not: while an artist drags a number, all behind it stays */
  stays: boolean
}

const nothing: Rows = { node: 'nothing' }

class Compiler {
  private readonly phases: Phase[] = []
  private readonly demands = new Map<string, Demand>()
  private readonly nodes = new Map<string, Rows>()
  private readonly boundsByKey = new Map<string, Window>()

  constructor(private readonly storage: Storage) {}

  compile(roots: readonly Step[], window: Window): Program {
    const order = inputsFirst(roots)
    for (const root of roots) this.ask(root, window)
    for (const step of [...order].reverse()) {
      const demand = this.demands.get(step.key)
      if (!demand) continue
      if (isEmpty(demand.window)) {
        this.nodes.set(step.key, nothing)
        continue
      }
      if (this.findMade(step, demand)) continue
      this.demandInputs(step, demand.window)
      this.noteWhatStays(step)
    }
    for (const step of order) {
      const demand = this.demands.get(step.key)
      if (demand && !this.nodes.has(step.key)) this.nodes.set(step.key, this.lower(step, demand))
    }
    return { phases: this.phases, rows: roots.map((root) => this.node(root)) }
  }

  private bounds(step: Step): Window {
    let found = this.boundsByKey.get(step.key)
    if (!found) this.boundsByKey.set(step.key, (found = this.findBounds(step)))
    return found
  }

  /** Where the step can differ from empty. */
  private findBounds(step: Step): Window {
    switch (step.op) {
      case 'frame':
        return frameOf(step.key, this.storage.frames).dataWindow
      case 'blur': {
        const { x, y } = blurAxes(step)
        return dilate(this.bounds(step.input), axisReach(x), axisReach(y))
      }
      case 'disc': {
        const radius = Math.ceil(step.radius)
        return dilate(this.bounds(step.input), radius, radius)
      }
      case 'warp': {
        const { x, y, width, height } = dilate(this.bounds(step.input), warpReach, warpReach)
        const across = (place: number) => (place + 0.5) / step.frame.width
        const down = (place: number) => (place + 0.5) / step.frame.height
        if (width === 0) return emptyWindow
        return this.blocks(step).naming({
          left: across(x),
          right: across(x + width - 1),
          top: down(y),
          bottom: down(y + height - 1),
        })
      }
      case 'blend':
        return this.bounds(step.behind)
      default:
        return this.bounds(step.input)
    }
  }

  private blocks({ map }: WarpStep): MapBlocks {
    return this.storage.mapBlocks(map.key, frameOf(map.key, this.storage.frames))
  }

  private node(step: Step): Rows {
    const node = this.nodes.get(step.key)
    if (!node) throw new Error(`The step ${step.op} was not lowered before it was used.`)
    return node
  }

  private ask(step: Step, window: Window, whole = false): void {
    const known = this.demands.get(step.key)
    if (!known) this.demands.set(step.key, { window, consumers: 1, whole, stays: false })
    else {
      known.window = union(known.window, window)
      known.consumers++
      known.whole ||= whole
    }
  }

  private demandInputs(step: Step, window: Window): void {
    switch (step.op) {
      case 'frame':
        return
      case 'colour':
      case 'point':
        return this.ask(step.input, window)
      case 'table':
        return this.ask(step.input, window)
      case 'blend':
        this.ask(step.behind, window)
        this.ask(step.element, intersect(window, this.bounds(step.element)))
        if (step.kind === 'reveal') this.ask(step.plate, intersect(window, this.bounds(step.element)))
        return
      case 'blur': {
        const { x, y } = blurAxes(step)
        return this.ask(step.input, this.heldInside(step, dilate(window, axisReach(x), axisReach(y))))
      }
      case 'disc': {
        const radius = Math.ceil(step.radius)
        return this.ask(step.input, this.heldInside(step, dilate(window, radius, radius)))
      }
      case 'warp': {
        const inside = intersect(window, this.bounds(step))
        this.ask(step.map, inside)
        return this.ask(step.input, this.warpedFrom(step, inside), true)
      }
    }
  }

  private noteWhatStays(step: Step): void {
    if (this.storage.madeBefore(step.key)) return
    for (const input of inputsOf(step)) {
      const demand = this.demands.get(input.key)
      if (demand && this.storage.madeBefore(input.key)) demand.stays = true
    }
  }

  /** The part of the input's window that has pixels; for extended ones at least the pixel that is repeated. */
  private heldInside({ input }: Extract<Step, { op: 'blur' | 'disc' }>, window: Window): Window {
    const bounds = this.bounds(input)
    const inside = intersect(window, bounds)
    if (!isEmpty(inside) || isEmpty(bounds)) return inside
    const x = Math.min(Math.max(window.x, bounds.x), bounds.x + bounds.width - 1)
    const y = Math.min(Math.max(window.y, bounds.y), bounds.y + bounds.height - 1)
    const right = Math.min(Math.max(window.x + window.width, x + 1), bounds.x + bounds.width)
    const bottom = Math.min(Math.max(window.y + window.height, y + 1), bounds.y + bounds.height)
    return { x, y, width: right - x, height: bottom - y }
  }

  private warpedFrom(step: WarpStep, window: Window): Window {
    const { input, frame } = step
    const named = this.blocks(step).namedBy(window)
    if (!named) return emptyWindow
    const x = Math.floor(named.left * frame.width - 0.5) - warpReach
    const y = Math.floor(named.top * frame.height - 0.5) - warpReach
    const places = {
      x,
      y,
      width: Math.ceil(named.right * frame.width - 0.5) + warpReach + 1 - x,
      height: Math.ceil(named.bottom * frame.height - 0.5) + warpReach + 1 - y,
    }
    return intersect(places, this.bounds(input))
  }

  /** Uses a buffer of an earlier picture, if one holds what is wanted. */
  private findMade(step: Step, demand: Demand): boolean {
    if (step.op === 'blur') {
      const found = this.storage.find(`${step.key}:spread`, this.spreadWindow(step, demand.window))
      if (!found) return false
      this.nodes.set(step.key, this.settled(step, this.spreadNode(step, demand.window, found), demand))
      return true
    }
    if (!this.needsBuffer(step, demand)) return false
    const found = this.storage.find(step.key, intersect(demand.window, this.bounds(step)))
    if (found) this.nodes.set(step.key, { node: 'buffer', buffer: found })
    return found !== null
  }

  /**
   * What is used twice is computed once, unless it is hardly more than reading a source. What is warped is kept for the next
   * picture, which mostly differs by something else: keeping costs a tenth of warping. What lies behind a change is kept
   * from the second change on.
   */
  private needsBuffer(step: Step, { consumers, whole, stays }: Demand): boolean {
    if (whole || step.op === 'warp') return true
    if ((consumers < 2 && !stays) || step.op === 'frame') return false
    return !(step.op === 'colour' && step.input.op === 'frame')
  }

  private lower(step: Step, demand: Demand): Rows {
    const rows = this.rowsOf(step, demand.window)
    return this.settled(step, rows, demand)
  }

  private settled(step: Step, rows: Rows, demand: Demand): Rows {
    if (!this.needsBuffer(step, demand)) return rows
    const window = intersect(demand.window, this.bounds(step))
    if (isEmpty(window)) return nothing
    const buffer = this.storage.make(step.key, window)
    this.phases.push({ phase: 'rows', rows, across: null, target: buffer, tileWidth, tileHeight })
    return { node: 'buffer', buffer }
  }

  private rowsOf(step: Step, window: Window): Rows {
    switch (step.op) {
      case 'frame': {
        const frame = frameOf(step.key, this.storage.frames)
        return { node: 'frame', frame }
      }
      case 'colour': {
        const input = this.node(step.input)
        if (input.node === 'colour') return { ...input, steps: [...input.steps, ...step.steps] }
        return { node: 'colour', input, steps: step.steps }
      }
      case 'point':
        return {
          node: 'point',
          input: this.node(step.input),
          kind: step.kind,
          values: step.values,
          place: step.place,
        }
      case 'table':
        return {
          node: 'table',
          input: this.node(step.input),
          address: frameOf(step.table.key, this.storage.frames).planes[0].address,
        }
      case 'blend':
        return {
          node: 'blend',
          behind: this.node(step.behind),
          element: this.node(step.element),
          touches: this.bounds(step.element),
          plate: step.kind === 'reveal' ? this.node(step.plate) : null,
          kind: step.kind,
          values: step.values,
        }
      case 'blur':
        return this.blurRows(step, window)
      case 'disc': {
        const radius = Math.ceil(step.radius)
        const buffer = this.storage.make(`${step.key}:input`, dilate(window, radius, radius))
        const rows = this.around(step)
        this.phases.push({ phase: 'rows', rows, across: null, target: buffer, tileWidth, tileHeight })
        return { node: 'disc', buffer, within: window, radius, weights: discWeights(step.radius) }
      }
      case 'warp': {
        const source = this.node(step.input)
        if (source.node === 'nothing') return nothing
        if (source.node !== 'buffer') throw new Error('What is warped must lie in a buffer.')
        return {
          node: 'warp',
          buffer: source.buffer,
          within: intersect(window, this.bounds(step)),
          map: this.node(step.map),
          frame: step.frame,
          filter: step.filter,
        }
      }
    }
  }

  /** The input of a step that looks around, with what lies beyond it. */
  private around(step: Extract<Step, { op: 'blur' | 'disc' }>): Rows {
    const input = this.node(step.input)
    if (input.node === 'nothing') return nothing
    return { node: step.beyond === 'extend' ? 'extend' : 'clip', input, bounds: this.bounds(step.input) }
  }

  /** The buffer that the last part of a blur reads, in reduced pixels along reduced axes. */
  private spreadWindow(step: BlurStep, window: Window): Window {
    const { x, y } = blurAxes(step)
    const [left, width] = reducedSpan(window.x, window.width, x)
    const [top, height] = reducedSpan(window.y, window.height, y)
    // Where nothing is reduced the last part is the filter down the columns itself.
    const radius = x.step === 1 && y.step === 1 ? y.weights.length - 1 : 0
    return { x: left, y: top - radius, width, height: height + 2 * radius }
  }

  private spreadNode(step: BlurStep, within: Window, buffer: PackedBuffer): Rows {
    const { x, y } = blurAxes(step)
    const last = x.step === 1 && y.step === 1 ? y.weights : [1]
    return {
      node: 'spread',
      buffer,
      within,
      down: y.step === 1 ? { step: 1, weights: last } : { step: y.step, weights: y.enlarge },
      across: { step: x.step, weights: x.step === 1 ? [1] : x.enlarge },
    }
  }

  private blurRows(step: BlurStep, window: Window): Rows {
    const { x, y } = blurAxes(step)
    const final = this.spreadWindow(step, window)
    const rows = this.around(step)
    const filterX: Sum = { sum: 'filter', weights: x.weights }
    if (x.step === 1 && y.step === 1) {
      const buffer = this.storage.make(`${step.key}:spread`, final)
      this.rowsPhase(rows, filterX, buffer)
      return this.spreadNode(step, window, buffer)
    }
    const radiusX = x.step === 1 ? 0 : x.weights.length - 1
    const radiusY = y.weights.length - 1
    const middle = dilate(final, 0, radiusY)
    const [top, height] = fullSpan(middle.y, middle.height, y)
    const first = { x: middle.x - radiusX, y: top, width: middle.width + 2 * radiusX, height }
    const reduced = this.storage.make(`${step.key}:first`, first)
    this.rowsPhase(rows, x.step === 1 ? filterX : { sum: 'reduce', step: x.step, weights: x.reduce }, reduced)
    const across = this.storage.make(`${step.key}:middle`, middle)
    this.columnsPhase(
      reduced,
      y.step === 1 ? null : { sum: 'reduce', step: y.step, weights: y.reduce },
      x.step === 1 ? null : filterX,
      across,
    )
    const buffer = this.storage.make(`${step.key}:spread`, final)
    this.columnsPhase(across, { sum: 'filter', weights: y.weights }, null, buffer)
    return this.spreadNode(step, window, buffer)
  }

  private rowsPhase(rows: Rows, across: Sum, target: PackedBuffer): void {
    this.phases.push({ phase: 'rows', rows, across, target, tileWidth: tileWidthFor(across), tileHeight })
  }

  private columnsPhase(source: PackedBuffer, down: Sum | null, across: Sum | null, target: PackedBuffer): void {
    const width = across ? tileWidthFor(across) : tileWidth
    this.phases.push({ phase: 'columns', source, down, across, target, tileWidth: width, tileHeight })
  }
}

/** As wide as the worker's row has room for. */
function tileWidthFor(across: Sum): number {
  const most =
    across.sum === 'filter'
      ? rowPixels - 2 * (across.weights.length - 1)
      : Math.floor(rowPixels / across.step) - 2 * reach
  return Math.max(1, Math.min(tileWidth, most))
}

/** Every step once, inputs before what reads them. */
function inputsFirst(roots: readonly Step[]): Step[] {
  const order: Step[] = []
  const seen = new Set<string>()
  const visit = (step: Step): void => {
    if (seen.has(step.key)) return
    seen.add(step.key)
    inputsOf(step).forEach(visit)
    order.push(step)
  }
  roots.forEach(visit)
  return order
}

export function bufferBytes(window: Window): number {
  return Math.max(1, pixelCount(window)) * pixelBytes
}
