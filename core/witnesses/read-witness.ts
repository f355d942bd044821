/** Reads both sides of witnesses, at full scale whatever the picture is made at. */

import { contentKey } from '../graph/content-key'
import type { Step } from '../graph/steps'
import type { Window } from '../image/window'
import { edgeSpread, type EdgeOf } from '../measure/edge-spread'
import { changeOf, leastCoverage, madeShadow, ownShadow, readSide, type SideReading } from '../match'
import { grainAdded, grainLevel } from '../measure/grain-level'
import type { FramePlan } from '../plan/plan'
import type { Shot, Witness, WitnessSide } from '../shot'
import { framesOfReferenceObject } from '../shot'
import { Following, scaleOfCentres, type ElementAtScales } from './following'
import type { Look, Plans, Point, Shifted } from './look'

export interface WitnessReading {
  /** null where there is nothing to read */
  readonly reference: SideReading | null
  readonly adjusted: SideReading | null
  /** where they were read, which differs from where they were drawn where they follow */
  readonly places?: PlacesRead
  /** what kept it from being read */
  readonly why?: string
}

/** Regions on a frame. */
export interface PlacesRead {
  readonly reference: Window
  readonly adjusted: Window
  /** the same ground as the reference, in the light */
  readonly lit?: Window
}

/** Whether a witness says anything on a frame. */
export function countsOn(shot: Shot, { on, frames, purpose }: Witness, frame: number): boolean {
  if (frames && (frame < frames.first || frame > frames.last)) return false
  const there = on === undefined ? shot.frames : framesOfReferenceObject(shot, on)
  // Flicker is against the frame before.
  return there !== null && frame >= there.first + (purpose === 'flicker' ? 1 : 0) && frame <= there.last
}

type Both = Pick<WitnessReading, 'reference' | 'adjusted' | 'why'>

interface Asked {
  readonly plan: FramePlan
  readonly plans: Plans
  readonly one: Witness
  readonly places: PlacesRead
  readonly both: Both
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
   * The reference is the plate as it is treated; the adjusted side is the element as the plan has it.
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
    const ofElement = async (element: string) => {
      const own = there.filter(({ one }) => one.element === element)
      const sides = own.map(({ places }) => places.adjusted)
      const found = await read(plan.elements.get(element), sides)
      return own.map(({ one }, i) => [one.id, found[i]] as const)
    }
    const ofPlate = there.map(({ places }) => places.reference)
    // Files of both are read meanwhile.
    const [references, ...elements] = await Promise.all([
      read(plan.reference, ofPlate),
      ...[...new Set(there.map(({ one }) => one.element))].map(ofElement),
    ])
    const adjusted = new Map(elements.flat())
    const sound = await Promise.all(
      there.map(async ({ one, places }, i): Promise<readonly [string, WitnessReading]> => {
        const both = { reference: references[i], adjusted: adjusted.get(one.id) ?? null }
        return [one.id, { ...(await this.forPurpose({ plan, plans, one, places, both })), places }]
      }),
    )
    const unsound = placed.flatMap(({ one, places }): (readonly [string, WitnessReading])[] =>
      typeof places === 'string' ? [[one.id, { ...lost, why: places }]] : [],
    )
    return [...sound, ...unsound]
  }

  /** What is read beside the light, as the purpose asks. */
  private forPurpose(asked: Asked): Both | Promise<Both> {
    switch (asked.one.purpose) {
      case 'sharpness':
        return this.withEdges(asked)
      case 'shadow':
        return this.withShadow(asked)
      case 'registration':
        return this.withMoves(asked)
      case 'flicker':
        return this.withChange(asked)
      case 'grain':
        return this.withGrain(asked)
      default:
        return asked.both
    }
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
  private async withEdges({ plan, one: { element }, places, both: { reference, adjusted } }: Asked): Promise<Both> {
    const edgeIn = async (step: Step | null | undefined, window: Window, of: EdgeOf) =>
      step ? edgeSpread(await this.look.light(step, window, { once: true }), window, of) : null
    const outlined = adjusted !== null && adjusted.coverage < leastCoverage
    const [plate, own] = await Promise.all([
      edgeIn(plan.reference, places.reference, 'light'),
      edgeIn(plan.elements.get(element), places.adjusted, outlined ? 'coverage' : 'light'),
    ])
    return {
      reference: reference && { ...reference, edge: plate },
      adjusted: adjusted && { ...adjusted, edge: own },
    }
  }

  /**
   * Of the plate its own shadow beside the same ground in the light; of the element what it makes of the plate beside the plate at the
   * same place, which is the light there.
   */
  private async withShadow({ plan, plans, one, places, both: { reference } }: Asked): Promise<Both> {
    const over = plans.over(one.on ?? null, plan.frame, one.element, 1)
    if (!plan.reference || !over || !reference) return { reference, adjusted: null }
    const [[lit, under], [made]] = await Promise.all([
      this.sides(plan.reference, [places.lit ?? places.adjusted, places.adjusted]),
      this.sides(over, [places.adjusted]),
    ])
    const veil = plans.veil(one.element, plan.frame)
    const own = places.lit && lit ? ownShadow(reference, lit, veil) : null
    return {
      reference: { ...reference, shadow: own },
      adjusted: made && { ...made, shadow: under ? madeShadow(made, under, veil) : null },
    }
  }

  /** How far each side has moved since the frame that the reference was drawn on. */
  private async withMoves({ plan, plans, one, both: { reference, adjusted } }: Asked): Promise<Both> {
    const since = one.reference.follows
    if (since === undefined || one.adjusted.follows === undefined)
      return { ...lost, why: 'its sides stay where they are in the frame: let both follow what they lie on' }
    const elementSince = (frame: number) => this.elementShift(plans, one, frame)
    const [plate, then, now] = await Promise.all([
      this.plateShift(plans, one, plan),
      elementSince(since),
      elementSince(plan.frame),
    ])
    const known = (shift: Shifted | null) => (shift?.error === undefined ? null : { ...shift, error: shift.error })
    const [ofPlate, first, last] = [plate, then, now].map(known)
    const moved = first &&
      last && {
        ...{ x: last.x - first.x, y: last.y - first.y },
        error: Math.hypot(last.error, first.error),
      }
    return { reference: reference && { ...reference, moved: ofPlate }, adjusted: adjusted && { ...adjusted, moved } }
  }

  /** Light of both sides beside that of the frame before. */
  private async withChange({ plan, plans, one, both: { reference, adjusted } }: Asked): Promise<Both> {
    const before = plans.at(one.on ?? null, plan.frame - 1, 1)
    const places = before && (await this.places(before, plans, one))
    if (!before?.reference || !places || !reference || !adjusted) return { ...lost, why: 'there is no frame before it' }
    if (typeof places === 'string') return { ...lost, why: `on the frame before, ${places}` }
    const own = before.elements.get(one.element)
    const [[plateThen], [elementThen]] = await Promise.all([
      this.sides(before.reference, [places.reference]),
      own ? this.sides(own, [places.adjusted]) : Promise.resolve([null]),
    ])
    return {
      reference: { ...reference, change: plateThen && changeOf(reference, plateThen) },
      adjusted: { ...adjusted, change: elementThen && changeOf(adjusted, elementThen) },
    }
  }

  /** Of the plate by this frame and the one beside it; of the element what the sensor adds to it. */
  private async withGrain({ plan, plans, one, places, both: { reference, adjusted } }: Asked): Promise<Both> {
    const on = one.on ?? null
    const beside = plans.at(on, besideOf(plans, on, plan.frame), 1)
    const then = beside?.reference && (await this.places(beside, plans, one))
    if (!beside?.reference || !then || !plan.reference) return { ...lost, why: 'the plate has no frame beside it' }
    if (typeof then === 'string') return { ...lost, why: `on the frame beside it, ${then}` }
    const lightOf = (step: Step, window: Window) => this.look.light(step, window, { once: true })
    const [recorded, over] = [plans.recorded, plans.over].map((made) => made(on, plan.frame, one.element, 1))
    const [before, after, added] = await Promise.all([
      lightOf(plan.reference, places.reference),
      lightOf(beside.reference, then.reference),
      recorded && over
        ? Promise.all([lightOf(recorded, places.adjusted), lightOf(over, places.adjusted)])
        : Promise.resolve(null),
    ])
    return {
      reference: reference && { ...reference, grain: grainLevel(before, after, places.reference) },
      adjusted: adjusted && { ...adjusted, grain: added && grainAdded(...added, places.adjusted) },
    }
  }

  /** @returns null where it cannot be followed */
  private async plateShift(plans: Plans, { on, reference }: Witness, { reference: plate, frame }: FramePlan) {
    const { follows: since = frame, along } = reference
    if (along !== undefined) return plans.wayOf(along, since, frame)
    if (since === frame) return { x: 0, y: 0, error: 0 }
    const then = plans.at(on ?? null, since, 1)?.reference
    return then && plate ? this.following.ofPlate(then, plate, regionOf(reference)) : null
  }

  private async elementShift(plans: Plans, { on, element, adjusted }: Witness, to: number) {
    const { follows: from = to, along } = adjusted
    if (along !== undefined) return plans.wayOf(along, from, to)
    if (from === to) return { x: 0, y: 0, error: 0 }
    const [then, now] = [from, to].map((frame): ElementAtScales | null => {
      const [full, reduced] = ([1, scaleOfCentres] as const).map((scale) =>
        plans.at(on ?? null, frame, scale)?.elements.get(element),
      )
      return full && reduced ? { full, reduced } : null
    })
    return this.following.ofElement(then, now, regionOf(adjusted), plans.frame)
  }

  /** @returns a sentence's end where a side cannot be followed */
  private async places(plan: FramePlan, plans: Plans, witness: Witness): Promise<PlacesRead | string> {
    const { reference, adjusted, lit } = witness
    let [ofPlate, ofElement]: Point[] = [nowhere, nowhere]
    if (reference.follows !== undefined) {
      const shift = await this.plateShift(plans, witness, plan)
      if (!shift)
        return reference.along === undefined ? 'the plate has nothing there that it could be followed by' : noTrack
      ofPlate = shift
    }
    if (adjusted.follows !== undefined) {
      const shift = await this.elementShift(plans, witness, plan.frame)
      if (!shift) return adjusted.along === undefined ? 'the element is not there to be followed' : noTrack
      ofElement = shift
    }
    return {
      ...{ reference: moved(reference, ofPlate), adjusted: moved(adjusted, ofElement) },
      ...(lit ? { lit: moved(lit, ofPlate) } : {}),
    }
  }
}

/** The frame after it, or before it where the plate ends. */
const besideOf = (plans: Plans, on: string | null, frame: number) =>
  plans.at(on, frame + 1, 1)?.reference ? frame + 1 : frame - 1

const noTrack = 'the track that it goes along with is gone, or not known there'
const nowhere: Point = { x: 0, y: 0 }
const regionOf = ({ x, y, width, height }: WitnessSide): Window => ({ x, y, width, height })
/** To whole pixels: nothing is resampled for being read. */
const moved = ({ x, y, width, height }: Window, by: Point): Window => ({
  ...{ x: x + Math.round(by.x), y: y + Math.round(by.y) },
  ...{ width, height },
})

/** Equal key, equal reading: what else is in the shot, and what is asked of the reading, does not count. */
export function readingKey(plans: Plans, frame: number, witness: Witness): string {
  const { reference, adjusted, element, on = null } = witness
  const plan = plans.at(on, frame, 1)
  const sides = [reference, adjusted].map(({ x, y, width, height }) => [x, y, width, height])
  const way = ({ follows, along }: WitnessSide) =>
    along === undefined || follows === undefined ? null : plans.wayOf(along, follows, frame)
  const onPlate = reference.along === undefined ? reference.follows : undefined
  const followed = [
    onPlate === undefined ? null : (plans.at(on, onPlate, 1)?.reference?.key ?? null),
    ...(adjusted.follows === undefined || adjusted.along !== undefined
      ? []
      : ([adjusted.follows, frame] as const).flatMap((when) =>
          ([1, scaleOfCentres] as const).map((scale) => plans.at(on, when, scale)?.elements.get(element)?.key ?? null),
        )),
    ...[reference, adjusted].flatMap((side, i) => (side.along === undefined ? [] : [i, way(side)])),
  ]
  const keys = [plan?.reference?.key ?? null, plan?.elements.get(element)?.key ?? null]
  return contentKey('reading', 6, ...keys, sides, followed, ...readBeside(plans, frame, witness))
}

/** What else a reading is of, as its purpose asks. */
function readBeside(plans: Plans, frame: number, witness: Witness): readonly unknown[] {
  const { purpose, lit, on = null, element, reference } = witness
  const then = (when: number) => {
    const plan = plans.at(on, when, 1)
    return [plan?.reference?.key ?? null, plan?.elements.get(element)?.key ?? null]
  }
  switch (purpose) {
    case 'sharpness':
      return ['edges']
    case 'shadow':
      return [purpose, lit ?? null, plans.over(on, frame, element, 1)?.key ?? null, plans.veil(element, frame)]
    case 'registration':
      return [purpose, reference.follows === undefined ? null : then(reference.follows)]
    case 'flicker':
      return [purpose, then(frame - 1)]
    case 'grain':
      return [
        ...[purpose, then(besideOf(plans, on, frame))[0]],
        ...[plans.recorded, plans.over].map((made) => made(on, frame, element, 1)?.key ?? null),
      ]
    default:
      return []
  }
}
