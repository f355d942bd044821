/** Looks at every frame for where elements pass, in few pixels, one frame after the other. */

import { contours } from 'd3-contour'
import { useEffect } from 'react'
import type { Engine } from '../../../../core/engine/engine'
import { SweptArea, type Passing } from '../../../../core/measure/swept-area'
import type { Catalog } from '../../../../core/plan/catalog'
import { unmovedByFinish } from '../../../../core/plan/held-still'
import { nodeAt } from '../../../../core/plan/node'
import { passingElements } from '../../../../core/plan/passing-elements'
import type { Shot } from '../../../../core/shot'
import { useEngine } from '../../engine/engine-context'
import { useAppDispatch, useAppSelector, type AppStore } from '../../store'
import { passingPlanning } from '../../store/plans'
import { selectCatalog, selectDocument } from '../../store/selectors'
import { sweepActions } from '../../store/sweep'

const scale = 4
/** The outline grows while frames come in. */
const framesAtOnce = 4
/** The hand has come to rest. */
const restMs = 400

/** While the card of the matte is open and it is asked for. Looks again when elements or what is done to them changed. */
export function useSweep(matte: string): void {
  const dispatch = useAppDispatch()
  const engine = useEngine()
  const wanted = useAppSelector(({ sweep }) => sweep.matte === matte)
  const shot = useAppSelector(selectDocument)
  const catalog = useAppSelector(selectCatalog)
  const { elements, treatments, uses, sources, tracks, frames } = shot ?? {}
  useEffect(() => {
    if (!wanted || !shot) return
    const abort = new AbortController()
    const timer = window.setTimeout(() => {
      sweep({ engine, shot, matte, catalog, dispatch, signal: abort.signal }).catch((error: unknown) => {
        if (!abort.signal.aborted)
          dispatch(sweepActions.looked({ problem: error instanceof Error ? error.message : String(error) }))
      })
    }, restMs)
    return () => {
      window.clearTimeout(timer)
      abort.abort()
    }
    // Drawing on the matte moves no element: only what they are made of counts.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [wanted, matte, engine, catalog, dispatch, elements, treatments, uses, sources, tracks, frames])
}

interface Sweeping {
  readonly engine: Engine
  readonly shot: Shot
  readonly matte: string
  readonly catalog: Catalog
  readonly dispatch: AppStore['dispatch']
  readonly signal: AbortSignal
}

async function sweep({ engine, shot: whole, matte, catalog, dispatch, signal }: Sweeping): Promise<void> {
  const { shot, elements } = passingElements(unmovedByFinish(whole), matte)
  const planning = passingPlanning(shot, scale, catalog)
  const { first, last } = shot.frames
  const size = {
    width: Math.ceil(shot.frameSize.width / scale),
    height: Math.ceil(shot.frameSize.height / scale),
  }
  const area = new SweptArea({ x: 0, y: 0, ...size })
  const seen = (ids: readonly string[], frame: number) =>
    nodeAt(planning, { kind: 'elements', ids: [shot.plate, ...ids] }, frame)
  for (let frame = first; frame <= last; frame++) {
    const [picture, plate] = [seen(elements, frame), seen([], frame)]
    if (picture && plate)
      area.add(
        frame,
        await engine.light(picture, area.window, { signal }),
        await engine.light(plate, area.window, { signal }),
      )
    const done = frame - first + 1
    if (done % framesAtOnce === 0 || frame === last)
      dispatch(
        sweepActions.looked({ done, rings: ringsOf(area), passings: area.passings.map(atFullScale), problem: null }),
      )
  }
}

const atFullScale = ({ frame, box }: Passing): Passing => ({
  frame,
  box: box && { x: box.x * scale, y: box.y * scale, width: box.width * scale, height: box.height * scale },
})

function ringsOf({ swept, window: { width, height } }: SweptArea) {
  const [made] = contours().size([width, height]).thresholds([0.5])(Array.from(swept))
  return made.coordinates.flat().map((ring) => ring.map(([x, y]) => [x * scale, y * scale] as const))
}
