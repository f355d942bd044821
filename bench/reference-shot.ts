/**
 * The reference composite: a plate, an element rebuilt from eight passes with shadow, occlusion and a blurred reflection, a
 * holdout in front, matched, softened, bent by a lens map, and a glow and grain over the whole. Sources are made up.
 */

import type { SourceFrame } from '../core/engine/source-frame'
import type { FrameRequest } from '../core/graph/steps'
import { floatToHalf } from '../core/image/half'
import { newBlend, newTreatment, schemaVersion, type Claims, type Parameters, type Shot } from '../core/shot'
import type { TreatmentKind } from '../core/treatments'
import type { TreatmentSettings } from '../core/shot/types'

export interface Size {
  readonly width: number
  readonly height: number
}

export const passes = Array.from({ length: 8 }, (_, i) => `pass_${i + 1}`)
const last = 1200

function treatment(kind: TreatmentKind, parameters: Parameters, sources?: Record<string, string>): TreatmentSettings {
  const settings = newTreatment(kind, kind)
  return { ...settings, parameters: { ...settings.parameters, ...parameters }, ...(sources ? { sources } : {}) }
}

export function referenceShot(frameSize: Size): Shot {
  const frames = { first: 1001, last }
  const source = (id: string, alpha: Claims['alpha'], still = false) => ({
    id,
    name: id,
    path: still ? `${id}.exr` : `${id}.####.exr`,
    frames: still ? null : frames,
    claims: { encoding: 'linear', primaries: 'rec709', alpha } as const,
  })
  const bent = treatment('lens-map', {}, { map: 'lens' })
  const element = (id: string, part: string | null, blend: Shot['elements'][number]['blend']) => ({
    id,
    name: id,
    source: 'cg',
    part,
    visible: true,
    blend,
  })
  // Keyed over the range, so that every frame's settings differ.
  const drifting = { keys: [1001, last].map((frame, i) => ({ frame, value: 0.02 + 0.01 * i })) }
  const veil = [0.02, 0.022, 0.027]
  return {
    schema: schemaVersion,
    name: 'reference',
    frames,
    rate: { numerator: 24, denominator: 1 },
    frameSize,
    pixelAspect: 1,
    workingSpace: 'linear-rec709',
    sources: [
      source('plate', 'none'),
      source('cg', 'premultiplied'),
      source('front', 'none'),
      source('lens', 'none', true),
    ],
    elements: [
      {
        id: 'plate',
        name: 'plate',
        source: 'plate',
        part: null,
        visible: true,
        blend: newBlend('plate'),
        treatments: [],
      },
      { ...element('shadow', 'shadow', newBlend('shadow', { veil })), treatments: [bent] },
      { ...element('occlusion', 'occlusion', newBlend('occlusion', { veil })), treatments: [bent] },
      {
        ...element('reflection', 'reflection', newBlend('plus-lighter')),
        treatments: [treatment('soften', { across: [2], down: [6] }), bent],
      },
      {
        ...element('thing', 'alpha', newBlend('over')),
        rebuild: passes,
        treatments: [
          treatment('veil-and-gain', {
            veil: [drifting, 0.022, 0.027],
            gain: [1.1, 1, 0.9],
            gamma: [1.05, 1.05, 1.05],
          }),
          treatment('saturation', { amount: [0.9] }),
          treatment('soften', { across: [0.8], down: [0.8] }),
          bent,
        ],
      },
      {
        id: 'front',
        name: 'front',
        source: 'front',
        part: null,
        visible: true,
        blend: newBlend('reveal'),
        treatments: [],
      },
    ],
    finish: [
      treatment('glow', { threshold: [0.8], width: [40], amount: [0.2, 0.2, 0.2] }),
      treatment('grain', { shot: [0.3, 0.3, 0.5], read: [2, 2, 3] }),
    ],
  }
}

const cache = new Map<string, SourceFrame>()

/** What a source of the reference shot holds; every frame is the same, and made once. */
export function referenceFrame(request: Pick<FrameRequest, 'source' | 'part' | 'takes'>, size: Size): SourceFrame {
  const key = `${request.source} ${request.part} ${size.width}`
  let frame = cache.get(key)
  if (!frame) cache.set(key, (frame = make(request, size)))
  return frame
}

function make({ source, part, takes }: Pick<FrameRequest, 'source' | 'part' | 'takes'>, size: Size): SourceFrame {
  const { width, height } = size
  const displayWindow = { x: 0, y: 0, ...size }
  const [w, h] = [Math.round(width * 0.5), Math.round(height * 0.7)]
  const thing = { x: Math.round(width * 0.2), y: Math.round(height * 0.15), width: w, height: h }
  const dataWindow = source === 'cg' ? thing : displayWindow
  const inside = (x: number, y: number) => Math.hypot((x - width * 0.45) / w, (y - height * 0.5) / h) < 0.45
  const value = (name: string, x: number, y: number): number => {
    if (takes === 'map')
      return name === 'R' ? (x + 0.5 + 3 * Math.sin(y / 90)) / width : (y + 0.5 + 2 * Math.cos(x / 80)) / height
    if (source === 'front') return x > width * 0.6 && x < width * 0.65 ? 1 : 0
    if (source === 'plate')
      return 0.1 + 0.08 * Math.sin(x / 60 + name.charCodeAt(0)) + (y > height * 0.8 ? 0 : x % 97 < 2 ? 1.5 : 0)
    if (part === 'shadow') return inside(x, y - 40) ? 0.8 : 0
    if (part === 'occlusion') return inside(x, y - 20) ? 0.6 : 1
    if (!inside(x, y)) return 0
    return name === 'A' ? 1 : 0.03 + 0.02 * Math.sin(x / 9 + y / 7 + name.charCodeAt(0) + Number(part?.slice(-1)) || 0)
  }
  const single = takes === 'matte'
  const names = single
    ? ['Y']
    : takes === 'map'
      ? ['R', 'G']
      : part === 'alpha'
        ? ['R', 'G', 'B', 'A']
        : ['R', 'G', 'B']
  const count = dataWindow.width * dataWindow.height
  return {
    decoded: false,
    dataWindow,
    displayWindow,
    planes: names.map((name) => {
      const at = (i: number) =>
        value(name, dataWindow.x + (i % dataWindow.width), dataWindow.y + Math.floor(i / dataWindow.width))
      if (takes === 'map')
        return { name, type: 'float' as const, samples: Float32Array.from({ length: count }, (_, i) => at(i)) }
      const samples = new Uint16Array(count)
      for (let i = 0; i < count; i++) samples[i] = floatToHalf(at(i))
      return { name, type: 'half' as const, samples }
    }),
  }
}
