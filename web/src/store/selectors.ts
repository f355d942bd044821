/** What the screen shows, worked out from the store; memoised. */

import { createSelector } from '@reduxjs/toolkit'
import { filesIn, type Catalog } from '../../../core/plan/catalog'
import { nodeAt } from '../../../core/plan/node'
import type { FramePlan } from '../../../core/plan/plan'
import type { Problem } from '../../../core/plan/problem'
import { tableStep } from '../../../core/plan/source'
import type { FrameStep, Scale, Step } from '../../../core/graph/steps'
import { checkShot, mediaKind, type Finding, type SourceReport } from '../../../core/check'
import {
  applyEdit,
  find,
  plateSource,
  sourcesByName,
  type DeliveryStatus,
  type Shot,
  type Source,
} from '../../../core/shot'
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
import { serverCache } from '../api/server-cache'
import { derived, planningOf, planOf, withoutUses, withTry } from './plans'
import type { RootState } from './state'
import type { Other, Shown, Units } from './view-slice'

export const selectDocument = (state: RootState) => state.shot.shot

/** The document with the gesture under way applied; as it is where the gesture has become impossible. */
export const selectShownShot = createSelector(
  [selectDocument, (state: RootState) => state.shot.draft],
  (shot, draft): Shot | null => {
    if (!shot || !draft) return shot
    try {
      return applyEdit(shot, draft).shot
    } catch {
      return shot
    }
  },
)

/** The element that is selected; while a source's card is open, the one that was selected before. */
export const selectElementId = (state: RootState): string | null => {
  const { primary, also } = state.shot.selection
  return [...(primary ? [primary] : []), ...also].find(({ kind }) => kind === 'element')?.id ?? null
}

export const selectSourceId = (state: RootState): string | null => {
  const { primary } = state.shot.selection
  return primary?.kind === 'source' ? primary.id : null
}

export const selectElement = createSelector(
  [selectShownShot, selectElementId],
  (shot, id) => (shot && id !== null ? find(shot.elements, id) : undefined) ?? null,
)

export const selectElementName = (state: RootState) => selectElement(state)?.name ?? null

export const selectSource = createSelector(
  [selectShownShot, selectSourceId],
  (shot, id) => (shot && id !== null ? find(shot.sources, id) : undefined) ?? null,
)

const noSources: readonly Source[] = []

/** In the order in which they came. */
export const selectSources = createSelector([(state: RootState) => selectDocument(state)?.sources], (sources) =>
  sources ? sourcesByName({ sources }) : noSources,
)

/** What was measured of the sources; null until it is asked for. */
export const selectReports = (state: RootState): readonly SourceReport[] | null =>
  (state.shot.id === null ? undefined : serverCache.endpoints.reports.select(state.shot.id)(state).data) ?? null

const noDeliveries: readonly DeliveryStatus[] = []

/** Newest first. */
export const selectDeliveries = (state: RootState): readonly DeliveryStatus[] =>
  (state.shot.id === null ? undefined : serverCache.endpoints.deliveries.select(state.shot.id)(state).data) ??
  noDeliveries

/** What the claims check finds in the document as it stands; null until the sources were measured. */
export const selectFindings = createSelector([selectDocument, selectReports], (shot, reports): Finding[] | null =>
  shot && reports ? checkShot(shot, reports) : null,
)

const selectCatalog = (state: RootState) => state.shot.catalog

export const selectPlan = createSelector(
  [selectShownShot, selectCatalog, (state: RootState) => state.view.frame, (state: RootState) => state.view.scale],
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
  readonly view: RootState['view']
}

const untreated = derived((shot, element) => withoutUses(shot, element, null))
const without = derived((shot, element, use) => withoutUses(shot, element, use))
const asTried = derived((shot, id) => withTry(shot, id ?? ''))

/** Shots that are compared with are made only when they are looked at. */
function stepOf(showing: Showing, shown: Exclude<Shown, 'other'>): Step | null {
  const { shot, frame, scale, catalog, selected, view } = showing
  if (shown === 'untreated') return planOf(untreated(shot, selected), frame, scale, catalog).composite
  if (shown === 'node') return view.node && nodeAt(planningOf(shot, scale, catalog), view.node, frame)
  const plan = planOf(shot, frame, scale, catalog)
  if (shown === 'composite') return plan.composite
  return shown === 'plate' ? plan.plate : (plan.elements.get(selected ?? '') ?? plan.composite)
}

function otherOf(showing: Showing, other: Other): Step | null {
  const { shot, frame, scale, catalog, selected } = showing
  switch (other.kind) {
    case 'frame':
      return stepOf({ ...showing, frame: other.frame }, 'composite')
    case 'without':
      return planOf(without(shot, selected, other.use), frame, scale, catalog).composite
    case 'try':
      return planOf(asTried(shot, other.id), frame, scale, catalog).composite
    default:
      return stepOf(showing, other.kind)
  }
}

/** Everything that decides what is shown, at the playhead or at another frame. */
function showingAt(state: RootState, frame: number): Showing | null {
  const shot = selectShownShot(state)
  if (!shot) return null
  const { scale } = state.view
  return { shot, frame, scale, catalog: state.shot.catalog, selected: selectElementId(state), view: state.view }
}

export const selectLooking = createSelector([(state: RootState) => state.view], (view): Looking => {
  const { exposure, gamma, saturation, crank, channel, screen, marks } = view
  return { exposure, gamma, saturation, crank, channel, screen, marks }
})

function pictureOf(showing: Showing): Step | null {
  const { shown, comparing, other } = showing.view
  const step = shown === 'other' ? otherOf(showing, other) : stepOf(showing, shown)
  if (comparing.way !== 'difference') return step
  const beside = otherOf(showing, other)
  return step && beside && differenceOf(step, beside, comparing.gain)
}

/** Every part of the state that the picture depends on; the pointer and the zoom are not among them. */
const pictureInputs = [
  selectShownShot,
  selectCatalog,
  selectElementId,
  (state: RootState) => state.view.frame,
  (state: RootState) => state.view.scale,
  (state: RootState) => state.view.shown,
  (state: RootState) => state.view.node,
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
  return showing && pictureOf(showing)
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
    const source = shot && id !== null ? find(shot.sources, id) : undefined
    return shot && source ? tableStep(shot, source, filesIn(catalog)) : null
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
    const plate = shot && plateSource(shot)
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
  return showing && lookedAt(pictureOf(showing), state)
}

/** Sources that are colour tables. */
export const selectTables = createSelector([selectSources], (sources) =>
  sources.filter(({ path }) => mediaKind(path) === 'table'),
)

/** The board's pictures are small. */
export const boardScale = 4

export const selectBoard = remembered(
  (state): BoardPicture[] | null => {
    const showing = showingAt(state, state.view.frame)
    if (!showing) return null
    const picture = pictureOf({ ...showing, scale: boardScale })
    return picture && inspectionBoard(picture, selectLookingOnce(state), workingOf(state))
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

/** The frames that are played, in order, beginning at one. */
export function framesPlayed({ shot: { shot }, view: { frame, playRange, every } }: RootState): number[] {
  if (!shot) return []
  const { first, last } = playRange ?? shot.frames
  const all = Array.from({ length: Math.floor((last - first) / every) + 1 }, (_, i) => first + i * every)
  const next = all.findIndex((n) => n >= frame)
  return next < 0 ? all : [...all.slice(next), ...all.slice(0, next)]
}

/** The frames whose pictures will be wanted next: while playing all that follow, else this one and its neighbours. */
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
  [(state: RootState) => plateOf(state), selectCatalog],
  (plate, catalog): ReadonlySet<number> => {
    const files = plate && Object.hasOwn(catalog, plate.id) ? catalog[plate.id] : {}
    const offset = plate?.offset ?? 0
    return new Set(Object.keys(files).map((number) => Number(number) + offset))
  },
)

const plateOf = createSelector([selectDocument], (shot) => shot && (plateSource(shot) ?? null))
