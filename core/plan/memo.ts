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
  readonly reads: readonly Read[]
  readonly result: unknown
}

/** Alternatives of one name that are kept: the shot as it is, with a try, without a treatment. */
const mostAlternatives = 4
const mostNames = 4000

export class PlanMemo {
  private readonly entries = new Map<string, Entry[]>()
  private scopes: Read[][] = []

  /** Reads something of the document or the files; it counts for everything that is being planned. */
  read<T>(context: PlanContext, get: (context: PlanContext) => T): T {
    const value = get(context)
    for (const scope of this.scopes) scope.push([get, value])
    return value
  }

  /** @returns what `make` gave when everything it read was the same */
  remember<T>(context: PlanContext, name: string, make: () => T): T {
    const known = this.entries.get(name) ?? []
    const found = known.find(({ reads }) => reads.every(([get, value]) => same(get(context), value)))
    if (found) {
      for (const scope of this.scopes) scope.push(...found.reads)
      return found.result as T
    }
    const scope: Read[] = []
    this.scopes.push(scope)
    try {
      const result = make()
      this.entries.delete(name)
      this.entries.set(name, [{ reads: scope, result }, ...known].slice(0, mostAlternatives))
      if (this.entries.size > mostNames) this.entries.delete(this.entries.keys().next().value as string)
      return result
    } finally {
      this.scopes = this.scopes.filter((one) => one !== scope)
    }
  }
}

/** Lists are made anew from tables; they are the same when what is in them is. */
function same(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true
  return Array.isArray(a) && Array.isArray(b) && a.length === b.length && a.every((one, i) => Object.is(one, b[i]))
}
