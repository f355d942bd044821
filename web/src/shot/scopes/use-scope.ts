/** Has the scope's counts made, together with the picture where they are of the same frame and scale. */

import { LRUCache } from 'lru-cache'
import { useEffect, useRef } from 'react'
import { lumaWeights, workingSpaces } from '../../../../core/colour'
import type { Engine } from '../../../../core/engine/engine'
import type { Step } from '../../../../core/graph/steps'
import { intersect, type Window } from '../../../../core/image/window'
import { scopeCounting, scopeTraces, type ScopeKind } from '../../../../core/measure/scopes'
import { useEngine } from '../../engine/engine-context'
import { useNewest } from '../../engine/use-newest'
import { useAppSelector } from '../../store'
import { selectDocument, selectElement, selectScopePlan, selectScopedRegion } from '../../store/selectors'

export type LayerName = 'plate' | 'element' | 'composite'

export interface DrawnScope {
  readonly kind: ScopeKind
  /** one trace, or one each for red, green and blue */
  readonly layers: readonly { readonly name: LayerName; readonly traces: readonly Float32Array[] }[]
  /** names what it was made of */
  readonly about: string
}

/** What was made of a layer is kept by its key: while an element changes, the plate does not. */
type Known = LRUCache<string, Float32Array[]>

async function tracesOf(
  engine: Engine,
  known: Known,
  kind: ScopeKind,
  step: Step,
  window: Window,
  counting: ReturnType<typeof scopeCounting>,
  signal: AbortSignal,
): Promise<Float32Array[]> {
  const name = `${kind} ${step.key} ${JSON.stringify([window, counting])}`
  const found = known.get(name)
  if (found) return found
  const traces = scopeTraces(kind, counting, await engine.counts(step, window, counting, { signal }))
  known.set(name, traces)
  return traces
}

/**
 * @param columns that a waveform has room for
 * @param draw called with every new scope
 */
export function useScope(columns: number, draw: (scope: DrawnScope) => void): void {
  const engine = useEngine()
  const kind = useAppSelector((state) => state.view.looking.scope)
  const region = useAppSelector(selectScopedRegion)
  const shot = useAppSelector(selectDocument)
  const element = useAppSelector(selectElement)
  const plan = useAppSelector(selectScopePlan)
  const known = useRef<Known>(new LRUCache({ max: 60 }))
  const underWay = useRef<{ readonly about: string; readonly abort: AbortController } | null>(null)
  const show = useNewest()
  useEffect(() => {
    if (!plan || !shot || kind === 'none') return
    const { scale } = plan
    const all = {
      x: 0,
      y: 0,
      width: Math.ceil(shot.frameSize.width / scale),
      height: Math.ceil(shot.frameSize.height / scale),
    }
    const inside = region && {
      x: Math.floor(region.x / scale),
      y: Math.floor(region.y / scale),
      width: Math.max(1, Math.ceil(region.width / scale)),
      height: Math.max(1, Math.ceil(region.height / scale)),
    }
    const window = inside ? intersect(inside, all) : all
    const { composite, plate } = plan
    if (!composite) return
    const selected = element && element.id !== shot.plate ? plan.elements.get(element.id) : undefined
    const layers: readonly (readonly [LayerName, Step])[] = [
      ...(plate ? [['plate', plate] as const] : []),
      ...(selected ? [['element', selected] as const] : []),
      ['composite', composite],
    ]
    const counting = scopeCounting(kind, lumaWeights(workingSpaces[shot.workingSpace]), columns, window.width)
    // One of another frame, or of another kind, is called off; one of the same is made to its end, or a drag would show none.
    const about = `${plan.frame} ${scale} ${kind}`
    if (underWay.current && underWay.current.about !== about) underWay.current.abort.abort()
    const abort = new AbortController()
    show(async () => {
      underWay.current = { about, abort }
      try {
        const traced = layers.map(async ([name, step]) => ({
          name,
          traces: await tracesOf(engine, known.current, kind, step, window, counting, abort.signal),
        }))
        draw({ kind, layers: await Promise.all(traced), about: `${kind} ${composite.key}` })
      } catch {
        // It was called off, or the picture says what is wrong with the frame.
      } finally {
        underWay.current = null
      }
    })
  }, [engine, plan, shot, element, kind, region, columns, draw, show])
}
