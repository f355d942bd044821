/** Reads what lies at places and in regions of plate, element and composite, as the document and gesture stand. */

import { useEffect, useState } from 'react'
import type { Engine } from '../../../../core/engine/engine'
import type { Step, Way } from '../../../../core/graph/steps'
import type { Window } from '../../../../core/image/window'
import type { AsRead } from '../../../../core/look/looking'
import { along, wayBack } from '../../../../core/motion/way'
import { regionValues, type RegionValues } from '../../../../core/measure/scopes'
import type { FramePlan } from '../../../../core/plan/plan'
import { useEngine } from '../../engine/engine-context'
import { useNewest } from '../../engine/use-newest'
import { useAppSelector } from '../../store'
import { selectAsRead, selectElementId, selectOutput, selectPlan } from '../../store/selectors'
import type { Units } from '../../store/view'

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

function windowOf({ x, y, width, height }: Region, scale: number): Window {
  const [left, top] = [Math.floor(x / scale), Math.floor(y / scale)]
  return {
    x: left,
    y: top,
    width: Math.max(1, Math.ceil((x + width) / scale) - left),
    height: Math.max(1, Math.ceil((y + height) / scale) - top),
  }
}

/** A region of the plate where the picture shows it: its middle goes there, its size stays. */
function movedBy(output: Way, region: Region): Region {
  const back = wayBack(output)
  const { x, y, width, height } = region
  const middle = back && along(back)(x + width / 2, y + height / 2)
  return middle ? { ...region, x: Math.round(middle[0] - width / 2), y: Math.round(middle[1] - height / 2) } : region
}

/** Reads pixels as numbers of the units asked for; the screen's are the very bytes that are shown. */
async function valuesOf(engine: Engine, step: Step, window: Window, asRead: AsRead): Promise<RegionValues> {
  const asked = asRead(step)
  const light = asked.view
    ? Float32Array.from(await engine.view(asked.step, window, asked.view))
    : await engine.light(asked.step, window)
  return regionValues({ light, width: window.width, height: window.height })
}

function valuesIn(
  engine: Engine,
  plan: FramePlan,
  selected: string | null,
  regions: readonly Region[],
  asRead: AsRead,
  output: Way | null,
): Promise<LayerValues[]> {
  const layers = [plan.plate, plan.elements.get(selected ?? ''), plan.composite]
  return Promise.all(
    regions.map(async (region) => {
      const window = windowOf(region, plan.scale)
      // The whole picture may be moved in the end: what is read of it is what is seen there.
      const seen = output ? windowOf(movedBy(output, region), plan.scale) : window
      const [plate, element, composite] = await Promise.all(
        layers.map((step, i) => (step ? valuesOf(engine, step, i === 2 ? seen : window, asRead) : null)),
      )
      return { plate, element, composite }
    }),
  )
}

/** @returns one entry for each region, null until it has been read; the newest request wins */
export function useRegionValues(regions: readonly Region[], units: Units): readonly (LayerValues | null)[] {
  const engine = useEngine()
  const plan = useAppSelector(selectPlan)
  const selected = useAppSelector(selectElementId)
  const output = useAppSelector(selectOutput)
  const asRead = useAppSelector((state) => selectAsRead(state, units))
  const [values, setValues] = useState<readonly LayerValues[]>([])
  const ask = useNewest()
  const about = JSON.stringify(regions.map(({ x, y, width, height }) => ({ x, y, width, height })))
  useEffect(() => {
    const wanted = JSON.parse(about) as Region[]
    if (!plan || wanted.length === 0) return
    ask(async () => {
      try {
        setValues(await valuesIn(engine, plan, selected, wanted, asRead, output))
      } catch {
        // The picture itself says what is wrong with the frame.
        setValues([])
      }
    })
  }, [engine, plan, selected, about, asRead, output, ask])
  return regions.map((_, i) => values[i] ?? null)
}
