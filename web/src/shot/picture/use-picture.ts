/** Keeps a canvas showing the newest picture asked for. */

import { useEffect, useState, type RefObject } from 'react'
import { useEngine } from '../../engine/engine-context'
import { useNewest } from '../../engine/use-newest'
import { useAppSelector } from '../../store'
import { selectDocument, selectShownStep } from '../../store/selectors'

/** Marked on the page's timeline whenever a new picture is on the canvas; the bench reads it. */
export const pictureMark = 'enkrasis:picture'

export interface PictureState {
  /** why there is no picture, or null */
  readonly problem: string | null
  /** a first picture has been shown */
  readonly shown: boolean
}

/** Pictures are made one after the other: while one is made, only the newest wish waits. */
export function usePicture(canvas: RefObject<HTMLCanvasElement | null>): PictureState {
  const engine = useEngine()
  const step = useAppSelector(selectShownStep)
  const frameSize = useAppSelector((state) => selectDocument(state)?.frameSize)
  const { scale, exposure, channel, frame } = useAppSelector((state) => state.view)
  const [state, setState] = useState<PictureState>({ problem: null, shown: false })
  const show = useNewest()

  useEffect(() => {
    if (!step || !frameSize) return
    const width = Math.ceil(frameSize.width / scale)
    const height = Math.ceil(frameSize.height / scale)
    show(async () => {
      try {
        const bytes = await engine.view(
          step,
          { x: 0, y: 0, width, height },
          { exposure: 2 ** exposure, channel, encoding: 'srgb' },
        )
        const target = canvas.current
        if (!target) return
        if (target.width !== width || target.height !== height) Object.assign(target, { width, height })
        target.getContext('2d')?.putImageData(new ImageData(new Uint8ClampedArray(bytes.buffer), width, height), 0, 0)
        target.dataset.frame = String(frame)
        target.dataset.key = step.key
        performance.mark(pictureMark, { detail: { frame, key: step.key } })
        setState((before) => (before.shown && before.problem === null ? before : { problem: null, shown: true }))
      } catch (error) {
        // The picture of another frame must not stand there as if it were this one.
        if (canvas.current) delete canvas.current.dataset.frame
        setState({ shown: false, problem: error instanceof Error ? error.message : String(error) })
      }
    })
  }, [engine, step, frameSize, scale, exposure, channel, frame, canvas, show])
  return state
}
