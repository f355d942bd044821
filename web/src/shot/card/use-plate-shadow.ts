/** What light the plate's own shadows leave, from two samples on the same ground. */

import { useEffect, useState } from 'react'
import { readSide, shadowRatio, type Rgb, type ShadowRatio } from '../../../../core/match'
import { valueAt } from '../../../../core/motion/curve'
import type { Element } from '../../../../core/shot'
import { useEngine } from '../../engine/engine-context'
import { useNewest } from '../../engine/use-newest'
import { useAppSelector } from '../../store'
import { planOf } from '../../store/plans'
import { selectCatalog, selectDocument, selectFrame, type PlacedSample } from '../../store/selectors'

/** The veil as it is set counts as known to so much. */
const errorOfVeil = 0.0005

export interface TwoSamples {
  readonly lit: PlacedSample
  readonly shadowed: PlacedSample
}

/** @returns null until it is read, and without samples; a sentence where it cannot be told */
export function usePlateShadow(element: Element, samples: TwoSamples | null): ShadowRatio | string | null {
  const engine = useEngine()
  const shot = useAppSelector(selectDocument)
  const catalog = useAppSelector(selectCatalog)
  const frame = useAppSelector(selectFrame)
  const [found, setFound] = useState<ShadowRatio | string | null>(null)
  const ask = useNewest()
  useEffect(() => {
    const plate = shot && samples && planOf(shot, frame, 1, catalog).reference
    ask(async () => {
      if (!plate || !samples) return setFound(null)
      try {
        const read = await engine.measure(plate, [samples.lit, samples.shadowed], { noise: true })
        const [lit, shadowed] = read.map(readSide)
        if (!lit || !shadowed) return setFound('One of the samples lies beyond the plate.')
        const light = element.blend.parameters.veil.map((curve) => valueAt(curve, frame)) as unknown as Rgb
        const veil = { light, error: [errorOfVeil, errorOfVeil, errorOfVeil] as const }
        setFound(
          shadowRatio(lit, shadowed, veil) ??
            'The ground in the light is not told from the veil: take ground that is better lit.',
        )
      } catch (error) {
        setFound(error instanceof Error ? error.message : String(error))
      }
    })
  }, [engine, shot, catalog, frame, element, samples, ask])
  return found
}
