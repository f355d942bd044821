/** For many small windows of a few pictures: each picture is made once, whole, and windows are cut from it. */

import type { Step } from '../graph/steps'
import { cutWindow } from '../image/cut'
import { contains, type Window } from '../image/window'
import type { Wanted, WindowReading } from '../measure/window-statistics'
import type { Look } from './look'

/** Plate and element on the frame that is read, and on the one where the regions were drawn. */
const mostKept = 4

export class WholeFrames implements Look {
  private readonly pictures = new Map<string, Promise<Float32Array>>()
  private readonly keys: ReadonlySet<string>

  /** @param full steps at full scale, whose windows are cut; what else is asked for is made by itself */
  constructor(
    private readonly look: Look,
    private readonly frame: Window,
    full: readonly Step[],
  ) {
    this.keys = new Set(full.map(({ key }) => key))
  }

  measure(step: Step, windows: readonly Window[], wanted: Wanted): Promise<readonly WindowReading[]> {
    return this.look.measure(step, windows, wanted)
  }

  async light(step: Step, window: Window, options?: { readonly once: true }): Promise<Float32Array> {
    if (!this.keys.has(step.key) || !contains(this.frame, window)) return this.look.light(step, window, options)
    return cutWindow(await this.whole(step), this.frame, window)
  }

  bounds(step: Step): Promise<Window> {
    return this.look.bounds(step)
  }

  private whole(step: Step): Promise<Float32Array> {
    const known = this.pictures.get(step.key)
    const made = known ?? this.look.light(step, this.frame, { once: true })
    // The one that was wanted last goes last.
    this.pictures.delete(step.key)
    this.pictures.set(step.key, made)
    made.catch(() => this.pictures.delete(step.key))
    for (const oldest of this.pictures.keys()) {
      if (this.pictures.size <= mostKept) break
      this.pictures.delete(oldest)
    }
    return made
  }
}
