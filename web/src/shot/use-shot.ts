/** Opens a shot, and keeps it up with the server: other tabs' edits, frames that arrive, deliveries that go on. */

import { useEffect, useRef, useState } from 'react'
import { useStore } from 'react-redux'
import { firstFrameThere } from '../../../core/plan/catalog'
import type { DeliveryStatus } from '../../../core/delivery'
import { isOver, type WorkStatus } from '../../../core/work'
import { eventsUrl, loadCatalog, loadShot, loadUndo } from '../api/client'
import { deliveryChanged, serverCache, workChanged } from '../api/server-cache'
import { PictureMaker } from '../engine/picture-maker'
import { useAppDispatch, useAppSelector } from '../store'
import { selectReadyFrames, selectSources } from '../store/selectors'
import { shotActions } from '../store/shot-slice'
import type { RootState } from '../store/state'
import { readUndoFrom } from '../store/undo-reading'
import { settleTabName, tabName } from '../store/tab'
import { viewOpened } from '../store/view'
import { takeOpening } from './opening'

const catalogMs = 3000
const changeMs = 8000
const retryMs = 2000

export interface OpenShot {
  /** null until there is an engine */
  readonly maker: PictureMaker | null
  /** why the shot cannot be opened, or null */
  readonly failure: string | null
}

/** @param id of the shot */
export function useShot(id: string): OpenShot {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const [state, setState] = useState<OpenShot>({ maker: null, failure: null })
  useEffect(() => {
    let left = false
    const opening = takeOpening(id)
    const failed = (error: Error) => {
      if (!left) setState((before) => ({ ...before, failure: error.message }))
    }
    opening.loaded.then((loaded) => {
      if (left) return
      dispatch(shotActions.opened(loaded))
      dispatch(viewOpened(firstFrameThere(loaded.shot, loaded.catalog)))
    }, failed)
    opening.engine.then((engine) => {
      if (left) engine.close()
      else setState((before) => ({ ...before, maker: new PictureMaker(engine) }))
    }, failed)
    const computed = dispatch(serverCache.endpoints.computed.initiate(id, { forceRefetch: true }))
    const readings = dispatch(serverCache.endpoints.readings.initiate(id, { forceRefetch: true }))
    const matching = dispatch(serverCache.endpoints.matching.initiate(id, { forceRefetch: true }))
    const making = dispatch(serverCache.endpoints.making.initiate(id, { forceRefetch: true }))
    const workAsked = dispatch(serverCache.endpoints.work.initiate(id, { forceRefetch: true }))
    const asked = [
      computed,
      readings,
      matching,
      making,
      dispatch(serverCache.endpoints.deliveries.initiate(id, { forceRefetch: true })),
      workAsked,
    ]
    const askAgain = () => asked.forEach((one) => void one.refetch())
    // What this tab did before a reload can still be taken back.
    // Once: the name is held by a lock, which would be taken by this page itself.
    const settled = settleTabName()
    const readUndo = () =>
      void Promise.all([settled, opening.loaded])
        .then(() =>
          readUndoFrom(
            () => loadUndo(id, tabName()),
            store,
            () => left,
          ),
        )
        .catch(() => undefined)
    const events = new EventSource(eventsUrl(id))
    // A newer document is asked for until it comes: an old one on screen would look like the truth.
    const catchUp = (): void => {
      if (left) return
      loadShot(id).then(
        ({ shot, revision }) => dispatch(shotActions.caughtUp({ shot, revision })),
        () => void setTimeout(catchUp, retryMs),
      )
    }
    events.addEventListener('revised', (event: MessageEvent<string>) => {
      const { tab } = JSON.parse(event.data) as { tab: string }
      if (tab !== tabName()) catchUp()
    })
    let opened = false
    events.addEventListener('open', () => {
      // Opened again after the server was away: whatever happened meanwhile was not heard.
      if (opened) {
        catchUp()
        askAgain()
      }
      // From now on all is heard; what was tracked while the document was on its way was not.
      if (!opened) void workAsked.then(({ data }) => data?.some(isTracking) && catchUp())
      readUndo()
      opened = true
    })
    events.addEventListener('work', (event: MessageEvent<string>) => {
      const { work, delivery } = JSON.parse(event.data) as { work: WorkStatus; delivery: DeliveryStatus | null }
      dispatch(workChanged(id, work))
      if (delivery) dispatch(deliveryChanged(id, delivery))
      if (work.kind === 'computed') void computed.refetch()
      if (work.kind === 'readings' || work.kind === 'checks') void readings.refetch()
      if (work.kind === 'match') void matching.refetch()
      // What was tracked is an edit, also of a tab that was reloaded meanwhile; who watched it has it already.
      if (isTracking(work) && isOver(work) && store.getState().tracking.wanted === null) {
        catchUp()
        readUndo()
      }
      if (work.kind === 'made-source') {
        void making.refetch()
        void loadCatalog(id).then(
          (catalog) => left || dispatch(shotActions.catalogRead(catalog)),
          () => undefined,
        )
      }
    })
    events.addEventListener('missed', askAgain)
    return () => {
      left = true
      events.close()
      asked.forEach((one) => one.unsubscribe())
      opening.engine.then(
        (engine) => engine.close(),
        () => undefined,
      )
      setState({ maker: null, failure: null })
      dispatch(shotActions.closed())
    }
  }, [id, dispatch, store])
  useArrivingFrames(id)
  useUnsavedGuard()
  return state
}

const isTracking = ({ kind }: WorkStatus) => kind === 'tracking'

/** Leaving while something is unsaved asks first. */
function useUnsavedGuard(): void {
  const unsaved = useAppSelector((state) => state.shot.unsaved.length > 0)
  useEffect(() => {
    if (!unsaved) return
    const ask = (event: BeforeUnloadEvent) => event.preventDefault()
    window.addEventListener('beforeunload', ask)
    return () => window.removeEventListener('beforeunload', ask)
  }, [unsaved])
}

/** Looks for frames: often while some are missing, now and then for files that change or go away, and at once for new sources. */
function useArrivingFrames(id: string): void {
  const dispatch = useAppDispatch()
  const ready = useAppSelector(selectReadyFrames)
  const total = useAppSelector((state) =>
    state.shot.shot ? state.shot.shot.frames.last - state.shot.shot.frames.first + 1 : 0,
  )
  const files = useAppSelector((state) =>
    JSON.stringify(selectSources(state).map((source) => [source.id, source.path, source.frames])),
  )
  const saved = useAppSelector((state) => state.shot.unsaved.length === 0)
  const complete = total > 0 && ready.size >= total
  useEffect(() => {
    if (total === 0) return
    const read = () =>
      loadCatalog(id).then(
        (catalog) => dispatch(shotActions.catalogRead(catalog)),
        () => undefined,
      )
    const timer = setInterval(() => void read(), complete ? changeMs : catalogMs)
    return () => clearInterval(timer)
  }, [id, complete, total, dispatch])
  const opened = useRef(files)
  useEffect(() => {
    if (total === 0 || !saved || opened.current === files) return
    opened.current = files
    void loadCatalog(id).then(
      (catalog) => dispatch(shotActions.catalogRead(catalog)),
      () => undefined,
    )
  }, [id, total, files, saved, dispatch])
}
