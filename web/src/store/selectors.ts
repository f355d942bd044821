/** What the screen shows, worked out from the store; memoised. */

import { createSelector } from '@reduxjs/toolkit'
import { fingerprintFrom, type Catalog } from '../../../core/plan/catalog'
import { planFrame, tableStep, type FramePlan } from '../../../core/plan/plan'
import type { FrameStep, Scale, Step } from '../../../core/graph/steps'
import { checkShot, mediaKind, type Finding } from '../../../core/check'
import { applyEdit, type Shot } from '../../../core/shot'
import { workingSpaces } from '../../../core/colour'
import {
  differenceOf,
  inspectionBoard,
  lookAt,
  readAsCodes,
  readAsLight,
  readAsShown,
  type AsRead,
  type BoardPicture,
  type Looked,
  type Looking,
} from '../../../core/look/looking'
import type { RootState } from './state'
import type { Other, Shown, Units } from './view-slice'

export const selectDocument = (state: RootState) => state.shot.shot

/** The document with the gesture under way applied. */
export const selectShownShot = createSelector(
  [selectDocument, (state: RootState) => state.shot.draft],
  (shot, draft): Shot | null => (shot && draft ? applyEdit(shot, draft).shot : shot),
)

export const selectElement = createSelector(
  [selectShownShot, (state: RootState) => state.shot.selected],
  (shot, id) => shot?.elements.find((e) => e.id === id) ?? null,
)

export const selectElementName = (state: RootState) => selectElement(state)?.name ?? null

export const selectSource = createSelector(
  [selectShownShot, (state: RootState) => state.shot.selectedSource],
  (shot, id) => shot?.sources.find((source) => source.id === id) ?? null,
)

/** What the claims check finds in the document as it stands; null until the sources were measured. */
export const selectFindings = createSelector(
  [selectDocument, (state: RootState) => state.shot.reports],
  (shot, reports): Finding[] | null => (shot && reports ? checkShot(shot, reports) : null),
)

const selectCatalog = (state: RootState) => state.shot.catalog

export const selectPlan = createSelector(
  [selectShownShot, selectCatalog, (state: RootState) => state.view.frame, (state: RootState) => state.view.scale],
  (shot, catalog, frame, scale): FramePlan | null => shot && planOf(shot, frame, scale, catalog),
)

/** The shot with treatments of one element left out: all of them, or one. */
function without(shot: Shot, element: string | null, treatment: string | null): Shot {
  const elements = shot.elements.map((e) =>
    e.id === element
      ? { ...e, treatments: e.treatments.filter(({ id }) => treatment !== null && id !== treatment) }
      : e,
  )
  return { ...shot, elements }
}

const selectUntreated = createSelector(
  [selectShownShot, (state: RootState) => state.shot.selected],
  (shot, selected): Shot | null => shot && without(shot, selected, null),
)

/** The shot as the picture is compared with it, where that is another than the one shown. */
const selectOtherShot = createSelector(
  [selectShownShot, (state: RootState) => state.shot.selected, (state: RootState) => state.view.other],
  (shot, selected, other): Shot | null => {
    if (!shot) return null
    if (other.kind === 'without') return without(shot, selected, other.treatment)
    if (other.kind !== 'try') return shot
    const kept = shot.tries?.find(({ id }) => id === other.id)
    return kept ? { ...shot, elements: kept.elements, finish: kept.finish } : shot
  },
)

interface Showing {
  readonly shot: Shot
  readonly untreated: Shot
  readonly otherShot: Shot
  readonly frame: number
  readonly scale: Scale
  readonly catalog: Catalog
  readonly selected: string | null
}

/** Plans are pure, and playing asks for the same ones over and over. */
const plans = new WeakMap<Shot, Map<string, FramePlan>>()

function planOf(shot: Shot, frame: number, scale: Scale, catalog: Catalog): FramePlan {
  let known = plans.get(shot)
  if (!known) plans.set(shot, (known = new Map()))
  const fingerprint = fingerprintFrom(catalog)
  const files = shot.sources.map((source) => fingerprint(source, source.frames ? frame - (source.offset ?? 0) : null))
  const name = `${frame} ${scale} ${files.join()}`
  let plan = known.get(name)
  if (!plan) {
    plan = planFrame(shot, frame, scale, fingerprint)
    known.set(name, plan)
  }
  return plan
}

function stepOf({ shot, untreated, frame, scale, catalog, selected }: Showing, shown: Exclude<Shown, 'other'>): Step {
  if (shown === 'untreated') return planOf(untreated, frame, scale, catalog).composite
  const plan = planOf(shot, frame, scale, catalog)
  if (shown === 'composite') return plan.composite
  return shown === 'plate' ? plan.plate : (plan.elements.get(selected ?? '') ?? plan.composite)
}

function otherOf(showing: Showing, other: Other): Step {
  if (other.kind === 'frame') return stepOf({ ...showing, frame: other.frame }, 'composite')
  if (other.kind === 'try' || other.kind === 'without')
    return planOf(showing.otherShot, showing.frame, showing.scale, showing.catalog).composite
  return stepOf(showing, other.kind)
}

/** Everything that decides what is shown, at the playhead or at another frame. */
function showingAt(state: RootState, frame: number): Showing | null {
  const [shot, untreated, otherShot] = [selectShownShot(state), selectUntreated(state), selectOtherShot(state)]
  if (!shot || !untreated || !otherShot) return null
  return {
    shot,
    untreated,
    otherShot,
    frame,
    scale: state.view.scale,
    catalog: state.shot.catalog,
    selected: state.shot.selected,
  }
}

export const selectLooking = createSelector([(state: RootState) => state.view], (view): Looking => {
  const { exposure, gamma, saturation, crank, channel, screen, marks } = view
  return { exposure, gamma, saturation, crank, channel, screen, marks }
})

function pictureOf(state: RootState, showing: Showing): Step {
  const { shown, comparing, other } = state.view
  const step = shown === 'other' ? otherOf(showing, other) : stepOf(showing, shown)
  return comparing.way === 'difference' ? differenceOf(step, otherOf(showing, other), comparing.gain) : step
}

/** Every part of the state that the picture depends on; the pointer and the zoom are not among them. */
const pictureInputs = [
  selectShownShot,
  selectUntreated,
  selectCatalog,
  selectOtherShot,
  (state: RootState) => state.shot.selected,
  (state: RootState) => state.view.frame,
  (state: RootState) => state.view.scale,
  (state: RootState) => state.view.shown,
  (state: RootState) => state.view.comparing,
  (state: RootState) => state.view.other,
] as const

function remembered<T>(make: (state: RootState) => T, extra: readonly ((state: RootState) => unknown)[] = []) {
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
export const selectShownStep = remembered((state): Step | null => {
  const showing = showingAt(state, state.view.frame)
  return showing && pictureOf(state, showing)
})

/** What the picture is compared with, at the same frame, scale and place. */
export const selectOtherStep = remembered((state): Step | null => {
  const showing = showingAt(state, state.view.frame)
  return showing && otherOf(showing, state.view.other)
})

const workingOf = (state: RootState) => workingSpaces[selectDocument(state)?.workingSpace ?? 'linear-rec709']

/** The table that the picture is seen through; the same object while it is the same. */
const selectViewTable = createSelector(
  [selectDocument, (state: RootState) => state.shot.catalog, (state: RootState) => state.view.table],
  (shot, catalog, id): FrameStep | null => {
    const source = shot?.sources.find((one) => one.id === id)
    return shot && source ? tableStep(shot, source, fingerprintFrom(catalog)) : null
  },
)

const lookedAt = (picture: Step | null, state: RootState): Looked | null =>
  picture && lookAt(picture, selectLookingOnce(state), workingOf(state), selectViewTable(state))

/** The same object while the way of looking is the same, whatever else of the view changes. */
const selectLookingOnce = createSelector(
  [(state: RootState) => JSON.stringify(selectLooking(state))],
  (text): Looking => JSON.parse(text) as Looking,
)

/** How values are read in each of the units; the same while the way of looking is the same. */
const selectReadings = createSelector(
  [selectDocument, selectLookingOnce, selectViewTable],
  (shot, looking, table): Readonly<Record<Units, AsRead>> => {
    const working = workingSpaces[shot?.workingSpace ?? 'linear-rec709']
    const plate = shot?.sources.find(({ id }) => id === shot.elements[0]?.source)
    return {
      light: readAsLight,
      code: plate ? readAsCodes(plate.claims.encoding, plate.claims.primaries, working) : readAsLight,
      view: readAsShown(looking, working, table),
    }
  },
)

export const selectAsRead = (state: RootState, units: Units): AsRead => selectReadings(state)[units]

export const selectLooked = remembered(
  (state) => lookedAt(selectShownStep(state), state),
  [selectLookingOnce, selectViewTable],
)
export const selectOtherLooked = remembered(
  (state) => lookedAt(selectOtherStep(state), state),
  [selectLookingOnce, selectViewTable],
)

/** What would fill the picture at another frame, as it is being looked at now; null where nothing can be planned. */
export function lookedAtFrame(state: RootState, frame: number): Looked | null {
  if (!selectReadyFrames(state).has(frame)) return null
  const showing = showingAt(state, frame)
  return showing && lookedAt(pictureOf(state, showing), state)
}

/** Sources that are colour tables. */
export const selectTables = createSelector([selectDocument], (shot) =>
  (shot?.sources ?? []).filter(({ path }) => mediaKind(path) === 'table'),
)

/** The board's pictures are small. */
export const boardScale = 4

export const selectBoard = remembered(
  (state): BoardPicture[] | null => {
    const showing = showingAt(state, state.view.frame)
    if (!showing) return null
    const picture = pictureOf(state, { ...showing, scale: boardScale })
    return inspectionBoard(picture, selectLookingOnce(state), workingOf(state))
  },
  [selectLookingOnce],
)

/** Scopes look at half scale, or at the picture's where that is smaller. */
export const selectScopePlan = remembered((state): FramePlan | null => {
  const shot = selectShownShot(state)
  const scale = state.view.scale === 4 ? 4 : 2
  return shot && planOf(shot, state.view.frame, scale, state.shot.catalog)
})

/** Size of the picture as it is made. */
export const selectPictureSize = createSelector(
  [selectDocument, (state: RootState) => state.view.scale],
  (shot, scale) =>
    shot && { width: Math.ceil(shot.frameSize.width / scale), height: Math.ceil(shot.frameSize.height / scale) },
)

/** How many frames on either side are made ready while nothing else is wanted. */
const neighbours = 4

/** The frames whose pictures will be wanted next: while playing all that follow, else this one and its neighbours. */
/** The frames that are played, in order, beginning at one. */
export function framesPlayed({ shot: { shot }, view: { frame, playRange, every } }: RootState): number[] {
  if (!shot) return []
  const { first, last } = playRange ?? shot.frames
  const all = Array.from({ length: Math.floor((last - first) / every) + 1 }, (_, i) => first + i * every)
  const next = all.findIndex((n) => n >= frame)
  return next < 0 ? all : [...all.slice(next), ...all.slice(0, next)]
}

export function framesAhead(state: RootState): number[] {
  const {
    shot: { shot },
    view: { frame, playing },
  } = state
  if (!shot) return []
  if (playing) return framesPlayed(state)
  const { first, last } = shot.frames
  const offsets = Array.from({ length: neighbours }, (_, i) => [i + 1, -i - 1]).flat()
  return [0, ...offsets].map((offset) => frame + offset).filter((n) => n >= first && n <= last)
}

/** Frames whose plate exists, for the tally. */
export const selectReadyFrames = createSelector(
  [selectDocument, selectCatalog],
  (shot, catalog): ReadonlySet<number> => {
    const plate = shot?.elements[0].source
    return new Set(Object.keys((plate !== undefined && catalog[plate]) || {}).map(Number))
  },
)
