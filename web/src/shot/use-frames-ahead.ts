/** While nothing else is wanted, makes the pictures that will be wanted next: the rest of this one, then its neighbours. */

import { useEffect } from 'react'
import { useStore } from 'react-redux'
import { usePictureMaker } from '../engine/engine-context'
import { useAppSelector } from '../store'
import { framesAhead, lookedAtFrame, selectLooked, selectPictureSize } from '../store/selectors'
import type { RootState } from '../store/state'

/** The hand has come to rest. */
const idleMs = 350

export function useFramesAhead(): void {
  const maker = usePictureMaker()
  const store = useStore<RootState>()
  const looked = useAppSelector(selectLooked)
  const size = useAppSelector(selectPictureSize)
  const playing = useAppSelector((state) => state.view.playing.playing)
  const ready = useAppSelector((state) => state.shot.catalog)
  // While playing, the step changes with every frame: what is made ahead must not begin anew each time.
  const paused = playing ? null : looked
  useEffect(() => {
    if (!size || (!playing && !paused)) return
    const abort = new AbortController()
    const make = async () => {
      for (const frame of framesAhead(store.getState())) {
        if (abort.signal.aborted) return
        const next = lookedAtFrame(store.getState(), frame)
        try {
          if (next) await maker.all(next.step, size, next.view, { signal: abort.signal, idle: true })
        } catch {
          // A frame that cannot be made says so when it is looked at.
        }
      }
    }
    const timer = setTimeout(() => void make(), playing ? 0 : idleMs)
    return () => {
      clearTimeout(timer)
      abort.abort()
    }
  }, [maker, store, paused, size, playing, ready])
}
