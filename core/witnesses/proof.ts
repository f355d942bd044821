/** The proof of a shot: all witnesses and checks over its frames, with the worst of each, and what is wanting. */

import { judged, type Verdict } from '../match'
import { allOf, inOrder, type Shot } from '../shot'
import { checkRows } from './check-rows'
import type { FrameFacts } from './frame-facts'
import { toBeMatched } from './matching'
import { countsOn, type WitnessReading } from './read-witness'
import { readingsOverFrames } from './readings-over-frames'

export interface ProofRow {
  readonly name: string
  readonly kind: 'witness' | 'check'
  /** null: of the whole picture */
  readonly element: string | null
  readonly frames: number
  readonly drifts: readonly number[]
  readonly notJudged: readonly number[]
  /** the frame that is farthest off, and what was found there */
  readonly worst: { readonly frame: number; readonly says: string } | null
}

export interface ProofNote {
  readonly frame: number
  readonly text: string
  /** lines drawn on the frame: x and y of their points by turns, in its pixels; absent where nothing is drawn */
  readonly drawing?: readonly (readonly number[])[]
}

export interface Proof {
  readonly shot: string
  readonly revision: number | null
  readonly first: number
  readonly last: number
  readonly outcome: Verdict
  readonly rows: readonly ProofRow[]
  /** why it is not judged: what no witness says anything of */
  readonly wanting: readonly string[]
  /** notes that lie on frames */
  readonly notes: readonly ProofNote[]
}

const notRead: WitnessReading = { reference: null, adjusted: null, why: 'it was not read' }

/** What every element on the plate needs a witness for, on every frame. */
const needed = ['black', 'mid', 'sharpness'] as const

/** What was read of a frame: by witness, and of the whole. */
export interface FrameRead {
  readonly witnesses: Readonly<Record<string, WitnessReading>>
  readonly facts: FrameFacts
}

export function proofOf(shot: Shot, frames: ReadonlyMap<number, FrameRead>, revision: number | null = null): Proof {
  const { first, last } = shot.frames
  const numbers = Array.from({ length: last - first + 1 }, (_, i) => first + i)
  const witnesses = inOrder(shot.witnesses).map((witness) => {
    const counting = numbers.filter((frame) => countsOn(shot, witness, frame))
    const read = counting.flatMap((frame) => {
      const one = frames.get(frame)?.witnesses[witness.id]
      return one ? [[frame, one] as const] : []
    })
    const averaged = readingsOverFrames(witness, new Map(read))
    const cells = counting.map((frame) => {
      const read = averaged.get(frame) ?? notRead
      const { verdict, drift, why } = judged(witness, read)
      const off = Math.max(...drift.map(Math.abs))
      return { frame, verdict, off, says: why ?? `off by ${off.toFixed(4)}` }
    })
    return { witness, cells }
  })
  const checks = checkRows(shot, new Map([...frames].map(([frame, { facts }]) => [frame, facts])))
  const rows = [
    ...witnesses.map(({ witness, cells }) => rowOf({ ...witness, kind: 'witness' }, cells)),
    ...checks.map(({ name, element, cells }) => rowOf({ name, element, kind: 'check' }, cells)),
  ]
  const wanting = toBeMatched(shot).flatMap((element) =>
    needed.flatMap((purpose) => {
      const own = witnesses.filter(({ witness: one }) => one.element === element.id && one.purpose === purpose)
      const bare = numbers.filter(
        (frame) =>
          !own.some(({ cells }) => cells.some((cell) => cell.frame === frame && cell.verdict !== 'not judged')),
      )
      return bare.length === 0 ? [] : [`${element.name}: no witness for ${purpose} is judged on ${rangeText(bare)}.`]
    }),
  )
  const drifts = rows.some((row) => row.drifts.length > 0)
  const open = wanting.length > 0 || rows.some((row) => row.notJudged.length > 0) || frames.size < numbers.length
  return {
    ...{ shot: shot.name, revision, first, last },
    outcome: drifts ? 'drifts' : open ? 'not judged' : 'agrees',
    ...{ rows, wanting },
    notes: allOf(shot.markers)
      .filter(({ frame }) => frame >= first && frame <= last)
      .sort((a, b) => a.frame - b.frame)
      .map(({ frame, name, strokes }): ProofNote => ({
        ...{ frame, text: name },
        ...(strokes ? { drawing: allOf(strokes).map(({ points }) => points) } : {}),
      })),
  }
}

interface Cell {
  readonly frame: number
  readonly verdict: Verdict
  readonly says: string
  readonly off?: number
}

function rowOf(of: Pick<ProofRow, 'name' | 'kind' | 'element'>, cells: readonly Cell[]): ProofRow {
  const on = (verdict: Verdict) => cells.filter((cell) => cell.verdict === verdict).map(({ frame }) => frame)
  const rank: Readonly<Record<Verdict, number>> = { drifts: 2, 'not judged': 1, agrees: 0 }
  const worse = (a: Cell, b: Cell) =>
    rank[b.verdict] !== rank[a.verdict]
      ? rank[b.verdict] > rank[a.verdict]
      : Math.abs(b.off ?? 0) > Math.abs(a.off ?? 0)
  const worst = cells.reduce<Cell | null>((a, b) => (a === null || worse(a, b) ? b : a), null)
  const { name, kind, element } = of
  return {
    ...{ name, kind, element, frames: cells.length },
    ...{ drifts: on('drifts'), notJudged: on('not judged') },
    worst: worst && { frame: worst.frame, says: worst.says },
  }
}

/** "1001 to 1004, 1009" */
export function rangeText(frames: readonly number[]): string {
  const runs: [number, number][] = []
  for (const frame of frames) {
    const run = runs.at(-1)
    if (run && run[1] === frame - 1) run[1] = frame
    else runs.push([frame, frame])
  }
  return runs.map(([a, b]) => (a === b ? String(a) : `${a} to ${b}`)).join(', ')
}
