/** Reads source frames on threads of their own, so that decoding never holds up the server's answers. */

import { Piscina } from 'piscina'
import { fileURLToPath } from 'node:url'
import type { LoadFrame, SourceFrame } from '../../core/engine/source-frame'
import type { FrameRequest } from '../../core/graph/steps'
import type { Window } from '../../core/image/window'
import type { ReadCost } from '../../formats/exr'
import type { MediaPlace } from './read-frame'

export interface ReadTask {
  readonly place: MediaPlace
  readonly request: FrameRequest
  /** part of the frame; absent: all of it */
  readonly window?: Window
  /** only where its pixels lie */
  readonly boundsOnly?: true
}

/** Errors lose their class between threads; what they were called and said is kept. */
export type ReadResult =
  | { readonly frame: SourceFrame; readonly cost: ReadCost }
  | { readonly bounds: Window }
  | { readonly failure: { readonly name: string; readonly message: string } }

/** A frame could not be read; `kind` names the class of what went wrong (`MissingFileError`, `DamagedExrError`, …). */
export class UnreadableFrameError extends Error {
  override readonly name = 'UnreadableFrameError'
  constructor(
    message: string,
    readonly kind: string,
  ) {
    super(message)
  }
}

/** What was asked for is not made any more: the server is being stopped. */
export class StoppingError extends Error {
  override readonly name = 'StoppingError'
}

/** Nobody waits for the frame any more. */
export class UnwantedFrameError extends Error {
  override readonly name = 'UnwantedFrameError'
}

export class FrameReaders {
  private readonly pool: Piscina<ReadTask, ReadResult>
  private stopping = false
  private reading = 0
  /** of everything that was read */
  readonly cost: ReadCost = { bytesRead: 0, blocks: 0, bytesUnpacked: 0, samples: 0 }
  private readonly waiting: (() => void)[] = []

  /**
   * @param workerFile the built `frame-reader.mjs`
   * @param ready whether the threads are started before there is anything to read, so that the first picture need not wait
   */
  constructor(
    workerFile: URL,
    private readonly threads: number,
    ready = false,
  ) {
    this.pool = new Piscina({
      filename: fileURLToPath(workerFile),
      minThreads: ready ? threads : 0,
      maxThreads: threads,
      idleTimeout: 60_000,
    })
  }

  /**
   * Frames are read as threads become free; one that nobody waits for any more is not begun, so that quick scrubbing leaves
   * no queue behind.
   *
   * @throws UnreadableFrameError, StoppingError, UnwantedFrameError
   */
  async read(place: MediaPlace, request: FrameRequest, signal?: AbortSignal, window?: Window): Promise<SourceFrame> {
    const result = await this.run({ place, request, window }, signal)
    if (!('frame' in result)) throw new Error('A thread that reads answered something else.')
    const { frame, cost } = result
    this.cost.bytesRead += cost.bytesRead
    this.cost.blocks += cost.blocks
    this.cost.bytesUnpacked += cost.bytesUnpacked
    this.cost.samples += cost.samples
    return frame
  }

  /** Where a file's pixels lie, in pixels of the graph. @throws as `read` */
  async bounds(place: MediaPlace, request: FrameRequest, signal?: AbortSignal): Promise<Window> {
    const result = await this.run({ place, request, boundsOnly: true }, signal)
    if (!('bounds' in result)) throw new Error('A thread that reads answered something else.')
    return result.bounds
  }

  private async run(task: ReadTask, signal?: AbortSignal): Promise<Exclude<ReadResult, { readonly failure: unknown }>> {
    if (this.reading >= this.threads) await new Promise<void>((resolve) => this.waiting.push(resolve))
    this.reading++
    try {
      if (signal?.aborted) throw new UnwantedFrameError(`${task.request.path} is not wanted any more.`)
      const result = await this.pool.run(task).catch((error: unknown) => {
        throw this.stopping ? new StoppingError('The server is being stopped. Try again when it answers.') : error
      })
      if ('failure' in result) throw new UnreadableFrameError(result.failure.message, result.failure.name)
      return result
    } finally {
      this.reading--
      this.waiting.shift()?.()
    }
  }

  /** A loader for the engine over one shot's folder. */
  loader(place: MediaPlace): LoadFrame {
    return (request, signal, window) => this.read(place, request, signal, window)
  }

  close(): Promise<void> {
    this.stopping = true
    return this.pool.destroy()
  }
}
