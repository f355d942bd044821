/** Reads both sides of witnesses, at full scale whatever the picture is made at. */

import { contentKey } from '../graph/content-key'
import type { Step } from '../graph/steps'
import type { Window } from '../image/window'
import { edgeSpread, type EdgeOf } from '../measure/edge-spread'
import { leastCoverage, readSide, type SideReading } from '../match'
import type { FramePlan } from '../plan/plan'
import type { Shot, Witness, WitnessSide } from '../shot'
import { framesOfReferenceObject } from '../shot'
import { Following, scaleOfCentres, type ElementAtScales, type Point } from './following'
import type { Look, Plans } from './look'

export interface WitnessReading {
  /** null where there is nothing to read */
  readonly reference: SideReading | null
  readonly adjusted: SideReading | null
  /** where they were read, which differs from where they were drawn where they follow */
  readonly places?: { readonly reference: Window; readonly adjusted: Window }
  /** what kept it from being read */
  readonly why?: string
}

/** Whether a witness says anything on a frame. */
export function countsOn(shot: Shot, { on, frames }: Witness, frame: number): boolean {
  if (frames && (frame < frames.first || frame > frames.last)) return false
  if (on === undefined) return true
  const there = framesOfReferenceObject(shot, on)
  return there !== null && frame >= there.first && frame <= there.last
}

/** Sides that are kept as they were read. */
const mostKept = 2000

const lost = { reference: null, adjusted: null } as const

export class WitnessReader {
  private readonly following: Following
  private readonly known = new Map<string, SideReading | null>()

  constructor(private readonly look: Look) {
    this.following = new Following(look)
  }

  /**
   * The reference is the plate as it came; the adjusted side is the element as the plan has it.
   *
   * @returns in the order of the witnesses
   * @throws what measuring throws
   */
  async read(plans: Plans, frame: number, witnesses: readonly Witness[]): Promise<WitnessReading[]> {
    const found = new Map<string, WitnessReading>()
    for (const on of new Set(witnesses.map((one) => one.on ?? null))) {
      const own = witnesses.filter((one) => (one.on ?? null) === on)
      const plan = plans.at(on, frame, 1)
      if (plan) for (const [id, one] of await this.readOn(plan, plans, own)) found.set(id, one)
    }
    return witnesses.map(({ id }) => found.get(id) ?? { ...lost, why: 'its reference object is gone' })
  }

  private async readOn(plan: FramePlan, plans: Plans, witnesses: readonly Witness[]) {
    const placed = await Promise.all(
      witnesses.map(async (one) => ({ one, places: await this.places(plan, plans, one) })),
    )
    const there = placed.flatMap(({ one, places }) => (typeof places === 'string' ? [] : [{ one, places }]))
    const read = (step: Step | null | undefined, sides: readonly Window[]) =>
      step ? this.sides(step, sides) : Promise.resolve(sides.map(() => null))
    const references = await read(
      plan.plate,
      there.map(({ places }) => places.reference),
    )
    const adjusted = new Map<string, SideReading | null>()
    for (const element of new Set(there.map(({ one }) => one.element))) {
      const own = there.filter(({ one }) => one.element === element)
      const sides = await read(
        plan.elements.get(element),
        own.map(({ places }) => places.adjusted),
      )
      own.forEach(({ one }, i) => adjusted.set(one.id, sides[i]))
    }
    const sound = await Promise.all(
      there.map(async ({ one, places }, i): Promise<readonly [string, WitnessReading]> => {
        const both = { reference: references[i], adjusted: adjusted.get(one.id) ?? null }
        return [
          one.id,
          { ...(one.purpose === 'sharpness' ? await this.withEdges(plan, one, places, both) : both), places },
        ]
      }),
    )
    const unsound = placed.flatMap(({ one, places }): (readonly [string, WitnessReading])[] =>
      typeof places === 'string' ? [[one.id, { ...lost, why: places }]] : [],
    )
    return [...sound, ...unsound]
  }

  /** While one side is changed the other stays as it was read. */
  private async sides(step: Step, windows: readonly Window[]): Promise<(SideReading | null)[]> {
    const names = windows.map(({ x, y, width, height }) => [step.key, x, y, width, height].join())
    const sides = names.map((name) => this.known.get(name))
    const wanting = windows.filter((_, i) => sides[i] === undefined)
    if (wanting.length === 0) return sides.map((side) => side ?? null)
    const found = (await this.look.measure(step, wanting, { noise: true })).map(readSide)
    if (this.known.size + found.length > mostKept) this.known.clear()
    let next = 0
    return sides.map((side, i) => {
      if (side !== undefined) return side
      const one = found[next++]
      this.known.set(names[i], one)
      return one
    })
  }

  /** Both sides with the edges that lie in them: of the element its outline where that runs through the region, else its light. */
  private async withEdges(
    plan: FramePlan,
    { element }: Witness,
    places: { readonly reference: Window; readonly adjusted: Window },
    { reference, adjusted }: Pick<WitnessReading, 'reference' | 'adjusted'>,
  ): Promise<Pick<WitnessReading, 'reference' | 'adjusted'>> {
    const edgeIn = async (step: Step | null | undefined, window: Window, of: EdgeOf) =>
      step ? edgeSpread(await this.look.light(step, window, { once: true }), window, of) : null
    const outlined = adjusted !== null && adjusted.coverage < leastCoverage
    const [plate, own] = await Promise.all([
      edgeIn(plan.plate, places.reference, 'light'),
      edgeIn(plan.elements.get(element), places.adjusted, outlined ? 'coverage' : 'light'),
    ])
    return {
      reference: reference && { ...reference, edge: plate },
      adjusted: adjusted && { ...adjusted, edge: own },
    }
  }

  /** @returns a sentence's end where a side cannot be followed */
  private async places(plan: FramePlan, plans: Plans, witness: Witness) {
    const { reference, adjusted, element } = witness
    const at = (frame: number, scale: 1 | typeof scaleOfCentres) => plans.at(witness.on ?? null, frame, scale)
    let [ofPlate, ofElement]: Point[] = [nowhere, nowhere]
    if (reference.follows !== undefined && reference.follows !== plan.frame) {
      const then = at(reference.follows, 1)?.plate
      const shift = then && plan.plate ? await this.following.ofPlate(then, plan.plate, regionOf(reference)) : null
      if (!shift) return 'the plate has nothing there that it could be followed by'
      ofPlate = shift
    }
    if (adjusted.follows !== undefined && adjusted.follows !== plan.frame) {
      const [then, now] = [adjusted.follows, plan.frame].map((frame): ElementAtScales | null => {
        const [full, reduced] = ([1, scaleOfCentres] as const).map((scale) => at(frame, scale)?.elements.get(element))
        return full && reduced ? { full, reduced } : null
      })
      const shift = await this.following.ofElement(then, now, regionOf(adjusted), plans.frame)
      if (!shift) return 'the element is not there to be followed'
      ofElement = shift
    }
    return { reference: moved(reference, ofPlate), adjusted: moved(adjusted, ofElement) }
  }
}

const nowhere: Point = { x: 0, y: 0 }
const regionOf = ({ x, y, width, height }: WitnessSide): Window => ({ x, y, width, height })
/** To whole pixels: nothing is resampled for being read. */
const moved = ({ x, y, width, height }: WitnessSide, by: Point): Window => ({
  ...{ x: x + Math.round(by.x), y: y + Math.round(by.y) },
  ...{ width, height },
})

/** Equal key, equal reading: what else is in the shot, and what is asked of the reading, does not count. */
export function readingKey(plans: Plans, frame: number, witness: Witness): string {
  const { reference, adjusted, element, on = null } = witness
  const plan = plans.at(on, frame, 1)
  const sides = [reference, adjusted].map(({ x, y, width, height }) => [x, y, width, height])
  const followed = [
    reference.follows === undefined ? null : (plans.at(on, reference.follows, 1)?.plate?.key ?? null),
    ...(adjusted.follows === undefined
      ? []
      : ([adjusted.follows, frame] as const).flatMap((when) =>
          ([1, scaleOfCentres] as const).map((scale) => plans.at(on, when, scale)?.elements.get(element)?.key ?? null),
        )),
  ]
  const seen = witness.purpose === 'sharpness' ? ['edges'] : []
  const keys = [plan?.plate?.key ?? null, plan?.elements.get(element)?.key ?? null]
  return contentKey('reading', 5, ...keys, sides, followed, ...seen)
}
