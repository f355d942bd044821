/** The heavy part of making sources, on threads of their own. */

import { fileURLToPath } from 'node:url'
import { Piscina } from 'piscina'
import type { Neighbours } from '../../core/flow'
import type { HeavyWork } from '../../core/making'
import type { Joined, Samples } from '../../core/repair/joined'
import type { NoiseByLight } from '../../core/repair/noise-over-frames'
import { NothingToGoByError, type Filmed, type SoftMatte } from '../../core/soft-matte/soft-matte'

export type MakerTask =
  | { readonly do: 'joined'; readonly samples: Samples; readonly noise: readonly NoiseByLight[] }
  | { readonly do: 'softMatte'; readonly filmed: Filmed }
  | { readonly do: 'motionBlurred'; readonly frames: Neighbours; readonly open: number }

export type MakerResult =
  | { readonly joined: Joined }
  | { readonly softMatte: SoftMatte }
  | { readonly motionBlurred: Float32Array }
  /** nothing to go by: why */
  | { readonly nothing: string }

export class Makers implements HeavyWork {
  private readonly pool: Piscina<MakerTask, MakerResult>

  /** @param workerFile the built `maker.mjs` */
  constructor(workerFile: URL, threads: number) {
    this.pool = new Piscina({
      filename: fileURLToPath(workerFile),
      minThreads: 0,
      maxThreads: threads,
      idleTimeout: 10_000,
    })
  }

  readonly joined: HeavyWork['joined'] = async (samples, noise, signal) => {
    const result = await this.pool.run({ do: 'joined', samples, noise }, { signal })
    if ('joined' in result) return result.joined
    throw new Error('Joining gave something else.')
  }

  readonly softMatte: HeavyWork['softMatte'] = async (filmed, signal) => {
    const result = await this.pool.run({ do: 'softMatte', filmed }, { signal })
    if ('softMatte' in result) return result.softMatte
    throw new NothingToGoByError('nothing' in result ? result.nothing : 'The soft matte gave something else.')
  }

  readonly motionBlurred: HeavyWork['motionBlurred'] = async (frames, open, signal) => {
    const result = await this.pool.run({ do: 'motionBlurred', frames, open }, { signal })
    if ('motionBlurred' in result) return result.motionBlurred
    throw new Error('Motion blur gave something else.')
  }

  close(): Promise<void> {
    return this.pool.destroy()
  }
}
