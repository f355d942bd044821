/** Reads source frames on threads of their own, so that decoding never holds up the server's answers. */

import { Piscina } from 'piscina'
import { fileURLToPath } from 'node:url'
import type { LoadFrame, SourceFrame } from '../../core/engine/source-frame'
import type { FrameRequest } from '../../core/graph/steps'
import type { MediaPlace } from './read-frame'

export interface ReadTask {
  readonly place: MediaPlace
  readonly request: FrameRequest
}

/** Errors lose their class between threads; what they were called and said is kept. */
export type ReadResult =
  { readonly frame: SourceFrame } | { readonly failure: { readonly name: string; readonly message: string } }

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
  private readonly waiting: (() => void)[] = []

  /** @param workerFile the built `frame-reader.mjs` */
  constructor(
    workerFile: URL,
    private readonly threads: number,
  ) {
    this.pool = new Piscina({
      filename: fileURLToPath(workerFile),
      // A thread that must first be started makes the first picture late.
      minThreads: threads,
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
  async read(place: MediaPlace, request: FrameRequest, signal?: AbortSignal): Promise<SourceFrame> {
    if (this.reading >= this.threads) await new Promise<void>((resolve) => this.waiting.push(resolve))
    this.reading++
    try {
      if (signal?.aborted) throw new UnwantedFrameError(`${request.path} is not wanted any more.`)
      const result = await this.pool.run({ place, request }).catch((error: unknown) => {
        throw this.stopping ? new StoppingError('The server is being stopped. Try again when it answers.') : error
      })
      if ('failure' in result) throw new UnreadableFrameError(result.failure.message, result.failure.name)
      return result.frame
    } finally {
      this.reading--
      this.waiting.shift()?.()
    }
  }

  /** A loader for the engine over one shot's folder. */
  loader(place: MediaPlace): LoadFrame {
    return (request, signal) => this.read(place, request, signal)
  }

  close(): Promise<void> {
    this.stopping = true
    return this.pool.destroy()
  }
}
