/** How far what a region was drawn on has moved: by what it shows; an element's is looked for where the middle of its coverage went. */

import type { Step } from '../graph/steps'
import { dilate, reduceWindow, type Window } from '../image/window'
import { alignedShift } from '../measure/aligned-shift'
import { centreOfCoverage } from '../measure/centre-of-coverage'
import type { Look, Point, Shifted } from './look'

/** An element on one frame, at full scale and reduced by `scaleOfCentres`. */
export interface ElementAtScales {
  readonly full: Step
  readonly reduced: Step
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
  private readonly shifts = new Map<string, Promise<Shifted | null>>()

  constructor(private readonly look: Pick<Look, 'light'>) {}

  /**
   * @param then the element when the region was drawn @param now on the frame that is wanted
   * @returns full-scale pixels; null where it covers nothing at one of the times
   */
  async ofElement(
    then: ElementAtScales | null,
    now: ElementAtScales | null,
    region: Window,
    frame: Window,
  ): Promise<Shifted | null> {
    if (!then || !now) return null
    const [before, after] = await Promise.all([this.centre(then.reduced, frame), this.centre(now.reduced, frame)])
    if (!before || !after) return null
    const middle = { x: (after.x - before.x) * scaleOfCentres, y: (after.y - before.y) * scaleOfCentres }
    const from = { x: Math.round(middle.x), y: Math.round(middle.y) }
    return (await this.aligned(then.full, now.full, region, from)) ?? middle
  }

  /** @returns full-scale pixels; null where there is nothing in it that it could be found by */
  ofPlate(then: Step, now: Step, region: Window): Promise<Shifted | null> {
    return this.aligned(then, now, region, { x: 0, y: 0 })
  }

  /** @param from whole pixels by which it is expected to have moved */
  private aligned(then: Step, now: Step, region: Window, from: Point): Promise<Shifted | null> {
    if (then.key === now.key) return Promise.resolve({ x: 0, y: 0, error: 0 })
    const name = [then.key, now.key, region.x, region.y, region.width, region.height, from.x, from.y].join()
    return remembered(this.shifts, name, async () => {
      const patch = dilate(region, around, around)
      const search = dilate({ ...patch, x: patch.x + from.x, y: patch.y + from.y }, farthest, farthest)
      const [before, after] = await Promise.all([
        this.look.light(then, patch, { once: true }),
        this.look.light(now, search, { once: true }),
      ])
      const shift = alignedShift(before, patch, after, farthest)
      return shift && { x: from.x + shift.x, y: from.y + shift.y, error: shift.error }
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
