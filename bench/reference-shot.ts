/**
 * The reference composite: a plate, an element rebuilt from eight passes with shadow, occlusion and a blurred reflection, a
 * holdout in front, matched, softened, bent by a lens map, and a glow and grain over the whole. Sources are made up.
 */

import { frameAtScale, type SourceFrame } from '../core/engine/source-frame'
import type { FrameRequest } from '../core/graph/steps'
import { floatToHalf } from '../core/image/half'
import {
  firstRanks,
  newBlend,
  newElement,
  newShutter,
  newTreatment,
  parametersFor,
  passInputs,
  schemaVersion,
  tableOf,
  type BlendSettings,
  type Claims,
  type Input,
  type Shot,
  type Source,
  type Table,
  type TreatmentSettings,
  type Use,
  type UseOwner,
} from '../core/shot'
import { inputDescriptions } from '../core/set/owners'

export interface Size {
  readonly width: number
  readonly height: number
}

export const passes = Array.from({ length: 8 }, (_, i) => `pass_${i + 1}`)
const last = 1200

interface Layer {
  readonly id: string
  readonly blend: BlendSettings
  readonly inputs: Table<Input>
  readonly treatments: readonly TreatmentSettings[]
}

/** Alpha of one pass, and the light of all the others added up. */
function rebuilt(): Table<Input> {
  const ranks = firstRanks(passes.length + 1)
  const pass = (id: string, part: string, rank: string): Input => ({
    id,
    kind: 'pass',
    parent: 'sum',
    rank,
    parameters: parametersFor(inputDescriptions.pass),
    source: 'cg',
    part,
  })
  return tableOf<Input>([
    { id: 'sum', kind: 'sum', parent: null, rank: ranks[0], parameters: {}, alpha: 'alpha' },
    pass('alpha', 'alpha', ranks[0]),
    ...passes.map((part, i) => pass(part.replace('_', '-'), part, ranks[i + 1])),
  ])
}

export function referenceShot(frameSize: Size): Shot {
  const frames = { first: 1001, last }
  const source = (id: string, alpha: Claims['alpha'], still = false): Source => ({
    id,
    name: id,
    path: still ? `${id}.exr` : `${id}.####.exr`,
    frames: still ? null : frames,
    claims: { encoding: 'linear', primaries: 'rec709', alpha },
  })
  const bent = { ...newTreatment('lens-map', 'lens'), sources: { map: 'lens' } }
  // Keyed over the range, so that every frame's settings differ.
  const drifting = { keyframes: { 1001: 0.02, [last]: 0.03 } }
  const veil = [0.02, 0.022, 0.027]
  const layers: readonly Layer[] = [
    { id: 'plate', blend: newBlend('over'), inputs: passInputs('plate'), treatments: [] },
    { id: 'shadow', blend: newBlend('shadow', { veil }), inputs: passInputs('cg', 'shadow'), treatments: [bent] },
    {
      id: 'occlusion',
      blend: newBlend('occlusion', { veil }),
      inputs: passInputs('cg', 'occlusion'),
      treatments: [bent],
    },
    {
      id: 'reflection',
      blend: newBlend('plus-lighter'),
      inputs: passInputs('cg', 'reflection'),
      treatments: [newTreatment('soften', 'mirrored', { across: [2], down: [6] }), bent],
    },
    {
      id: 'thing',
      blend: newBlend('over'),
      inputs: rebuilt(),
      treatments: [
        newTreatment('veil-and-gain', 'match', {
          veil: [drifting, 0.022, 0.027],
          gain: [1.1, 1, 0.9],
          gamma: [1.05, 1.05, 1.05],
        }),
        newTreatment('saturation', 'duller', { amount: [0.9] }),
        newTreatment('soften', 'softer', { across: [0.8], down: [0.8] }),
        bent,
      ],
    },
    { id: 'front', blend: newBlend('reveal'), inputs: passInputs('front'), treatments: [] },
  ]
  const finish = [
    newTreatment('glow', 'glow', { threshold: [0.8], width: [40], amount: [0.2, 0.2, 0.2] }),
    newTreatment('grain', 'grain', { shot: [0.3, 0.3, 0.5], read: [2, 2, 3] }),
  ]
  const ranks = firstRanks(layers.length)
  return {
    schema: schemaVersion,
    name: 'reference',
    seed: 'reference',
    frames,
    rate: { numerator: 24, denominator: 1 },
    frameSize,
    pixelAspect: 1,
    workingSpace: 'linear-rec709',
    plate: 'plate',
    sources: tableOf([
      source('plate', 'none'),
      source('cg', 'premultiplied'),
      source('front', 'none'),
      source('lens', 'none', true),
    ]),
    elements: tableOf(layers.map(({ id, blend, inputs }, i) => newElement(id, id, ranks[i], blend, inputs))),
    treatments: tableOf([...layers.flatMap(({ treatments }) => treatments), ...finish]),
    uses: tableOf([
      ...layers.flatMap(({ id, treatments }) => usesOf({ kind: 'element', id }, treatments)),
      ...usesOf({ kind: 'finish' }, finish),
    ]),
    tries: { byId: {} },
    samples: tableOf([]),
    markers: tableOf([]),
    witnesses: tableOf([]),
    referenceObjects: tableOf([]),
    tracks: tableOf([]),
    mattes: tableOf([]),
    shutter: newShutter(),
  }
}

function usesOf(owner: UseOwner, settings: readonly TreatmentSettings[]): Use[] {
  const ranks = firstRanks(settings.length)
  const prefix = owner.kind === 'element' ? owner.id : owner.kind
  return settings.map(({ id }, i) => ({
    id: `${prefix}-${id}`,
    rank: ranks[i],
    owner,
    treatment: id,
    on: true,
    limit: null,
  }))
}

const cache = new Map<string, SourceFrame>()

/** A source of the reference shot as the engine takes it; every frame is the same, and made once. */
export function referenceFrame(request: Pick<FrameRequest, 'source' | 'part' | 'takes'>, size: Size): SourceFrame {
  const key = `${request.source} ${request.part} ${size.width}`
  let frame = cache.get(key)
  if (!frame) {
    // A lens map comes as offsets, whatever its file holds.
    const reading = { claims: linear, working: 'rec709', takes: request.takes, reduce: 1, framing: 'file' } as const
    frame = frameAtScale(referenceFile(request, size), { ...reading, frameSize: size })
    cache.set(key, frame)
  }
  return frame
}

const linear = { encoding: 'linear', primaries: 'rec709', alpha: 'premultiplied' } as const

/** What its files hold. */
export function referenceFile(
  { source, part, takes }: Pick<FrameRequest, 'source' | 'part' | 'takes'>,
  size: Size,
): SourceFrame {
  const { width, height } = size
  const displayWindow = { x: 0, y: 0, ...size }
  const [w, h] = [Math.round(width * 0.5), Math.round(height * 0.7)]
  const thing = { x: Math.round(width * 0.2), y: Math.round(height * 0.15), width: w, height: h }
  const dataWindow = source === 'cg' ? thing : displayWindow
  const inside = (x: number, y: number) => Math.hypot((x - width * 0.45) / w, (y - height * 0.5) / h) < 0.45
  const value = (name: string, x: number, y: number): number => {
    if (takes === 'vec2')
      return name === 'R' ? (x + 0.5 + 3 * Math.sin(y / 90)) / width : (y + 0.5 + 2 * Math.cos(x / 80)) / height
    if (source === 'front') return x > width * 0.6 && x < width * 0.65 ? 1 : 0
    if (source === 'plate')
      return 0.1 + 0.08 * Math.sin(x / 60 + name.charCodeAt(0)) + (y > height * 0.8 ? 0 : x % 97 < 2 ? 1.5 : 0)
    if (part === 'shadow') return inside(x, y - 40) ? 0.8 : 0
    if (part === 'occlusion') return inside(x, y - 20) ? 0.6 : 1
    if (!inside(x, y)) return 0
    return name === 'A' ? 1 : 0.03 + 0.02 * Math.sin(x / 9 + y / 7 + name.charCodeAt(0) + Number(part?.slice(-1)) || 0)
  }
  const single = takes === 'scalar'
  const names = single
    ? ['Y']
    : takes === 'vec2'
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
      if (takes === 'vec2')
        return { name, type: 'float' as const, samples: Float32Array.from({ length: count }, (_, i) => at(i)) }
      const samples = new Uint16Array(count)
      for (let i = 0; i < count; i++) samples[i] = floatToHalf(at(i))
      return { name, type: 'half' as const, samples }
    }),
  }
}
