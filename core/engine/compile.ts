/**
 * From steps and a window to phases: works out which window of every step is needed, fuses what can be fused, and gives
 * buffers to what must be seen as a whole (inputs of blurs and resamplings) and to what is used twice.
 */

import type { FrameStep, Step } from '../graph/steps'
import { intersect, isEmpty, pixelCount, union, type Window } from '../image/window'
import { pixelBytes } from '../kernels/kernels'
import { kindOf, type Lowering } from './kinds'
import type { MapBlocks } from './map-blocks'
import { tilesFor, type PackedBuffer, type Phase, type ResidentFrame, type ResidentFrames, type Rows } from './program'

/** What the compiler asks of the engine. */
export interface Storage {
  /** all that are demanded, each with the pixels that are demanded at least */
  readonly frames: ResidentFrames
  frameBounds(step: FrameStep): Window
  /** a buffer made before that holds the key's pixels over at least the window, or null */
  find(key: string, window: Window): PackedBuffer | null
  /** @throws ArenaFullError */
  make(key: string, window: Window): PackedBuffer
  /** the picture before was made of this step too */
  madeBefore(key: string): boolean
  /** where the field's blocks lead; the same for the same key */
  mapBlocks(key: string, frame: ResidentFrame): MapBlocks
}

export interface Program {
  readonly phases: readonly Phase[]
  /** of each step that was asked for */
  readonly rows: readonly Rows[]
}

/** Phases that fill the buffers, and the rows of the steps themselves over the window. */
export function compile(roots: readonly Step[], window: Window, storage: Storage): Program {
  return new Compiler(storage).compile(roots, window)
}

/**
 * Which part of every frame the picture is made of; frames that give nothing are absent. Maps must be in memory, of other
 * frames only the bounds are asked for.
 */
export function frameDemands(
  roots: readonly Step[],
  window: Window,
  storage: Pick<Storage, 'frames' | 'frameBounds' | 'mapBlocks'>,
): ReadonlyMap<string, Window> {
  return new Compiler({ ...storage, ...nothingMade }).frameDemands(roots, window)
}

/** Where the step's pixels lie at most. Maps must be in memory, of other frames only the bounds are asked for. */
export function boundsOf(step: Step, storage: Pick<Storage, 'frames' | 'frameBounds' | 'mapBlocks'>): Window {
  return new Compiler({ ...storage, ...nothingMade }).bounds(step)
}

const nothingMade = {
  find: () => null,
  make: (): never => {
    throw new Error('Asking what a picture needs makes nothing.')
  },
  madeBefore: () => false,
}

interface Demand {
  /** all that is asked for; once its turn has come, cut to the step's bounds: beyond them every window sees nothing */
  window: Window
  consumers: number
  /** some consumer needs its pixels in a buffer */
  buffered: boolean
  /** as in the picture before, but what is made of it is not: while an artist drags a number, all behind it is unchanged */
  unchanged: boolean
}

const nothing: Rows = { node: 'nothing' }

class Compiler implements Lowering {
  private readonly phases: Phase[] = []
  private readonly demands = new Map<string, Demand>()
  private readonly nodes = new Map<string, Rows>()
  private readonly boundsByKey = new Map<string, Window>()

  constructor(private readonly storage: Storage) {}

  compile(roots: readonly Step[], window: Window): Program {
    const order = inputsFirst(roots)
    this.demandAll(order, roots, window)
    for (const step of order) {
      const demand = this.demands.get(step.key)
      if (demand && !this.nodes.has(step.key))
        this.nodes.set(step.key, this.settled(step, kindOf(step).lower(step, demand.window, this), demand))
    }
    return { phases: this.phases, rows: roots.map((root) => this.rows(root)) }
  }

  frameDemands(roots: readonly Step[], window: Window): ReadonlyMap<string, Window> {
    const order = inputsFirst(roots)
    this.demandAll(order, roots, window)
    return new Map(
      order.flatMap(({ op, key }) => {
        const demanded = this.demands.get(key)?.window
        return op === 'frame' && demanded && !isEmpty(demanded) ? [[key, demanded] as const] : []
      }),
    )
  }

  /** From what is asked for back to the frames: which window of every step is needed. */
  private demandAll(order: readonly Step[], roots: readonly Step[], window: Window): void {
    for (const root of roots) this.ask(root, window, false)
    for (const step of [...order].reverse()) {
      const demand = this.demands.get(step.key)
      if (!demand) continue
      demand.window = intersect(demand.window, this.bounds(step))
      if (isEmpty(demand.window)) {
        this.nodes.set(step.key, nothing)
        continue
      }
      if (this.findMade(step, demand)) continue
      for (const need of kindOf(step).needs(step, demand.window, this))
        this.ask(need.input, need.window, need.buffered === true)
      this.noteUnchanged(step)
    }
  }

  bounds(step: Step): Window {
    let found = this.boundsByKey.get(step.key)
    if (!found) this.boundsByKey.set(step.key, (found = kindOf(step).bounds(step, this)))
    return found
  }

  frameBounds(step: FrameStep): Window {
    return this.storage.frameBounds(step)
  }

  frame({ key }: FrameStep): ResidentFrame {
    const frame = this.storage.frames.get(key)
    if (!frame) throw new Error('A frame was not brought into memory before it was needed.')
    return frame
  }

  blocks(field: FrameStep): MapBlocks {
    return this.storage.mapBlocks(field.key, this.frame(field))
  }

  rows(step: Step): Rows {
    const node = this.nodes.get(step.key)
    if (!node) throw new Error(`The step ${step.op} was not lowered before it was used.`)
    return node
  }

  make(key: string, window: Window): PackedBuffer {
    return this.storage.make(key, window)
  }

  phase(phase: Phase): void {
    this.phases.push(phase)
  }

  private ask(step: Step, window: Window, buffered: boolean): void {
    const known = this.demands.get(step.key)
    if (!known) this.demands.set(step.key, { window, consumers: 1, buffered, unchanged: false })
    else {
      known.window = union(known.window, window)
      known.consumers++
      known.buffered ||= buffered
    }
  }

  private noteUnchanged(step: Step): void {
    if (this.storage.madeBefore(step.key)) return
    for (const input of step.inputs) {
      const demand = this.demands.get(input.key)
      if (demand && this.storage.madeBefore(input.key)) demand.unchanged = true
    }
  }

  /** Uses a buffer of an earlier picture, if one holds what is wanted. */
  private findMade(step: Step, demand: Demand): boolean {
    const kind = kindOf(step)
    if (kind.lowerMade) {
      const made = kind.lowerMade(step, demand.window, (key, window) => this.storage.find(key, window))
      if (!made) return false
      this.nodes.set(step.key, this.settled(step, made, demand))
      return true
    }
    if (!this.needsBuffer(step, demand)) return false
    const found = this.storage.find(step.key, demand.window)
    if (found) this.nodes.set(step.key, { node: 'buffer', buffer: found })
    return found !== null
  }

  /**
   * What is used twice is computed once, unless it is hardly more than reading a source. What lies behind a change is kept
   * from the second change on.
   */
  private needsBuffer(step: Step, { consumers, buffered, unchanged }: Demand): boolean {
    if (buffered || kindOf(step).kept) return true
    if ((consumers < 2 && !unchanged) || step.op === 'frame' || step.op === 'constant') return false
    return !(step.op === 'colour' && step.inputs[0].op === 'frame')
  }

  private settled(step: Step, rows: Rows, demand: Demand): Rows {
    if (rows.node === 'nothing' || !this.needsBuffer(step, demand)) return rows
    const buffer = this.storage.make(step.key, demand.window)
    this.phases.push({ phase: 'rows', rows, across: null, target: buffer, ...tilesFor(rows, demand.window) })
    return { node: 'buffer', buffer }
  }
}

/** Every step once, inputs before what reads them. */
function inputsFirst(roots: readonly Step[]): Step[] {
  const order: Step[] = []
  const seen = new Set<string>()
  const visit = (step: Step): void => {
    if (seen.has(step.key)) return
    seen.add(step.key)
    step.inputs.forEach(visit)
    order.push(step)
  }
  roots.forEach(visit)
  return order
}

export function bufferBytes(window: Window): number {
  return Math.max(1, pixelCount(window)) * pixelBytes
}
