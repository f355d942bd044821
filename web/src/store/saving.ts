/** Saves edits one after the other, as made; waits when the server is away. What cannot be saved stands aside. */

import type { Shot } from '../../../core/shot'
import { loadShot, RefusedError, sendEdit } from '../api/client'
import type { RootState } from './state'
import { shotActions } from './shot-slice'
import { tabName } from './tab'

export interface SavingStore {
  getState(): Pick<RootState, 'shot'>
  dispatch(action: ReturnType<(typeof shotActions)[keyof typeof shotActions]>): unknown
}

const running = new WeakSet<object>()
const retryMs = 1500

/**
 * Sends what is unsaved until nothing is left. Only one runs at a time.
 *
 * @param waitMs before a server that did not answer is asked again
 */
export async function saveUnsaved(store: SavingStore, tab = tabName(), waitMs = retryMs): Promise<void> {
  if (running.has(store)) return
  running.add(store)
  try {
    while (store.getState().shot.unsaved.length > 0) if (!(await saveFirst(store, tab, waitMs))) return
  } finally {
    running.delete(store)
  }
}

/** @returns false when there is nothing to save any more */
async function saveFirst(store: SavingStore, tab: string, waitMs: number): Promise<boolean> {
  const { id: shotId, unsaved, revision } = store.getState().shot
  const [first] = unsaved
  if (shotId === null || !first) return false
  if (store.getState().shot.saving === 'saved') store.dispatch(shotActions.savingChanged('saving'))
  const { id, edit } = first
  const isStillOpen = () => store.getState().shot.id === shotId
  try {
    const saved = await sendEdit(shotId, { id, baseRevision: revision, tab, edit })
    if (isStillOpen()) store.dispatch(shotActions.acknowledged({ id, ...saved }))
  } catch (error) {
    if (!isStillOpen()) return false
    try {
      await settleRefusal(store, shotId, id, error)
    } catch {
      store.dispatch(shotActions.savingChanged('unreachable'))
      await new Promise((resolve) => setTimeout(resolve, waitMs))
    }
  }
  return true
}

/** @throws when the server did not say that it cannot be saved: then it is sent again */
async function settleRefusal(store: SavingStore, shotId: string, id: string, error: unknown): Promise<void> {
  if (!(error instanceof RefusedError) || error.status >= 500) throw error
  const { message: sentence } = error
  if (error.status === 409) {
    const { current } = error.body as { current: { shot: Shot; revision: number } }
    store.dispatch(shotActions.refused({ id, sentence, rival: true, ...current }))
  } else {
    const { shot, revision } = await loadShot(shotId)
    store.dispatch(shotActions.refused({ id, sentence, rival: false, shot, revision }))
  }
}
