/**
 * Remembers what was planned together with everything that was read for it. What reads the same is not planned again, so
 * that dragging one number plans what that number changes and nothing else.
 */

import type { Scale } from '../graph/steps'
import type { Shot } from '../shot'
import type { Files } from './catalog'

export interface PlanContext {
  readonly shot: Shot
  readonly files: Files
}

/** What planning of one picture goes by. */
export interface Planning extends PlanContext {
  readonly scale: Scale
  readonly memo: PlanMemo
}

type Get = (context: PlanContext) => unknown
type Read = readonly [get: Get, value: unknown]

interface Entry {
  /** what was read for it alone, and what it was made of */
  readonly reads: readonly Read[]
  readonly parts: readonly Entry[]
  readonly result: unknown
  /** the round in which it was last compared, and whether it held */
  round: number
  holds: boolean
}

/** What is being planned: what it has read and used so far. */
interface Scope {
  readonly reads: Read[]
  readonly parts: Entry[]
}

/** Alternatives of one name that are kept: the shot as it is, with a try, without a treatment. */
const mostAlternatives = 4
const mostNames = 4000

export class PlanMemo {
  private readonly entries = new Map<string, Entry[]>()
  private readonly scopes: Scope[] = []
  /** Counted up with every other document or files, so that what ten things are made of is compared once. */
  private round = 0
  private seen: PlanContext | null = null

  /** Reads something of the document or the files; it counts for everything that is being planned. */
  read<T>(context: PlanContext, get: (context: PlanContext) => T): T {
    const value = get(context)
    this.scopes.at(-1)?.reads.push([get, value])
    return value
  }

  /** @returns what `make` gave when everything it read was the same */
  remember<T>(context: PlanContext, name: string, make: () => T): T {
    const outer = this.scopes.at(-1)
    const known = this.entries.get(name) ?? []
    const found = known.find((entry) => this.stillHolds(entry, context))
    if (found) {
      outer?.parts.push(found)
      return found.result as T
    }
    const scope: Scope = { reads: [], parts: [] }
    this.scopes.push(scope)
    try {
      const result = make()
      // While it was made another document may have been looked at.
      this.look(context)
      const entry: Entry = { ...scope, result, round: this.round, holds: true }
      this.entries.delete(name)
      this.entries.set(name, [entry, ...known].slice(0, mostAlternatives))
      if (this.entries.size > mostNames) this.entries.delete(this.entries.keys().next().value as string)
      outer?.parts.push(entry)
      return result
    } catch (error) {
      // Whoever goes on without it has read this all the same.
      outer?.reads.push(...scope.reads)
      outer?.parts.push(...scope.parts)
      throw error
    } finally {
      this.scopes.pop()
    }
  }

  private look(context: PlanContext): void {
    if (this.seen?.shot === context.shot && this.seen.files === context.files) return
    this.seen = context
    this.round++
  }

  private stillHolds(entry: Entry, context: PlanContext): boolean {
    this.look(context)
    if (entry.round !== this.round) {
      entry.holds =
        entry.reads.every(([get, value]) => same(get(context), value)) &&
        entry.parts.every((part) => this.stillHolds(part, context))
      entry.round = this.round
    }
    return entry.holds
  }
}

/** Lists are made anew from tables; they are the same when what is in them is. */
function same(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true
  return Array.isArray(a) && Array.isArray(b) && a.length === b.length && a.every((one, i) => Object.is(one, b[i]))
}
