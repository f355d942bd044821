/** How far what a region was drawn on has moved: an element by the middle of its coverage, the plate by what it shows. */

import type { Step } from '../graph/steps'
import { dilate, reduceWindow, type Window } from '../image/window'
import { alignedShift, type Shift } from '../measure/aligned-shift'
import { centreOfCoverage } from '../measure/centre-of-coverage'
import type { Look } from './look'

export interface Point {
  readonly x: number
  readonly y: number
}

/** Coverage is measured on small pictures: its middle is good to a fraction of their pixels. */
export const scaleOfCentres = 4
/** What lies around a region helps to find it again. */
const around = 16
/** It is looked for so far from where it was. */
const farthest = 24
const mostKept = 2000

export class Following {
  private readonly centres = new Map<string, Promise<Point | null>>()
  private readonly shifts = new Map<string, Promise<Shift | null>>()

  constructor(private readonly look: Pick<Look, 'light'>) {}

  /**
   * @param then element at a quarter of the scale, when the region was drawn @param now likewise, on the frame that is wanted
   * @returns full-scale pixels; null where it covers nothing at one of the times
   */
  async ofElement(then: Step | undefined, now: Step | undefined, frame: Window): Promise<Point | null> {
    if (!then || !now) return null
    const [before, after] = await Promise.all([this.centre(then, frame), this.centre(now, frame)])
    return before && after
      ? { x: (after.x - before.x) * scaleOfCentres, y: (after.y - before.y) * scaleOfCentres }
      : null
  }

  /** @returns full-scale pixels; null where there is nothing in it that it could be found by */
  ofPlate(then: Step, now: Step, region: Window): Promise<Shift | null> {
    if (then.key === now.key) return Promise.resolve({ x: 0, y: 0, error: 0 })
    const name = [then.key, now.key, region.x, region.y, region.width, region.height].join()
    return remembered(this.shifts, name, async () => {
      const patch = dilate(region, around, around)
      const search = dilate(patch, farthest, farthest)
      const [before, after] = await Promise.all([
        this.look.light(then, patch, { once: true }),
        this.look.light(now, search, { once: true }),
      ])
      return alignedShift(before, patch, after, farthest)
    })
  }

  private centre(step: Step, frame: Window): Promise<Point | null> {
    const window = reduceWindow(frame, scaleOfCentres)
    return remembered(this.centres, step.key, async () =>
      centreOfCoverage(await this.look.light(step, window, { once: true }), window),
    )
  }
}

function remembered<T>(known: Map<string, Promise<T>>, name: string, make: () => Promise<T>): Promise<T> {
  const found = known.get(name)
  if (found) return found
  if (known.size >= mostKept) known.clear()
  const made = make()
  known.set(name, made)
  made.catch(() => known.delete(name))
  return made
}
