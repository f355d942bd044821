/** The pixels around a sample, enlarged, as the picture is seen. */

import { useEffect, useMemo, useRef } from 'react'
import type { Step } from '../../../../core/graph/steps'
import { useEngine } from '../../engine/engine-context'
import { useNewest } from '../../engine/use-newest'
import { useAppSelector } from '../../store'
import { selectLooked, selectScale } from '../../store/selectors'
import type { Region } from '../../store/view'
import { useSeen } from './use-seen'

const side = 56
/** A place is shown with its neighbours; a region as it is, up to so many pixels a side. */
const neighbours = 4
const mostPixels = 256
/** A patch is made anew at most so often, in ms. */
const restBetween = 150

/**
 * @param sample id, by which the line to it is drawn
 * @param step whose pixels are shown; absent: those of the picture that is looked at
 */
export function Patch({ region, sample, step }: { region: Region; sample?: string; step?: Step }) {
  const engine = useEngine()
  const canvas = useRef<HTMLCanvasElement>(null)
  const looked = useAppSelector(selectLooked)
  const scale = useAppSelector(selectScale)
  const show = useNewest()
  const around = region.width > 1 || region.height > 1 ? 0 : neighbours
  const pixels = Math.min(
    mostPixels,
    Math.max(1, Math.ceil(Math.max(region.width, region.height) / scale)) + 2 * around,
  )
  const middle = (at: number, extent: number) => Math.floor((at + extent / 2) / scale) - Math.floor(pixels / 2)
  const [x, y] = [middle(region.x, region.width), middle(region.y, region.height)]
  const seen = useSeen(canvas)
  const own = step ?? looked?.step
  const shown = useKept(own, own?.key)
  // What is looked at is another thing with every change; the plate's side of a witness stays as it is.
  const view = useKept(looked?.view, JSON.stringify(looked?.view))
  useEffect(() => {
    if (!seen || !shown || !view) return
    show(async () => {
      try {
        const bytes = await engine.view(shown, { x, y, width: pixels, height: pixels }, view)
        const place = canvas.current
        if (!place) return
        if (place.width !== pixels) Object.assign(place, { width: pixels, height: pixels })
        place.getContext('2d')?.putImageData(new ImageData(new Uint8ClampedArray(bytes.buffer), pixels, pixels), 0, 0)
      } catch {
        // The picture says what is wrong.
      }
      // Pictures and numbers go first while something is dragged.
      await new Promise((done) => setTimeout(done, restBetween))
    })
  }, [engine, seen, shown, view, x, y, pixels, show])
  return (
    <canvas
      ref={canvas}
      width={1}
      height={1}
      aria-hidden
      data-sample={sample}
      style={{ width: side, height: side, imageRendering: 'pixelated', flexShrink: 0, marginTop: 18 }}
    />
  )
}

/** The same thing as long as `by` is the same. */
function useKept<T>(now: T, by: string | undefined): T {
  // eslint-disable-next-line react-hooks/exhaustive-deps -- what it is made of changes with every plan
  return useMemo(() => now, [by])
}
