/** Reads from the server what this tab can take back and make again: after a reload, and when the server has made an edit of this tab's. */

import type { Store } from '@reduxjs/toolkit'
import type { TabEdit } from '../../../core/shot'
import { shotActions } from './shot-slice'
import type { RootState } from './state'

const lookAgainMs = 250

/**
 * The server's answer counts only if nothing was edited, undone or redone while it was on its way, and nothing waits to be saved:
 * an older answer would take back an undo, or lose what can be made again. Else it is asked once more.
 *
 * @param isLeft whether the shot was closed meanwhile
 * @throws whatever `ask` throws
 */
export async function readUndoFrom(
  ask: () => Promise<{ readonly past: readonly TabEdit[]; readonly future: readonly TabEdit[] }>,
  store: Pick<Store<RootState>, 'getState' | 'dispatch'>,
  isLeft: () => boolean,
): Promise<void> {
  const shot = () => store.getState().shot
  while (!isLeft()) {
    const { past, future, unsaved } = shot()
    if (unsaved.length === 0) {
      const undo = await ask()
      const now = shot()
      // Every edit makes both anew.
      if (!isLeft() && now.past === past && now.future === future)
        return void store.dispatch(shotActions.undoRead(undo))
    }
    await new Promise((turn) => setTimeout(turn, lookAgainMs))
  }
}
