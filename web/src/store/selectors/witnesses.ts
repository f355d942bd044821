/** Witnesses, what they read now, and whether they agree. */

import { createSelector } from '@reduxjs/toolkit'
import {
  driftUnits,
  judged,
  type DriftUnits,
  type Judged,
  type SideReading,
  type Verdict,
} from '../../../../core/match'
import {
  checkRows,
  countsOn,
  readingsOverFrames,
  type FrameFacts,
  type KeptReading,
  type ShotReadings,
} from '../../../../core/witnesses'
import { find, inOrder, type Shot, type Witness } from '../../../../core/shot'
import { serverCache } from '../../api/server-cache'
import type { ReadingNow } from '../readings'
import type { RootState } from '../state'
import { selectDocument, selectShownShot } from './document'

const none: readonly Witness[] = []

export const selectWitnesses = createSelector(
  [(state: RootState) => selectShownShot(state)?.witnesses],
  (witnesses): readonly Witness[] => (witnesses ? inOrder(witnesses) : none),
)

export const selectWitness = createSelector(
  [(state: RootState) => selectShownShot(state)?.witnesses, (state: RootState) => state.shot.selection.primary],
  (witnesses, primary) => (witnesses && primary?.kind === 'witness' ? find(witnesses, primary.id) : undefined) ?? null,
)

const noFrames = { done: 0, total: 0 }
const nothingRead: ShotReadings = { progress: { witnesses: noFrames, checks: noFrames }, frames: {}, facts: {} }

/** What was read of all frames, by whoever asked. */
export const selectShotReadings = (state: RootState): ShotReadings =>
  (state.shot.id === null ? undefined : serverCache.endpoints.readings.select(state.shot.id)(state).data) ?? nothingRead

/** Of a witness, on frames on which it counts. */
function keptOf(
  shot: Shot,
  witness: Witness,
  frames: ShotReadings['frames'],
  counts: (frame: number, read: KeptReading) => boolean = () => true,
): ReadonlyMap<number, KeptReading> {
  const kept = new Map<number, KeptReading>()
  for (const [name, read] of Object.entries(frames)) {
    const [frame, one] = [Number(name), read[witness.id]]
    if (one && countsOn(shot, witness, frame) && counts(frame, one)) kept.set(frame, one)
  }
  return kept
}

/** By witness, then by frame: read of the document as it is, the plate's side averaged over the frames. */
const selectFreshReadings = createSelector(
  [selectDocument, selectWitnesses, selectShotReadings, (state: RootState) => state.readings.keys],
  (shot, witnesses, { frames }, keys): ReadonlyMap<string, ReadonlyMap<number, KeptReading>> =>
    new Map(
      witnesses.map((witness) => {
        const isFresh = (frame: number, { key }: KeptReading) => keys[frame]?.[witness.id] === key
        const fresh = shot ? keptOf(shot, witness, frames, isFresh) : new Map<number, KeptReading>()
        return [witness.id, readingsOverFrames(witness, fresh)]
      }),
    ),
)

/** By witness, then by frame: the plate's side as it was read, and averaged; while an element is changed they stay the same. */
const selectKeptReferences = createSelector(
  [selectDocument, selectWitnesses, selectShotReadings],
  (shot, witnesses, { frames }) =>
    new Map(
      witnesses.map((witness) => {
        const kept = shot ? keptOf(shot, witness, frames) : new Map<number, KeptReading>()
        return [witness.id, { kept, averaged: readingsOverFrames(witness, kept) }] as const
      }),
    ),
)

/** As a share: what differs by less was read of the same pixels. */
const samePixels = 1e-6

/** In all that may be compared: what is left in a shadow goes by the veil as well, which is no part of its light. */
function isSame(a: SideReading, b: SideReading): boolean {
  const numbers = ({ light, edge, shadow, grain }: SideReading) => [
    ...light,
    ...[edge?.sigma ?? -1, ...(shadow?.ratio ?? [-1, -1, -1]), ...(grain?.sigma ?? [-1, -1, -1])],
  ]
  const others = numbers(b)
  return numbers(a).every((value, i) => Math.abs(value - others[i]) <= samePixels * Math.abs(value))
}

/** By witness: what it reads on the frame that is looked at, the plate's side as all frames tell it, as long as it is the one they were read of. */
export const selectReadingsNow = createSelector(
  [
    selectWitnesses,
    (state: RootState) => state.readings.now,
    (state: RootState) => state.view.playing.frame,
    selectKeptReferences,
  ],
  (witnesses, readings, frame, references): ReadonlyMap<string, ReadingNow> =>
    new Map(
      witnesses.flatMap(({ id }) => {
        const read = readings[id]
        if (read?.frame !== frame) return []
        const then = references.get(id)?.kept.get(frame)?.reference
        const averaged = references.get(id)?.averaged.get(frame)?.reference
        const same = read.reference && then && averaged && isSame(read.reference, then)
        return [[id, same ? { ...read, reference: averaged } : read] as const]
      }),
    ),
)

/** By id; of those that were read on the frame that is looked at. */
export const selectVerdicts = createSelector(
  [selectWitnesses, selectReadingsNow],
  (witnesses, readings): ReadonlyMap<string, Judged> =>
    new Map(
      witnesses.flatMap((witness) => {
        const read = readings.get(witness.id)
        return read ? [[witness.id, judged(witness, read)] as const] : []
      }),
    ),
)

/** The drift of the selected witness on the frame that is looked at, in other units; null where a side was not read. */
export const selectDriftUnits = createSelector(
  [selectWitness, selectReadingsNow, selectShownShot],
  (witness, readings, shot): DriftUnits | null => {
    const read = witness ? readings.get(witness.id) : undefined
    if (!shot || !read?.reference || !read.adjusted) return null
    return driftUnits(read.reference, read.adjusted, shot.workingSpace)
  },
)

export interface VerdictCell {
  readonly frame: number
  /** `stale`: what was read is of before the last change, or nothing was read */
  readonly is: Verdict | 'stale'
  /** what was found, where that can be said in words */
  readonly says?: string
}

/** A witness, or a check, over the frames. */
export interface VerdictRow {
  readonly id: string
  /** what a click selects; null where there is nothing to select */
  readonly selects: { readonly kind: 'witness' | 'element'; readonly id: string } | null
  readonly name: string
  readonly cells: readonly VerdictCell[]
  /** frames on which it drifts, and the one on which it drifts most */
  readonly drifts: number
  readonly worst: number | null
  /** frames of which there is no reading, or an old one */
  readonly wanting: number
}

/** What a witness drifts by on a frame, of the document as it is. */
export interface DriftOnFrame {
  readonly frame: number
  readonly judged: Judged
}

/** Of the selected witness, by frame; frames that are not read, or were before the last change, are left out. */
export const selectDriftOverFrames = createSelector(
  [selectWitness, selectFreshReadings],
  (witness, fresh): readonly DriftOnFrame[] =>
    witness
      ? [...(fresh.get(witness.id) ?? [])].map(([frame, read]) => ({ frame, judged: judged(witness, read) }))
      : [],
)

export const selectVerdictRows = createSelector(
  [selectDocument, selectWitnesses, selectFreshReadings],
  (shot, witnesses, fresh): readonly VerdictRow[] => {
    if (!shot) return []
    const { first, last } = shot.frames
    const numbers = Array.from({ length: last - first + 1 }, (_, i) => first + i)
    return witnesses.map((witness) => {
      let [drifts, most, worst, wanting] = [0, 0, null as number | null, 0]
      const counting = numbers.filter((frame) => countsOn(shot, witness, frame))
      const cells = counting.map((frame): VerdictCell => {
        const read = fresh.get(witness.id)?.get(frame)
        if (!read) {
          wanting++
          return { frame, is: 'stale' }
        }
        const { verdict, drift } = judged(witness, read)
        const far = Math.max(...drift.map(Math.abs))
        if (verdict === 'drifts') {
          drifts++
          if (far > most) [most, worst] = [far, frame]
        }
        return { frame, is: verdict }
      })
      const selects = { kind: 'witness', id: witness.id } as const
      return { ...{ id: witness.id, selects, name: witness.name }, cells, drifts, worst, wanting }
    })
  },
)

/** What the checks measured of the document as it is. */
const selectFacts = createSelector(
  [selectDocument, selectShotReadings, (state: RootState) => state.readings.factKeys],
  (shot, { facts }, keys): ReadonlyMap<number, FrameFacts> => {
    const fresh = new Map<number, FrameFacts>()
    if (!shot) return fresh
    for (let frame = shot.frames.first; frame <= shot.frames.last; frame++) {
      const one = facts[frame]
      if (one && keys[frame] === one.key) fresh.set(frame, one)
    }
    return fresh
  },
)

/** Frames that the checks have not measured as the document is. */
export const selectUnchecked = createSelector([selectDocument, selectFacts], (shot, facts) =>
  shot ? shot.frames.last - shot.frames.first + 1 - facts.size : 0,
)

/** Those of which something stands out, and those that have something of their own to say. */
export const selectCheckRows = createSelector([selectDocument, selectFacts], (shot, facts): readonly VerdictRow[] => {
  if (!shot || facts.size === 0) return []
  return checkRows(shot, facts).map(({ check, element, name, cells }): VerdictRow => {
    const drifting = cells.filter(({ verdict }) => verdict === 'drifts')
    const farthest = drifting.reduce<(typeof cells)[number] | null>(
      (a, b) => (a === null || Math.abs(b.off ?? 0) > Math.abs(a.off ?? 0) ? b : a),
      null,
    )
    return {
      ...{ id: `${check} ${element ?? ''}`, name, wanting: 0 },
      selects: element === null ? null : { kind: 'element', id: element },
      cells: cells.map(({ frame, verdict, says }) => ({ frame, is: verdict, says })),
      ...{ drifts: drifting.length, worst: farthest?.frame ?? null },
    }
  })
})

/** What witnesses and checks say of an element on all frames. */
export interface ElementVerdict {
  readonly verdict: Verdict
  /** of what drifts or is not judged: which, and on how many frames; of what agrees: everything */
  readonly says: string
}

/** By element; those of which not every frame is read, and nothing drifts, have none. */
export const selectElementVerdicts = createSelector(
  [selectWitnesses, selectVerdictRows, selectCheckRows, selectUnchecked],
  (witnesses, witnessRows, checks, unchecked): ReadonlyMap<string, ElementVerdict> => {
    const rows = new Map<string, VerdictRow[]>()
    const add = (element: string, row: VerdictRow) => rows.set(element, [...(rows.get(element) ?? []), row])
    for (const row of witnessRows) {
      const element = witnesses.find(({ id }) => id === row.id)?.element
      if (element !== undefined) add(element, row)
    }
    for (const row of checks) if (row.selects) add(row.selects.id, row)
    const found = new Map<string, ElementVerdict>()
    for (const [element, own] of rows) {
      const drifting = own.filter(({ drifts }) => drifts > 0)
      const open = own.filter(({ cells }) => cells.some(({ is }) => is === 'not judged'))
      const frames = (count: number) => `${count} ${count === 1 ? 'frame' : 'frames'}`
      if (drifting.length > 0)
        found.set(element, {
          verdict: 'drifts',
          says: `Drifts: ${drifting.map(({ name, drifts }) => `${name} on ${frames(drifts)}`).join(', ')}`,
        })
      else if (unchecked > 0 || own.some(({ wanting }) => wanting > 0)) continue
      else if (open.length > 0)
        found.set(element, {
          verdict: 'not judged',
          says: `Not judged on every frame: ${open.map(({ name }) => name).join(', ')}`,
        })
      else found.set(element, { verdict: 'agrees', says: 'Its witnesses and checks agree on every frame' })
    }
    return found
  },
)
