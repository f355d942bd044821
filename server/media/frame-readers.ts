/** Reads source frames on threads of their own, so that decoding never holds up the server's answers. */

import { Piscina } from 'piscina'
import { fileURLToPath } from 'node:url'
import type { SourceFrame } from '../../core/engine/source-frame'
import type { FrameRequest } from '../../core/graph/steps'
import type { Place } from './read-frame'

export interface ReadTask {
  readonly place: Place
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

export class FrameReaders {
  private readonly pool: Piscina<ReadTask, ReadResult>
  private stopping = false

  /** @param workerFile the built `frame-reader.mjs` */
  constructor(workerFile: URL, threads: number) {
    this.pool = new Piscina({
      filename: fileURLToPath(workerFile),
      minThreads: 1,
      maxThreads: threads,
      idleTimeout: 60_000,
    })
  }

  /** @throws UnreadableFrameError, StoppingError */
  async read(place: Place, request: FrameRequest): Promise<SourceFrame> {
    const result = await this.pool.run({ place, request }).catch((error: unknown) => {
      throw this.stopping ? new StoppingError('The server is being stopped. Try again when it answers.') : error
    })
    if ('failure' in result) throw new UnreadableFrameError(result.failure.message, result.failure.name)
    return result.frame
  }

  /** A loader for the engine over one shot's folder. */
  loader(place: Place): (request: FrameRequest) => Promise<SourceFrame> {
    return (request) => this.read(place, request)
  }

  close(): Promise<void> {
    this.stopping = true
    return this.pool.destroy()
  }
}
