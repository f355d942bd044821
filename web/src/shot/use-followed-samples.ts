/** Measures how far elements have moved since samples that follow them were drawn; what follows a track needs no measuring. */

import { useEffect } from 'react'
import { centreOfCoverage } from '../../../core/measure/centre-of-coverage'
import type { Step } from '../../../core/graph/steps'
import { inOrder, type Sample } from '../../../core/shot'
import { useEngine } from '../engine/engine-context'
import { useNewest } from '../engine/use-newest'
import { useAppDispatch, useAppSelector } from '../store'
import { planOf } from '../store/plans'
import { selectCatalog, selectFrame, selectShownShot } from '../store/selectors'
import { viewChanged, type Point } from '../store/view'

/** Coverage is measured on small pictures: its middle is good to a fraction of their pixels. */
const scale = 4
const mostKept = 500

const centres = new Map<string, Promise<Point | null>>()

export function useFollowedSamples(): void {
  const engine = useEngine()
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectShownShot)
  const catalog = useAppSelector(selectCatalog)
  const frame = useAppSelector(selectFrame)
  const ask = useNewest()
  useEffect(() => {
    const following = shot ? inOrder(shot.samples).filter(({ follows }) => follows?.element !== undefined) : []
    if (!shot || following.length === 0) return
    const { width, height } = shot.frameSize
    const window = { x: 0, y: 0, width: Math.ceil(width / scale), height: Math.ceil(height / scale) }
    const measure = async (step: Step | undefined): Promise<Point | null> => {
      if (!step) return null
      const known = centres.get(step.key)
      if (known) return known
      const asked = engine.light(step, window).then((light) => centreOfCoverage(light, window))
      if (centres.size >= mostKept) centres.clear()
      centres.set(step.key, asked)
      asked.catch(() => centres.delete(step.key))
      return asked
    }
    const movement = async ({ follows }: Sample): Promise<Point> => {
      if (follows?.element === undefined) return { x: 0, y: 0 }
      const { element } = follows
      const at = (when: number) => measure(planOf(shot, when, scale, catalog).elements.get(element))
      const [then, now] = await Promise.all([at(follows.frame), at(frame)])
      return then && now ? { x: (now.x - then.x) * scale, y: (now.y - then.y) * scale } : { x: 0, y: 0 }
    }
    ask(async () => {
      try {
        const moved = await Promise.all(following.map(async (one) => [one.id, await movement(one)] as const))
        dispatch(viewChanged({ framing: { followed: Object.fromEntries(moved) } }))
      } catch {
        // The picture says what is wrong with the frame.
      }
    })
  }, [engine, dispatch, shot, catalog, frame, ask])
}
