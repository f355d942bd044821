/** Keeps a canvas showing the newest picture asked for: what is in sight first, the rest when nothing else is wanted. */

import { useEffect, useRef, useState, type RefObject } from 'react'
import { useStore } from 'react-redux'
import { CancelledError } from '../../../../core/engine/engine'
import { contains, dilate, intersect, type Window } from '../../../../core/image/window'
import { usePictureMaker } from '../../engine/engine-context'
import { pictureWasShown } from '../../engine/first-picture'
import { useNewest } from '../../engine/use-newest'
import { useAppDispatch, useAppSelector } from '../../store'
import { scaleWhileDragging } from './drag-scale'
import type { Looked } from '../../../../core/look/looking'
import { selectPictureSize, selectScale } from '../../store/selectors'
import type { RootState } from '../../store/state'
import { viewChanged } from '../../store/view'

/** Marked on the page's timeline whenever a new picture is on the canvas; the bench reads it. */
export const pictureMark = 'enkrasis:picture'

export interface PictureState {
  /** why there is no picture, or null */
  readonly problem: string | null
  /** a first picture has been shown */
  readonly shown: boolean
}

/**
 * Frames that follow one another faster are scrubbed through: one is asked for when the hand rests this long, else the server
 * would begin with files that nobody waits for any more.
 */
const restMs = 35

/** Pixels around what is in sight that are made with it, so that a little panning shows nothing new. */
const margin = 32

/**
 * Pictures are made one after the other: while one is made, only the newest wish waits. One of another frame or at another
 * scale than is wanted now is called off.
 *
 * @param looked the picture and how it is looked at
 * @param sight what of the picture is in sight, in pixels of the picture as it is made
 */
export function usePicture(
  canvas: RefObject<HTMLCanvasElement | null>,
  sight: Window,
  looked: Looked | null,
  onProblem?: (problem: string | null) => void,
): PictureState {
  const maker = usePictureMaker()
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const size = useAppSelector(selectPictureSize)
  const frame = useAppSelector((state) => state.view.playing.frame)
  const area = useAppSelector((state) => state.view.framing.area)
  const [state, setState] = useState<PictureState>({ problem: null, shown: false })
  const drawn = useRef<{ readonly name: string; readonly window: Window } | null>(null)
  const changed = useRef<{ frame: number; at: number; quick: boolean }>({ frame, at: -Infinity, quick: false })
  const underWay = useRef<{ readonly about: string; readonly abort: AbortController } | null>(null)
  const show = useNewest()
  const { x, y, width, height } = sight
  const scale = useAppSelector(selectScale)

  const { problem } = state
  useEffect(() => onProblem?.(problem), [onProblem, problem])

  useEffect(() => {
    if (!size) return
    if (!looked) {
      // The picture of another frame must not stand there as if it were this one.
      show(async () => clear(canvas.current, drawn))
      pictureWasShown()
      return
    }
    const { step, view } = looked
    const all = { x: 0, y: 0, ...size }
    const seen = intersect(dilate({ x, y, width, height }, margin, margin), all)
    const wanted = area ? intersect(seen, atScale(area, scale)) : seen
    if (wanted.width <= 0 || wanted.height <= 0) return
    const name = `${step.key} ${JSON.stringify(view)}`
    if (canvas.current) canvas.current.dataset.wanted = name
    if (drawn.current?.name === name && contains(drawn.current.window, wanted)) return
    const draw = (bytes: Uint8Array<ArrayBuffer>, window: Window) => {
      if (!canvas.current) return
      drawPicture(canvas.current, bytes, window, size, drawn.current?.name !== name)
      Object.assign(canvas.current.dataset, { frame: String(frame), key: step.key, shown: name })
      drawn.current = { name, window }
      performance.mark(pictureMark, { detail: { frame, key: step.key } })
      pictureWasShown()
      setState((before) => (before.shown && before.problem === null ? before : { problem: null, shown: true }))
    }
    const ready = maker.ready(step, size, view)
    if (ready) {
      show(async () => draw(ready, all))
      return
    }
    const about = `${frame} ${size.width}`
    if (changed.current.frame !== frame) {
      const at = performance.now()
      changed.current = { frame, at, quick: at - changed.current.at < restMs }
    }
    const quick = changed.current.quick && performance.now() - changed.current.at < restMs
    if (underWay.current && underWay.current.about !== about) underWay.current.abort.abort()
    const abort = new AbortController()
    show(async () => {
      underWay.current = { about, abort }
      const began = performance.now()
      try {
        const { signal } = abort
        if (quick) await rested(signal)
        if (contains(wanted, all)) draw(await maker.all(step, size, view, { signal }), all)
        else draw(await maker.engine.view(step, wanted, view, { signal }), wanted)
        const { shot, view: now } = store.getState()
        if (!shot.draft) return
        const dragging = scaleWhileDragging(now.framing.scale, scale, performance.now() - began)
        if (dragging !== now.framing.dragging) dispatch(viewChanged({ framing: { dragging } }))
      } catch (error) {
        if (error instanceof CancelledError) return
        // The picture of another frame must not stand there as if it were this one.
        clear(canvas.current, drawn)
        pictureWasShown()
        setState({ shown: false, problem: error instanceof Error ? error.message : String(error) })
      } finally {
        underWay.current = null
      }
    })
  }, [maker, dispatch, store, looked, size, frame, canvas, show, area, scale, x, y, width, height])
  return state
}

/** Every pixel of the picture as it is made that the area touches. */
function atScale({ x, y, width, height }: Window, scale: number): Window {
  const [left, top] = [Math.floor(x / scale), Math.floor(y / scale)]
  return {
    x: left,
    y: top,
    width: Math.ceil((x + width) / scale) - left,
    height: Math.ceil((y + height) / scale) - top,
  }
}

/** @throws CancelledError when another frame is wanted before the hand has come to rest */
function rested(signal: AbortSignal): Promise<void> {
  return new Promise((done, fail) => {
    const timer = setTimeout(done, restMs)
    signal.addEventListener('abort', () => {
      clearTimeout(timer)
      fail(new CancelledError('Another frame is wanted.'))
    })
  })
}

function clear(canvas: HTMLCanvasElement | null, drawn: { current: unknown }): void {
  drawn.current = null
  if (!canvas) return
  delete canvas.dataset.frame
  delete canvas.dataset.shown
  canvas.getContext('2d')?.clearRect(0, 0, canvas.width, canvas.height)
}

function drawPicture(
  canvas: HTMLCanvasElement,
  bytes: Uint8Array<ArrayBuffer>,
  window: Window,
  { width, height }: { readonly width: number; readonly height: number },
  another: boolean,
): void {
  const context = canvas.getContext('2d')
  if (!context) return
  if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height })
  // What was there before is of another picture.
  else if (another && (window.width < width || window.height < height)) context.clearRect(0, 0, width, height)
  context.putImageData(
    new ImageData(new Uint8ClampedArray(bytes.buffer), window.width, window.height),
    window.x,
    window.y,
  )
}
