/** How a piece of long work stands, as the server tells it and the screen shows it. */

export const workKinds = [
  'delivery',
  'movie',
  'claims',
  'demo-shot',
  'computed',
  'readings',
  'checks',
  'match',
  'made-source',
  'tracking',
] as const
export type WorkKindName = (typeof workKinds)[number]

/** What a worker takes unless it is told otherwise: tracking is done where it is watched. */
export const usualWorkKinds: readonly WorkKindName[] = workKinds.filter((kind) => kind !== 'tracking')

/** `waiting`: nobody has begun it yet; `running`: some of it is done or under way. */
export type WorkState = 'waiting' | 'running' | 'done' | 'failed' | 'cancelled'

export interface WorkStatus {
  readonly id: string
  readonly kind: WorkKindName
  /** what is being made, in words */
  readonly title: string
  /** null for what belongs to no shot */
  readonly shotId: string | null
  readonly author: string | null
  readonly state: WorkState
  readonly done: number
  readonly total: number
  /** 0 to 1, shares of items that are under way included */
  readonly progress: number
  /** items that were given up, and why; at most a hundred of them */
  readonly failed: readonly { readonly item: number; readonly sentence: string }[]
  /** why an item is not going on at present (a full disk, say), or null */
  readonly heldUp: string | null
  /** made for another build of the program: it goes on only when it is retried with this one */
  readonly otherBuild: boolean
  /** ISO 8601 */
  readonly createdAt: string
  readonly startedAt: string | null
  readonly finishedAt: string | null
}

export const isOver = ({ state }: Pick<WorkStatus, 'state'>): boolean => state !== 'waiting' && state !== 'running'

/** Measuring that is over has its result on the sources' cards; in a list of work it would only hide the rest. */
export const isListed = ({ kind, state }: Pick<WorkStatus, 'kind' | 'state'>): boolean =>
  kind !== 'claims' || (state !== 'done' && state !== 'cancelled')
