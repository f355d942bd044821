/** Makes whole pictures for the screen and keeps them, so that what was seen is shown again at once and frames can be played. */

import { LRUCache } from 'lru-cache'
import type { Engine, PictureOptions } from '../../../core/engine/engine'
import type { Step } from '../../../core/graph/steps'
import type { ViewSettings } from '../../../core/kernels/kernels'

export interface PictureSize {
  readonly width: number
  readonly height: number
}

/** Enough for 100 frames of 1920x1080 at half scale. */
const mostBytes = 256 * 2 ** 20

export class PictureMaker {
  private readonly pictures: LRUCache<string, Uint8Array<ArrayBuffer>>

  constructor(
    readonly engine: Engine,
    maxSize = mostBytes,
  ) {
    this.pictures = new LRUCache<string, Uint8Array<ArrayBuffer>>({ maxSize, sizeCalculation: (bytes) => bytes.length })
  }

  /** @returns the picture if it is there already */
  ready(step: Step, size: PictureSize, view: ViewSettings): Uint8Array<ArrayBuffer> | null {
    return this.pictures.get(nameOf(step, size, view)) ?? null
  }

  /** @returns 8-bit RGBA of the whole picture; kept */
  async all(
    step: Step,
    size: PictureSize,
    view: ViewSettings,
    options?: PictureOptions,
  ): Promise<Uint8Array<ArrayBuffer>> {
    const found = this.ready(step, size, view)
    if (found) return found
    const bytes = await this.engine.view(step, { x: 0, y: 0, ...size }, view, options)
    this.pictures.set(nameOf(step, size, view), bytes)
    return bytes
  }
}

function nameOf(
  { key }: Step,
  { width, height }: PictureSize,
  { exposure, channel, encoding, marks = false }: ViewSettings,
): string {
  return `${key} ${width}x${height} ${exposure} ${channel} ${encoding} ${marks}`
}
