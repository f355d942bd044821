/** A kind of long work: a function of its input and an item's number, run in the server or in a worker of its own. */

import type { WorkKindName } from '../../core/work'

export interface ItemContext {
  /** aborted when the work is called off, or when the item was given to somebody else */
  readonly signal: AbortSignal
  /** tells this attempt's unfinished files from those of another */
  readonly attempt: string
  /** whether an earlier attempt may have left something behind */
  readonly again: boolean
  /** 0 to 1 */
  progress(share: number): void
}

export interface WorkKind<Input, Result> {
  readonly kind: WorkKindName
  /**
   * Makes one item. Run again it must give the same, whatever an earlier attempt left behind.
   *
   * @returns what is kept of it in the database
   */
  run(input: Input, item: number, context: ItemContext): Promise<Result>
}

/** Kinds as a worker holds them: their inputs come from the database. */
export type AnyWorkKind = WorkKind<unknown, unknown>

/** Nothing is wrong with the item, only with the place at present: it waits and is tried again. */
export class HeldUpError extends Error {
  override readonly name = 'HeldUpError'
  /** @param seconds until it is tried again */
  constructor(
    message: string,
    readonly seconds: number,
  ) {
    super(message)
  }
}
