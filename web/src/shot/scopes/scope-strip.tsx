/** The scope under the picture; a waveform's columns stand under the picture's own. */

import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useTheme } from '@mui/material/styles'
import { LRUCache } from 'lru-cache'
import { useEffect, useRef } from 'react'
import { lumaWeights, workingSpaces } from '../../../../core/colour'
import type { Engine } from '../../../../core/engine/engine'
import type { Step } from '../../../../core/graph/steps'
import { intersect, type Window } from '../../../../core/image/window'
import { useEngine } from '../../engine/engine-context'
import { useNewest } from '../../engine/use-newest'
import { useAppSelector } from '../../store'
import { selectDocument, selectElement, selectScopePlan } from '../../store/selectors'
import { drawScope } from './draw-scope'
import type { LayerName, ScopeAnswer, ScopeRequest } from './scope-messages'

export const scopeHeight = 150
const vectorSide = 128
const histogramSteps = 150

function startWorker() {
  const worker = new Worker(new URL('./scope-worker.ts', import.meta.url), { type: 'module' })
  let next = 1
  const ask = (request: Omit<ScopeRequest, 'id'>) =>
    new Promise<ScopeAnswer>((resolve, reject) => {
      const id = next++
      const hear = ({ data }: MessageEvent<ScopeAnswer>) => {
        if (data.id !== id) return
        worker.removeEventListener('message', hear)
        resolve(data)
      }
      worker.addEventListener('message', hear)
      worker.addEventListener('error', (event) => reject(new Error(event.message)), { once: true })
      const buffers = request.layers.map(({ window }) => window.light.buffer)
      worker.postMessage({ ...request, id }, buffers)
    })
  return { ask, end: () => worker.terminate() }
}

type Trace = ScopeAnswer['layers'][number]

/** What was worked out of a layer is kept by its key: while an element changes, the plate does not. */
class KnownTraces {
  private readonly known = new LRUCache<string, Trace>({ max: 60 })

  /**
   * @returns once the light is there, a promise of what is worked out of it: the next light can be made meanwhile
   */
  async of(
    engine: Engine,
    worker: ReturnType<typeof startWorker>,
    layers: readonly (readonly [LayerName, Step])[],
    window: Window,
    how: Pick<ScopeRequest, 'kind' | 'luma' | 'columns'>,
  ): Promise<{ readonly traces: Promise<Trace[]> }> {
    const names = layers.map(([name, { key }]) => `${name} ${key} ${JSON.stringify([window, how])}`)
    const missing = layers.filter((_, i) => !this.known.has(names[i]))
    const lights = await Promise.all(
      missing.map(async ([name, step]) => ({
        name,
        window: { light: await engine.light(step, window), width: window.width, height: window.height },
      })),
    )
    const workOut = async () => {
      const made = lights.length > 0 ? (await worker.ask({ ...how, layers: lights })).layers : []
      const traces = layers.map(([name], i) => this.known.get(names[i]) ?? made.find((layer) => layer.name === name))
      traces.forEach((trace, i) => trace && this.known.set(names[i], trace))
      return traces.filter((trace) => trace !== undefined)
    }
    return { traces: workOut() }
  }
}

/** @param across where the picture lies inside the strip, in screen pixels */
export function ScopeStrip({ left, width, stripWidth }: { left: number; width: number; stripWidth: number }) {
  const engine = useEngine()
  const theme = useTheme()
  const canvas = useRef<HTMLCanvasElement>(null)
  const worker = useRef<ReturnType<typeof startWorker> | null>(null)
  const kind = useAppSelector((state) => state.view.scope)
  const region = useAppSelector((state) => state.view.kept.find((one) => one.width > 1 || one.height > 1))
  const shot = useAppSelector(selectDocument)
  const element = useAppSelector(selectElement)
  const plan = useAppSelector(selectScopePlan)
  const known = useRef(new KnownTraces())
  const show = useNewest()
  useEffect(() => {
    const started = startWorker()
    worker.current = started
    return () => started.end()
  }, [])
  useEffect(() => {
    if (!plan || !shot || kind === 'none') return
    const { scale } = plan
    const whole = {
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
    const window = inside ? intersect(inside, whole) : whole
    const selected = element && plan.elements.get(element.id)
    const isPlate = element?.landing.kind === 'plate'
    const layers: (readonly [LayerName, Step])[] = [['plate', plan.plate]]
    if (selected && !isPlate) layers.push(['element', selected])
    layers.push(['composite', plan.composite])
    const columns = {
      waveform: Math.max(8, Math.round(width / 2)),
      parade: 300,
      histogram: histogramSteps,
      vectorscope: vectorSide,
    }
    show(async () => {
      try {
        if (!worker.current) return
        const luma = lumaWeights(workingSpaces[shot.workingSpace])
        const how = { kind, luma, columns: columns[kind] }
        const { traces } = await known.current.of(engine, worker.current, layers, window, how)
        const drawTraces = (found: readonly Trace[]) => {
          if (!canvas.current) return
          const answer = { id: 0, kind, layers: found }
          const { text, divider, primary } = theme.palette
          drawScope(
            canvas.current,
            answer,
            { left, width },
            {
              text: text.secondary,
              line: divider,
              plate: text.secondary,
              element: primary.main,
              composite: text.primary,
            },
          )
          canvas.current.dataset.drawn = `${kind} ${plan.composite.key}`
          performance.mark('enkrasis:scope')
        }
        traces.then(drawTraces, () => undefined)
      } catch {
        // The picture says what is wrong with the frame.
      }
    })
  }, [engine, plan, shot, element, kind, region, left, width, theme, show])
  return (
    <Box sx={{ height: scopeHeight, borderTop: 1, borderColor: 'divider', position: 'relative' }} data-testid="scope">
      <canvas
        ref={canvas}
        width={Math.max(1, Math.round(stripWidth))}
        height={scopeHeight}
        style={{ display: 'block' }}
      />
      <Typography variant="caption" color="textSecondary" sx={{ position: 'absolute', right: 8, top: 2 }}>
        {kind === 'vectorscope' ? 'colour' : 'stops around 0.18'}
        {region ? `, of region ${region.id}` : ''}: <b>plate</b>,{' '}
        <Box component="b" sx={{ color: 'primary.main' }}>
          {element?.name ?? 'element'}
        </Box>
        {kind === 'vectorscope' ? '' : ', composite as a line'}
      </Typography>
    </Box>
  )
}
