/** Opens a shot, and keeps it up with the server: other tabs' edits, frames that arrive, handoffs that go on. */

import { useEffect, useRef, useState } from 'react'
import type { HandoffStatus } from '../../../core/shot'
import { eventsUrl, listHandoffs, loadCatalog, loadShot } from '../api/client'
import { useAppDispatch, useAppSelector } from '../store'
import { handoffActions } from '../store/handoff-slice'
import { tabName } from '../store/saving'
import { selectReadyFrames } from '../store/selectors'
import { shotActions } from '../store/shot-slice'
import { viewActions } from '../store/view-slice'

const catalogMs = 3000
const changeMs = 8000
const retryMs = 2000

/** @returns why the shot cannot be opened, or null */
export function useShot(name: string): string | null {
  const dispatch = useAppDispatch()
  const [failure, setFailure] = useState<string | null>(null)
  useEffect(() => {
    let gone = false
    loadShot(name).then(
      (loaded) => {
        if (gone) return
        dispatch(shotActions.opened(loaded))
        const plate = loaded.catalog[loaded.shot.elements[0].source] ?? {}
        const ready = Object.keys(plate).map(Number)
        dispatch(viewActions.viewOpened(ready.length > 0 ? Math.min(...ready) : loaded.shot.frames.first))
        setFailure(null)
      },
      (error: Error) => gone || setFailure(error.message),
    )
    listHandoffs(name).then(
      (list) => gone || dispatch(handoffActions.handoffsRead(list)),
      () => undefined,
    )
    const events = new EventSource(eventsUrl(name))
    // A newer document is asked for until it comes: an old one on screen would look like the truth.
    const catchUp = (): void => {
      if (gone) return
      loadShot(name).then(
        ({ shot, revision }) => dispatch(shotActions.caughtUp({ shot, revision })),
        () => void setTimeout(catchUp, retryMs),
      )
    }
    events.addEventListener('revised', (event: MessageEvent<string>) => {
      const { tab } = JSON.parse(event.data) as { tab: string }
      if (tab !== tabName) catchUp()
    })
    let opened = false
    events.addEventListener('open', () => {
      // Opened again after the server was away: whatever happened meanwhile was not heard.
      if (opened) catchUp()
      opened = true
    })
    events.addEventListener('handoff', (event: MessageEvent<string>) =>
      dispatch(handoffActions.handoffChanged(JSON.parse(event.data) as HandoffStatus)),
    )
    return () => {
      gone = true
      events.close()
      dispatch(shotActions.closed())
    }
  }, [name, dispatch])
  useArrivingFrames(name)
  useUnsavedGuard()
  return failure
}

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
function useArrivingFrames(name: string): void {
  const dispatch = useAppDispatch()
  const ready = useAppSelector(selectReadyFrames)
  const total = useAppSelector((state) =>
    state.shot.shot ? state.shot.shot.frames.last - state.shot.shot.frames.first + 1 : 0,
  )
  const files = useAppSelector((state) =>
    JSON.stringify(state.shot.shot?.sources.map(({ id, path, frames }) => [id, path, frames])),
  )
  const saved = useAppSelector((state) => state.shot.unsaved.length === 0)
  const complete = total > 0 && ready.size >= total
  useEffect(() => {
    if (total === 0) return
    const read = () =>
      loadCatalog(name).then(
        (catalog) => dispatch(shotActions.catalogRead(catalog)),
        () => undefined,
      )
    const timer = setInterval(() => void read(), complete ? changeMs : catalogMs)
    return () => clearInterval(timer)
  }, [name, complete, total, dispatch])
  const opened = useRef(files)
  useEffect(() => {
    if (total === 0 || !saved || opened.current === files) return
    opened.current = files
    void loadCatalog(name).then(
      (catalog) => dispatch(shotActions.catalogRead(catalog)),
      () => undefined,
    )
  }, [name, total, files, saved, dispatch])
}
