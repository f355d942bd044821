/** Saves edits one after the other, as made; waits when the server is away, and hands conflicts to the artist. */

import type { Shot } from '../../../core/shot'
import { loadShot, RefusedError, sendEdit } from '../api/client'
import type { RootState } from './state'
import { shotActions } from './shot-slice'

/** Names this tab to the server, so that it can tell its edits from other tabs'. */
export const tabName = crypto.randomUUID()

interface Store {
  getState(): RootState
  dispatch(action: ReturnType<(typeof shotActions)[keyof typeof shotActions]>): unknown
}

let running = false
const retryMs = 1500

/** Sends what is unsaved until nothing is left. Only one runs at a time. */
export async function saveUnsaved(store: Store): Promise<void> {
  if (running) return
  running = true
  try {
    while (store.getState().shot.unsaved.length > 0) await saveFirst(store)
  } finally {
    running = false
  }
}

async function saveFirst(store: Store): Promise<void> {
  const { shot, unsaved, revision } = store.getState().shot
  const [edit] = unsaved
  if (!shot || !edit) return
  if (store.getState().shot.saving === 'saved') store.dispatch(shotActions.savingChanged('saving'))
  try {
    store.dispatch(shotActions.acknowledged(await sendEdit(shot.name, revision, tabName, edit)))
  } catch (error) {
    if (error instanceof RefusedError && error.status === 409) {
      const { current } = error.body as { current: { shot: Shot; revision: number } }
      store.dispatch(shotActions.refused({ message: error.message, edit, ...current }))
    } else if (error instanceof RefusedError && error.status < 500) {
      store.dispatch(shotActions.refused({ message: error.message, edit, ...(await loadShot(shot.name)) }))
    } else {
      store.dispatch(shotActions.savingChanged('unreachable'))
      await new Promise((resolve) => setTimeout(resolve, retryMs))
    }
  }
}
