/** Undo: names an edit, and takes it back only if everything that it wrote still is as it left it. */

import { applyPatches, produceWithPatches, type Draft, type Patch } from 'immer'
import type { Edited, Made } from './edits'
import { checkGroups } from './edits/elements'
import { ImpossibleEditError } from './impossible-edit'
import type { Shot } from './types'

/** @returns what an undo of a change is called, and an undo of that */
export function undoLabel(label: string): string {
  return label.startsWith('Undo: ') ? `Redo: ${label.slice(6)}` : `Undo: ${label.replace(/^Redo: /, '')}`
}

/** @throws ImpossibleEditError when anything that the edit wrote has been changed since, or a rule would be broken */
export function takeBack(shot: Shot, made: Made): Edited {
  const changed = made.patches.find((patch) => !stillHolds(shot, patch))
  if (changed) throw new ImpossibleEditError(`${made.label} cannot be taken back: it has been changed again since.`)
  const label = undoLabel(made.label)
  const [next, patches, inverse] = produceWithPatches(shot, (draft: Draft<Shot>) => {
    applyPatches(draft, [...made.inverse])
    checkGroups(draft)
  })
  return { shot: next, label, patches, inverse }
}

function stillHolds(shot: Shot, { op, path, value }: Patch): boolean {
  let at: unknown = shot
  for (const step of path) {
    if (at === null || typeof at !== 'object' || !Object.hasOwn(at, step))
      return op === 'remove' && step === path.at(-1)
    at = (at as Record<string | number, unknown>)[step]
  }
  return op !== 'remove' && same(at, value)
}

/** Equal as JSON, whatever the order of names. */
function same(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true
  if (a === null || b === null || typeof a !== 'object' || typeof b !== 'object') return false
  const named = (value: object) => Object.entries(value).filter(([, one]) => one !== undefined)
  const [as, bs] = [named(a), named(b)]
  return (
    as.length === bs.length &&
    as.every(([name, one]) => Object.hasOwn(b, name) && same(one, (b as Record<string, unknown>)[name]))
  )
}

/** One tab's edits in the order they were made, as the database has them. */
export interface TabEdit extends Made {
  readonly edit: string
  /** the edit that it takes back, if it is an undo */
  readonly undoes: string | null
}

/** What a tab can take back at most, in edits. */
export const mostUndo = 500

/** What a tab can undo and redo after a reload: the newest last of the past, first of the future. */
export function undoStacks(edits: readonly TabEdit[]): { readonly past: TabEdit[]; readonly future: TabEdit[] } {
  let past: TabEdit[] = []
  let future: TabEdit[] = []
  for (const edit of edits) {
    if (edit.undoes === null) {
      past.push(edit)
      future = []
    } else if (future.some((one) => one.edit === edit.undoes)) {
      // A redo stands where the edit stood before it was undone.
      future = future.filter((one) => one.edit !== edit.undoes)
      past.push(edit)
    } else {
      past = past.filter((one) => one.edit !== edit.undoes)
      future.unshift(edit)
    }
  }
  return { past, future }
}
