/** For the tests: a shot of made-up frames in memory. */

import type { SourceFrame } from '../engine/source-frame'
import { frameAtScale } from '../engine/source-frame'
import { floatToHalf } from '../image/half'
import type { Planes } from '../image/planes'
import type { Window } from '../image/window'
import type { FrameRequest } from '../graph/steps'
import { newBlend, newTreatment, schemaVersion, type Shot } from '../shot'

export const frameSize = { width: 300, height: 150 }
const display: Window = { x: 0, y: 0, ...frameSize }
/** the CG covers only this */
export const cgWindow: Window = { x: -10, y: 40, width: 120, height: 70 }

export const smallShot: Shot = {
  schema: schemaVersion,
  name: 'small',
  frames: { first: 1001, last: 1010 },
  rate: { numerator: 24, denominator: 1 },
  frameSize,
  pixelAspect: 1,
  workingSpace: 'linear-rec709',
  sources: [
    {
      id: 'plate',
      name: 'Plate',
      path: 'plate.####.exr',
      frames: { first: 1001, last: 1010 },
      claims: { encoding: 'linear', primaries: 'rec709', alpha: 'none' },
    },
    {
      id: 'cg',
      name: 'CG',
      path: 'cg.####.exr',
      frames: { first: 1001, last: 1008 },
      claims: { encoding: 'linear', primaries: 'rec709', alpha: 'premultiplied' },
    },
    {
      id: 'matte',
      name: 'Matte',
      path: 'matte.exr',
      frames: null,
      claims: { encoding: 'linear', primaries: 'rec709', alpha: 'none' },
    },
  ],
  elements: [
    {
      id: 'plate',
      name: 'Plate',
      source: 'plate',
      part: null,
      visible: true,
      blend: newBlend('plate'),
      treatments: [],
    },
    {
      id: 'shadow',
      name: 'Shadow',
      source: 'matte',
      part: null,
      visible: true,
      blend: newBlend('shadow'),
      treatments: [],
    },
    {
      id: 'cg',
      name: 'CG',
      source: 'cg',
      part: 'beauty',
      visible: true,
      blend: newBlend('over'),
      treatments: [newTreatment('veil-and-gain', 'match')],
    },
    {
      id: 'front',
      name: 'Front',
      source: 'matte',
      part: null,
      visible: true,
      blend: newBlend('reveal'),
      treatments: [],
    },
  ],
}

function planes(
  dataWindow: Window,
  names: readonly string[],
  value: (name: string, x: number, y: number) => number,
): Planes {
  return {
    dataWindow,
    displayWindow: display,
    planes: names.map((name) => {
      const samples = new Uint16Array(dataWindow.width * dataWindow.height)
      for (let i = 0; i < samples.length; i++)
        samples[i] = floatToHalf(
          value(name, dataWindow.x + (i % dataWindow.width), dataWindow.y + Math.floor(i / dataWindow.width)),
        )
      return { name, type: 'half' as const, samples }
    }),
  }
}

const tone = { R: 0.05, G: 0.06, B: 0.09 } as Record<string, number>

/** Grainy plate with a negative zero in it, a soft-edged CG disc, a matte with a hard left part. */
export function madeUpFrame({ source, frame }: Pick<FrameRequest, 'source' | 'frame'>): Planes {
  const shift = (frame ?? 0) % 7
  if (source === 'plate')
    return planes(display, ['R', 'G', 'B'], (name, x, y) =>
      x === 3 && y === 3 ? -0 : tone[name] + (((x * 31 + y * 17 + shift * 13) % 97) / 97) * 0.1,
    )
  if (source === 'matte')
    return planes({ x: 20, y: 60, width: 60, height: 50 }, ['Y'], (_name, x) =>
      x < 40 ? 1 : x < 60 ? (60 - x) / 20 : 0,
    )
  const coverage = (x: number, y: number) => Math.min(1, Math.max(0, 30 - Math.hypot(x - 45 - shift, y - 75)))
  return planes(
    cgWindow,
    ['R', 'G', 'B', 'A'],
    (name, x, y) => coverage(x, y) * (name === 'A' ? 1 : (tone[name] ?? 0) * (x % 5) * 0.3),
  )
}

/** How often each file was asked for. */
export const loads = new Map<string, number>()

export async function loadMadeUp(request: FrameRequest): Promise<SourceFrame> {
  loads.set(request.path, (loads.get(request.path) ?? 0) + 1)
  return frameAtScale(madeUpFrame(request), request)
}
