/** The store: the document, how it is looked at, and what the server knows. Pixels are never in it. */

import { configureStore, createListenerMiddleware } from '@reduxjs/toolkit'
import { useDispatch, useSelector } from 'react-redux'
import { serverCache } from '../api/server-cache'
import { lensReducer } from './lens'
import { readingsReducer } from './readings'
import { saveUnsaved } from './saving'
import { sceneReducer } from './scene'
import { shotActions, shotReducer } from './shot-slice'
import type { RootState } from './state'
import { sweepReducer } from './sweep'
import { trackingReducer } from './tracking'
import { viewReducer } from './view'

export function createStore() {
  const listener = createListenerMiddleware()
  const store = configureStore({
    reducer: {
      shot: shotReducer,
      view: viewReducer,
      readings: readingsReducer,
      tracking: trackingReducer,
      lens: lensReducer,
      scene: sceneReducer,
      sweep: sweepReducer,
      [serverCache.reducerPath]: serverCache.reducer,
    },
    // The document is large and checked elsewhere; looking through it on every action is slow.
    middleware: (defaults) =>
      defaults({ serializableCheck: false, immutableCheck: false })
        .prepend(listener.middleware)
        .concat(serverCache.middleware),
  })
  const { edited, undone, redone } = shotActions
  listener.startListening({
    predicate: (action) => edited.match(action) || undone.match(action) || redone.match(action),
    effect: () => saveUnsaved(store),
  })
  return store
}

export type AppStore = ReturnType<typeof createStore>
export const useAppDispatch = useDispatch.withTypes<AppStore['dispatch']>()
export const useAppSelector = useSelector.withTypes<RootState>()
