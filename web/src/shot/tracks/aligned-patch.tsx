/** The pattern as it is found on one frame: its point lies in the middle, to a fraction of a pixel. */

import { useEffect, useRef } from 'react'
import { resample } from '../../../../core/graph/steps'
import { byShift } from '../../../../core/motion/mapping'
import { useEngine } from '../../engine/engine-context'
import { useNewest } from '../../engine/use-newest'
import { useAppSelector } from '../../store'
import { planOf } from '../../store/plans'
import { selectCatalog, selectLooked, selectShownShot } from '../../store/selectors'
import { useSeen } from '../picture/use-seen'

interface AlignedPatchProps {
  readonly frame: number
  /** plate pixels */
  readonly x: number
  readonly y: number
  /** pixels on either side */
  readonly radius: number
  /** screen pixels */
  readonly side: number
}

export function AlignedPatch({ frame, x, y, radius, side }: AlignedPatchProps) {
  const engine = useEngine()
  const canvas = useRef<HTMLCanvasElement>(null)
  const plate = useAppSelector((state) => {
    const shot = selectShownShot(state)
    return shot && planOf(shot, frame, 1, selectCatalog(state)).plate
  })
  const view = useAppSelector((state) => selectLooked(state)?.view)
  // Tracking comes first: the plates of all frames would have to be brought meanwhile.
  const busy = useAppSelector((state) => state.tracking.wanted !== null)
  const seen = useSeen(canvas)
  const show = useNewest()
  const pixels = 2 * radius + 1
  const look = JSON.stringify(view)
  useEffect(() => {
    if (!seen || busy || !plate || !view) return
    show(async () => {
      try {
        const moved = resample(plate, byShift(x - pixels / 2, y - pixels / 2), 'catmull-rom')
        const bytes = await engine.view(moved, { x: 0, y: 0, width: pixels, height: pixels }, view)
        const place = canvas.current
        if (!place) return
        if (place.width !== pixels) Object.assign(place, { width: pixels, height: pixels })
        place.getContext('2d')?.putImageData(new ImageData(new Uint8ClampedArray(bytes.buffer), pixels, pixels), 0, 0)
      } catch {
        // The picture says what is wrong with the frame.
      }
    })
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the plate and the look by what they are, not by which plan made them
  }, [engine, seen, busy, plate?.key, look, x, y, pixels, show])
  return (
    <canvas
      ref={canvas}
      width={1}
      height={1}
      aria-hidden
      style={{ width: side, height: side, imageRendering: 'pixelated', display: 'block' }}
    />
  )
}
