/** The engine's own code on the bench's thread: compiles a step and runs its phases, one after the other. */

import { readFileSync } from 'node:fs'
import { resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { Worker } from 'node:worker_threads'
import { Arena } from '../core/engine/arena'
import { bufferBytes, compile, type Storage } from '../core/engine/compile'
import { Crew } from '../core/engine/crew'
import { MapBlocks } from '../core/engine/map-blocks'
import { outputBytes, tilesFor, type Output, type Phase, type ResidentFrame } from '../core/engine/program'
import { PhaseRunner } from '../core/engine/run-phase'
import { workBytes } from '../core/engine/worker-messages'
import { fileStep, type Carries, type FrameStep, type Step } from '../core/graph/steps'
import { bytesPerSample, type SampleType } from '../core/image/planes'
import { emptyWindow, pixelCount, type Window } from '../core/image/window'
import { firstFreeByte, kernelScratchBytes, kernelsOn, type Kernels } from '../core/kernels/kernels'
import { floatToHalf } from '../core/image/half'
import { threadPort } from '../server/engine/node-engine'

const built = pathToFileURL(`${resolve('dist/node')}/`)

export class OneThread {
  readonly kernels: Kernels
  readonly buffer: ArrayBufferLike
  readonly arena: Arena
  private readonly memory: WebAssembly.Memory
  private readonly module: WebAssembly.Module
  private readonly runner: PhaseRunner
  private readonly frames = new Map<string, ResidentFrame>()

  constructor(megabytes: number) {
    const memory = new WebAssembly.Memory({ initial: megabytes * 16, maximum: megabytes * 16, shared: true })
    const module = new WebAssembly.Module(readFileSync('dist/kernels/kernels.wasm'))
    this.memory = memory
    this.module = module
    this.buffer = memory.buffer
    this.arena = new Arena(firstFreeByte, megabytes * 2 ** 20)
    const scratch = this.arena.allocate(kernelScratchBytes)
    this.kernels = kernelsOn(module, memory, scratch)
    this.runner = new PhaseRunner(module, memory, this.arena.allocate(workBytes))
  }

  /** A source of made-up values in the thread's memory. */
  source(
    path: string,
    window: Window,
    channels: number,
    type: Exclude<SampleType, 'uint'>,
    value: (channel: number, x: number, y: number) => number,
    takes: Carries = 'rgba',
  ): FrameStep {
    const claims = { encoding: 'linear', primaries: 'rec709', alpha: 'premultiplied' } as const
    const step = fileStep(path, path, takes, claims, 'rec709')
    const count = pixelCount(window)
    const planes = Array.from({ length: channels }, (_, c) => {
      const address = this.arena.allocate(count * bytesPerSample[type])
      const samples =
        type === 'half' ? new Uint16Array(this.buffer, address, count) : new Float32Array(this.buffer, address, count)
      for (let i = 0; i < count; i++) {
        const v = value(c, window.x + (i % window.width), window.y + Math.floor(i / window.width))
        samples[i] = type === 'half' ? floatToHalf(v) : v
      }
      return { type, address }
    })
    this.frames.set(step.key, { dataWindow: window, bounds: window, takes, decode: [], planes })
    return step
  }

  /** @returns a function that computes the step's window once, and frees what it took in between */
  picture(step: Step, window: Window, output: Output): () => void {
    return this.pictureTo(step, window, this.arena.allocate(outputBytes(output, window)), output)
  }

  /** The same, to an address of the thread's memory. */
  pictureTo(step: Step, window: Window, address: number, output: Output = { kind: 'light' }): () => void {
    const phases = this.phases(step, window, address, output)
    return () => this.runner.run(phases)
  }

  /** The same by the engine's own workers, as many as are said, in the same memory. */
  sharedTo(step: Step, window: Window, address: number, workers: number): { run(): Promise<void>; close(): void } {
    const { module, memory } = this
    const spawn = () => threadPort(new Worker(new URL('engine-worker.mjs', built)))
    const allocate = (bytes: number) => this.arena.allocate(bytes)
    const crew = new Crew({ module, memory, workers, spawn }, allocate, (at) => this.arena.release(at))
    const phases = this.phases(step, window, address, { kind: 'light' })
    return { run: () => crew.run(phases, new AbortController().signal), close: () => crew.close() }
  }

  private phases(step: Step, window: Window, address: number, output: Output): Phase[] {
    const taken: number[] = []
    const storage: Storage = {
      frames: this.frames,
      frameBounds: ({ key }) => this.frames.get(key)?.bounds ?? emptyWindow,
      find: () => null,
      madeBefore: () => false,
      make: (_key, wanted) => {
        const address = this.arena.allocate(bufferBytes(wanted))
        taken.push(address)
        return { address, window: wanted }
      },
      mapBlocks: (_key, frame) => new MapBlocks(this.buffer, frame),
    }
    const { phases, rows } = compile([step], window, storage)
    const last: Phase = {
      phase: 'output',
      rows: rows[0],
      placed: [{ output, address }],
      window,
      ...tilesFor(rows[0], window),
    }
    return [...phases, last]
  }
}
