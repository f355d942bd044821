/** Plans of the shot's pictures, remembered: a drag plans only what it changes, and what nobody looks at is not planned. */

import type { Scale } from '../../../core/graph/steps'
import { filesIn, type Catalog, type Files } from '../../../core/plan/catalog'
import { PlanMemo, type Planning } from '../../../core/plan/memo'
import { planFrame, planInPlate, type FramePlan } from '../../../core/plan/plan'
import { find, type Shot } from '../../../core/shot'

/** One for the page: plans of the shot, of its tries and of it without something have most of their elements in common. */
const memo = new PlanMemo()

const plans = new WeakMap<Shot, WeakMap<Catalog, Map<string, FramePlan>>>()
const filesOf = new WeakMap<Catalog, Files>()

function files(catalog: Catalog): Files {
  let found = filesOf.get(catalog)
  if (!found) filesOf.set(catalog, (found = filesIn(catalog)))
  return found
}

/** Plans are pure, and playing asks for the same ones over and over. */
export function planOf(shot: Shot, frame: number, scale: Scale, catalog: Catalog): FramePlan {
  let ofShot = plans.get(shot)
  if (!ofShot) plans.set(shot, (ofShot = new WeakMap()))
  let known = ofShot.get(catalog)
  if (!known) ofShot.set(catalog, (known = new Map()))
  const name = `${frame} ${scale}`
  let plan = known.get(name)
  if (!plan) known.set(name, (plan = planFrame(shot, frame, scale, files(catalog), memo)))
  return plan
}

/** Of many frames in passing, for what is read of them: nothing of them is kept when `memo` is let go. */
export const passingPlan = (shot: Shot, frame: number, scale: Scale, catalog: Catalog, memo: PlanMemo): FramePlan =>
  planInPlate(shot, frame, scale, files(catalog), memo)

/** The same for something else than the whole picture. */
export const passingPlanning = (shot: Shot, scale: Scale, catalog: Catalog): Planning => ({
  shot,
  scale,
  files: files(catalog),
  memo: new PlanMemo(),
})

export const planningOf = (shot: Shot, scale: Scale, catalog: Catalog): Planning => ({
  shot,
  scale,
  files: files(catalog),
  memo,
})

const usesLeft = new WeakMap<Shot['uses'], Map<string, Shot['uses']>>()

/** The shot without all that is used on an element, or without one use, wherever that acts. */
export function withoutUses(shot: Shot, element: string | null, use: string | null): Shot {
  // A drag makes a new shot at every movement, but leaves its uses as they are.
  let known = usesLeft.get(shot.uses)
  if (!known) usesLeft.set(shot.uses, (known = new Map()))
  const name = JSON.stringify([element, use])
  let uses = known.get(name)
  if (!uses) {
    const left = Object.entries(shot.uses.byId).filter(([id, { owner }]) =>
      use !== null ? id !== use : owner.kind !== 'element' || owner.id !== element,
    )
    known.set(name, (uses = { byId: Object.fromEntries(left) }))
  }
  return { ...shot, uses }
}

const unparked = new WeakMap<Shot['uses'], Map<string, Shot['uses']>>()

/** The shot without some uses. */
export function withoutParked(shot: Shot, parked: readonly string[]): Shot {
  // A drag makes a new shot at every movement, but leaves its uses as they are.
  let known = unparked.get(shot.uses)
  if (!known) unparked.set(shot.uses, (known = new Map()))
  const name = parked.join(' ')
  let uses = known.get(name)
  if (!uses) {
    const left = Object.entries(shot.uses.byId).filter(([id]) => !parked.includes(id))
    known.set(name, (uses = { byId: Object.fromEntries(left) }))
  }
  return { ...shot, uses }
}

/** The shot as a try keeps it. */
export function withTry(shot: Shot, id: string): Shot {
  const kept = find(shot.tries, id)
  if (!kept) return shot
  const { plate, elements, treatments, uses } = kept
  return { ...shot, plate, elements, treatments, uses }
}

/** Derived documents are made once for each document they come from. */
export function derived(make: (shot: Shot, ...about: (string | null)[]) => Shot) {
  let before: { readonly shot: Shot; readonly about: string; readonly made: Shot } | null = null
  return (shot: Shot, ...about: (string | null)[]): Shot => {
    const name = JSON.stringify(about)
    if (before?.shot !== shot || before.about !== name) before = { shot, about: name, made: make(shot, ...about) }
    return before.made
  }
}
