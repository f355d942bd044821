/** Playing: shows frames at the shot's rate, as far as their pictures are there; those that are not are dropped and counted. */

import { useEffect } from 'react'
import { useStore } from 'react-redux'
import { usePictureMaker } from '../engine/engine-context'
import type { AppStore } from '../store'
import { useAppSelector } from '../store'
import { framesPlayed, lookedAtFrame, selectPictureSize } from '../store/selectors'
import type { RootState } from '../store/state'
import { played } from '../store/view'

export function usePlayback(): void {
  const maker = usePictureMaker()
  const store = useStore() as unknown as AppStore
  const playing = useAppSelector((state) => state.view.playing.playing)
  useEffect(() => {
    if (!playing) return
    const shot = (store.getState() as RootState).shot.shot
    if (!shot) return
    const frames = framesPlayed(store.getState() as RootState)
    const rate = shot.rate.numerator / shot.rate.denominator / (store.getState() as RootState).view.playing.every
    const began = performance.now()
    let counted = 0
    let request = requestAnimationFrame(function tick(now) {
      const due = Math.floor(((now - began) / 1000) * rate)
      if (due > counted) {
        const frame = frames[due % frames.length]
        const state = store.getState() as RootState
        const size = selectPictureSize(state)
        const looked = lookedAtFrame(state, frame)
        const there = looked && size && maker.ready(looked.step, size, looked.view)
        // Every frame whose time has passed was either shown or dropped.
        const dropped = due - counted - (there ? 1 : 0)
        counted = due
        store.dispatch(played({ frame: there ? frame : null, dropped }))
      }
      request = requestAnimationFrame(tick)
    })
    return () => cancelAnimationFrame(request)
  }, [maker, store, playing])
}
