/** The steps that make what is shown, and what it is compared with. */

import { createSelector } from '@reduxjs/toolkit'
import type { Scale, Step, Way } from '../../../../core/graph/steps'
import { differenceOf, ghosted } from '../../../../core/look/looking'
import type { Catalog } from '../../../../core/plan/catalog'
import { heldStill } from '../../../../core/plan/held-still'
import { nodeAt } from '../../../../core/plan/node'
import type { FramePlan } from '../../../../core/plan/plan'
import type { Problem } from '../../../../core/plan/problem'
import { outputWay } from '../../../../core/plan/whole'
import type { Pin, Shot } from '../../../../core/shot'
import { derived, planningOf, planOf, withoutUses, withTry } from '../plans'
import type { RootState } from '../state'
import type { Other, Shown } from '../view'
import {
  selectCatalog,
  selectDocument,
  selectElementId,
  selectElementIds,
  selectHeld,
  selectSeenShot,
} from './document'

export const selectFrame = (state: RootState) => state.view.playing.frame

/** The scale at which the picture is made: while something is dragged it may be smaller than the chosen one. */
export const selectScale = (state: RootState): Scale => {
  const { scale, dragging } = state.view.framing
  return state.shot.draft && dragging !== null && dragging > scale ? dragging : scale
}

export const selectPlan = createSelector(
  [selectSeenShot, selectCatalog, selectFrame, selectScale],
  (shot, catalog, frame, scale): FramePlan | null => shot && planOf(shot, frame, scale, catalog),
)

const noProblems: readonly Problem[] = []

/** What is in the way of the picture on the frame that is looked at. */
export const selectProblems = (state: RootState): readonly Problem[] => selectPlan(state)?.problems ?? noProblems

interface Showing {
  readonly shot: Shot
  readonly frame: number
  readonly scale: Scale
  readonly catalog: Catalog
  readonly selected: string | null
  /** every element that is selected */
  readonly chosen: readonly string[]
  readonly view: RootState['view']
  readonly held: Pin | null
}

const untreated = derived((shot, element) => withoutUses(shot, element, null))
const without = derived((shot, element, use) => withoutUses(shot, element, use))
const asTried = derived((shot, id) => withTry(shot, id ?? ''))

/** Shots that are compared with are made only when they are looked at. */
function stepOf(showing: Showing, shown: Exclude<Shown, 'other'>): Step | null {
  const { shot, frame, scale, catalog, selected, chosen, view } = showing
  const { node } = view.looking
  if (shown === 'untreated') return planOf(untreated(shot, selected), frame, scale, catalog).composite
  if (shown === 'node') return node && nodeAt(planningOf(shot, scale, catalog), node, frame)
  if (shown === 'element' && chosen.length > 1)
    return nodeAt(planningOf(shot, scale, catalog), { kind: 'elements', ids: chosen }, frame)
  const plan = planOf(shot, frame, scale, catalog)
  if (shown === 'composite') return plan.composite
  const alone = shown === 'plate' ? plan.plate : plan.elements.get(selected ?? '')
  // By itself it lies where it lies in the whole picture, so that nothing jumps when one looks from one to the other.
  return alone ? (plan.moved?.(alone) ?? alone) : plan.composite
}

/** From a place of what is shown to one of the plate, where the finish moves the whole picture; null: the same. */
export const selectOutput = createSelector(
  [
    selectSeenShot,
    selectCatalog,
    selectFrame,
    (state: RootState) => state.view.looking.shown,
    (state: RootState) => state.view.comparing.other.kind,
  ],
  (shot, catalog, frame, shown, other): Way | null =>
    !shot || !catalog || shown === 'node' || (shown === 'other' && other === 'source')
      ? null
      : outputWay(planningOf(shot, 1, catalog), frame),
)

function otherOf(showing: Showing, other: Other): Step | null {
  const { shot, frame, scale, catalog, selected, held } = showing
  const alike = (one: Shot) => (held ? heldStill(one, held) : one)
  switch (other.kind) {
    case 'frame':
      return stepOf({ ...showing, frame: other.frame }, 'composite')
    case 'without':
      return planOf(without(shot, selected, other.use), frame, scale, catalog).composite
    case 'try':
      return planOf(alike(asTried(shot, other.id)), frame, scale, catalog).composite
    case 'source':
      return nodeAt(planningOf(shot, scale, catalog), { kind: 'source', id: other.id, part: null }, frame)
    case 'revision':
      return planOf(alike(other.shot), frame, scale, catalog).composite
    default:
      return stepOf(showing, other.kind)
  }
}

/** Everything that decides what is shown at a frame. */
function showingAt(state: RootState, frame: number, scale: Scale): Showing | null {
  const shot = selectSeenShot(state)
  if (!shot) return null
  const [selected, chosen] = [selectElementId(state), selectElementIds(state)]
  return {
    shot,
    frame,
    scale,
    catalog: selectCatalog(state),
    selected,
    chosen,
    view: state.view,
    held: selectHeld(state),
  }
}

/** What would fill the picture at a frame and scale, before it is looked at in any special way. */
export function stepShownAt(state: RootState, frame: number, scale: Scale): Step | null {
  const showing = showingAt(state, frame, scale)
  if (!showing) return null
  const { looking, comparing } = state.view
  const plain = looking.shown === 'other' ? otherOf(showing, comparing.other) : stepOf(showing, looking.shown)
  const plate = looking.ghost > 0 ? stepOf(showing, 'plate') : null
  const step = plain && plate ? ghosted(plain, plate, looking.ghost) : plain
  if (comparing.how.way !== 'difference') return step
  const beside = otherOf(showing, comparing.other)
  return step && beside && differenceOf(step, beside, comparing.how.gain)
}

/** Every part of the state that the picture depends on; the pointer and the zoom are not among them. */
const pictureInputs = [
  selectSeenShot,
  selectCatalog,
  selectElementId,
  selectElementIds,
  selectFrame,
  selectScale,
  (state: RootState) => state.view.looking.shown,
  (state: RootState) => state.view.looking.node,
  (state: RootState) => state.view.looking.ghost,
  selectHeld,
  (state: RootState) => state.view.comparing.how,
  (state: RootState) => state.view.comparing.other,
] as const

/** The same result while nothing changes that the picture depends on, and nothing of `extra`. */
export function remembered<T>(make: (state: RootState) => T, extra: readonly ((state: RootState) => unknown)[] = []) {
  let before: readonly unknown[] | null = null
  let made: T
  return (state: RootState): T => {
    const now = [...pictureInputs, ...extra].map((input) => input(state))
    if (!before || now.some((value, i) => value !== before?.[i])) {
      made = make(state)
      before = now
    }
    return made
  }
}

/** The step that fills the picture, before it is looked at in any special way. */
export const selectShownStep = remembered((state) => stepShownAt(state, selectFrame(state), selectScale(state)))

/** What the picture is compared with, at the same frame, scale and place. */
export const selectOtherStep = remembered((state): Step | null => {
  const showing = showingAt(state, selectFrame(state), selectScale(state))
  return showing && otherOf(showing, state.view.comparing.other)
})

/** Scopes look at half scale, or at the picture's where that is smaller. */
export const selectScopePlan = remembered((state): FramePlan | null => {
  const shot = selectSeenShot(state)
  const scale = selectScale(state) === 4 ? 4 : 2
  return shot && planOf(shot, selectFrame(state), scale, selectCatalog(state))
})

/** Size of the picture as it is made. */
export const selectPictureSize = createSelector(
  [selectDocument, selectScale],
  (shot, scale) =>
    shot && { width: Math.ceil(shot.frameSize.width / scale), height: Math.ceil(shot.frameSize.height / scale) },
)
