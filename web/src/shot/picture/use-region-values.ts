/** Reads what lies at places and in regions of plate, element and composite, as the document and gesture stand. */

import { useEffect, useState } from 'react'
import type { Engine } from '../../../../core/engine/engine'
import type { Step } from '../../../../core/graph/steps'
import { regionValues, type RegionValues } from '../../../../core/measure/scopes'
import type { FramePlan } from '../../../../core/plan/plan'
import { useEngine } from '../../engine/engine-context'
import { useNewest } from '../../engine/use-newest'
import { useAppSelector } from '../../store'
import { selectPlan } from '../../store/selectors'

export interface LayerValues {
  readonly plate: RegionValues | null
  readonly element: RegionValues | null
  readonly composite: RegionValues | null
}

/** Full-scale pixels. */
export interface Region {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

async function valuesOf(
  engine: Engine,
  step: Step | undefined,
  { x, y, width, height }: Region,
  scale: number,
): Promise<RegionValues | null> {
  if (!step) return null
  const [left, top] = [Math.floor(x / scale), Math.floor(y / scale)]
  const window = {
    x: left,
    y: top,
    width: Math.max(1, Math.ceil((x + width) / scale) - left),
    height: Math.max(1, Math.ceil((y + height) / scale) - top),
  }
  return regionValues({ light: await engine.light(step, window), width: window.width, height: window.height })
}

function valuesIn(
  engine: Engine,
  plan: FramePlan,
  selected: string | null,
  regions: readonly Region[],
): Promise<LayerValues[]> {
  return Promise.all(
    regions.map(async (region) => {
      const [plate, element, composite] = await Promise.all(
        [plan.plate, plan.elements.get(selected ?? ''), plan.composite].map((step) =>
          valuesOf(engine, step, region, plan.scale),
        ),
      )
      return { plate, element, composite }
    }),
  )
}

/** @returns one entry for each region, null until it has been read; the newest request wins */
export function useRegionValues(regions: readonly Region[]): readonly (LayerValues | null)[] {
  const engine = useEngine()
  const plan = useAppSelector(selectPlan)
  const selected = useAppSelector((state) => state.shot.selected)
  const [values, setValues] = useState<readonly LayerValues[]>([])
  const read = useNewest()
  const about = JSON.stringify(regions.map(({ x, y, width, height }) => ({ x, y, width, height })))
  useEffect(() => {
    const wanted = JSON.parse(about) as Region[]
    if (!plan || wanted.length === 0) return
    read(async () => {
      try {
        setValues(await valuesIn(engine, plan, selected, wanted))
      } catch {
        // The picture itself says what is wrong with the frame.
        setValues([])
      }
    })
  }, [engine, plan, selected, about, read])
  return regions.map((_, i) => values[i] ?? null)
}
