/** Reads the values of plate, element and composite at places of the picture, as the document and gesture stand. */

import { useEffect, useState } from 'react'
import type { FramePlan } from '../../../../core/plan/plan'
import type { Engine } from '../../../../core/engine/engine'
import type { Step } from '../../../../core/graph/steps'
import { useEngine } from '../../engine/engine-context'
import { useNewest } from '../../engine/use-newest'
import { useAppSelector } from '../../store'
import { selectPlan } from '../../store/selectors'

export type Rgb = readonly [number, number, number]

export interface PixelValues {
  readonly plate: Rgb | null
  readonly element: Rgb | null
  readonly composite: Rgb | null
}

/** Full-scale pixel. */
export interface Place {
  readonly x: number
  readonly y: number
}

async function valueAt(engine: Engine, step: Step | undefined, { x, y }: Place, scale: number): Promise<Rgb | null> {
  if (!step) return null
  const window = { x: Math.floor(x / scale), y: Math.floor(y / scale), width: 1, height: 1 }
  const [r, g, b] = await engine.light(step, window)
  return [r, g, b]
}

async function valuesAt(
  engine: Engine,
  plan: FramePlan,
  selected: string | null,
  places: readonly Place[],
): Promise<PixelValues[]> {
  return Promise.all(
    places.map(async (place) => {
      const [plate, element, composite] = await Promise.all(
        [plan.plate, plan.elements.get(selected ?? ''), plan.composite].map((step) =>
          valueAt(engine, step, place, plan.scale),
        ),
      )
      return { plate, element, composite }
    }),
  )
}

/** @returns one entry for each place, null until it has been read; the newest request wins */
export function usePixelValues(places: readonly Place[]): readonly (PixelValues | null)[] {
  const engine = useEngine()
  const plan = useAppSelector(selectPlan)
  const selected = useAppSelector((state) => state.shot.selected)
  const [values, setValues] = useState<readonly PixelValues[]>([])
  const read = useNewest()
  const placesKey = places.map(({ x, y }) => `${x},${y}`).join(' ')
  useEffect(() => {
    if (!plan || placesKey === '') return
    const at = placesKey.split(' ').map((text) => {
      const [x, y] = text.split(',').map(Number)
      return { x, y }
    })
    read(async () => {
      try {
        setValues(await valuesAt(engine, plan, selected, at))
      } catch {
        // The picture itself says what is wrong with the frame.
        setValues([])
      }
    })
  }, [engine, plan, selected, placesKey, read])
  return places.map((_, i) => values[i] ?? null)
}
