/** For the tests: a shot of made-up frames in memory. */

import type { SourceFrame } from '../engine/source-frame'
import { boundsAtScale, channelsFor, fileWindowOf, frameAtScale } from '../engine/source-frame'
import { croppedPlanes } from '../image/cropped-planes'
import { floatToHalf } from '../image/half'
import type { Planes } from '../image/planes'
import { intersect, type Window } from '../image/window'
import type { FrameRequest } from '../graph/steps'
import type { Scale } from '../graph/steps'
import type { Files } from '../plan/catalog'
import { planFrame } from '../plan/plan'
import { matteDescriptions, shapeDescription } from '../set/owners'
import {
  firstRanks,
  lastRank,
  newBlend,
  newElement,
  newShutter,
  newTreatment,
  parametersFor,
  passInputs,
  schemaVersion,
  tableOf,
  usesOf,
  type Element,
  type Matte,
  type Places,
  type Shot,
  type Source,
  type Track,
  type TreatmentSettings,
  type Use,
} from '../shot'

export const frameSize = { width: 300, height: 150 }
const display: Window = { x: 0, y: 0, ...frameSize }
/** the CG covers only this */
export const cgWindow: Window = { x: -10, y: 40, width: 120, height: 70 }

const range = { first: 1001, last: 1010 }
const linear = (alpha: Source['claims']['alpha']) => ({ encoding: 'linear', primaries: 'rec709', alpha }) as const
const [one, two, three, four] = firstRanks(4)

const pointRanks = firstRanks(4)
/** A square of 40 pixels with straight sides. */
const squareAt = (x: number, y: number): Places =>
  Object.fromEntries(
    [
      [0, 0],
      [40, 0],
      [40, 40],
      [0, 40],
    ].map(([dx, dy], i) => [`p${i}`, { x: x + dx, y: y + dy, before: [0, 0], after: [0, 0] }]),
  )

export const smallShot: Shot = {
  schema: schemaVersion,
  name: 'small',
  seed: 'small',
  frames: range,
  rate: { numerator: 24, denominator: 1 },
  frameSize,
  pixelAspect: 1,
  workingSpace: 'linear-rec709',
  plate: 'plate',
  sources: tableOf<Source>([
    { id: 'plate', name: 'Plate', path: 'plate.####.exr', frames: range, claims: linear('none') },
    { id: 'cg', name: 'CG', path: 'cg.####.exr', frames: { first: 1001, last: 1008 }, claims: linear('premultiplied') },
    { id: 'matte', name: 'Matte', path: 'matte.exr', frames: null, claims: linear('none') },
  ]),
  elements: tableOf([
    newElement('plate', 'Plate', one, newBlend('over'), passInputs('plate')),
    newElement('shadow', 'Shadow', two, newBlend('shadow'), passInputs('matte')),
    newElement('cg', 'CG', three, newBlend('over'), passInputs('cg', 'beauty')),
    newElement('front', 'Front', four, newBlend('reveal'), passInputs('matte')),
  ]),
  treatments: tableOf([newTreatment('veil-and-gain', 'match')]),
  uses: tableOf<Use>([
    { id: 'match', rank: one, owner: { kind: 'element', id: 'cg' }, treatment: 'match', on: true, limit: null },
  ]),
  tries: { byId: {} },
  samples: tableOf([]),
  markers: tableOf([]),
  witnesses: tableOf([]),
  referenceObjects: tableOf([]),
  tracks: tableOf<Track>([
    {
      ...{ id: 'corner', name: 'Corner', rank: one, model: 'translation', radius: 10, search: 12 },
      points: {
        1001: { x: 60.5, y: 70.5, byHand: true },
        1002: { x: 63, y: 70, across: 0.03, down: 0.04, likeness: 0.98 },
        1003: { x: 66.5, y: 71.5, across: 0.03, down: 0.04, likeness: 0.97 },
      },
    },
  ]),
  mattes: tableOf<Matte>([
    {
      ...{ id: 'post', name: 'Post', rank: one, kind: 'drawn' },
      parameters: parametersFor(matteDescriptions.drawn),
      shapes: tableOf([
        {
          ...{ id: 'outline', name: 'Outline', rank: one, how: 'add' },
          points: tableOf(pointRanks.map((rank, i) => ({ id: `p${i}`, rank }))),
          keyframes: { 1001: squareAt(20, 10), 1005: squareAt(28, 14) },
          parameters: parametersFor(shapeDescription),
        },
      ]),
    },
    {
      ...{ id: 'bright', name: 'Bright', rank: two, kind: 'keyed', element: 'plate', choices: { by: 'luma' } },
      parameters: parametersFor(matteDescriptions.keyed),
    },
  ]),
  shutter: newShutter(),
}

/** The shot with an element of it changed. */
export function withElement(shot: Shot, id: string, changes: Partial<Element>): Shot {
  return { ...shot, elements: { byId: { ...shot.elements.byId, [id]: { ...shot.elements.byId[id], ...changes } } } }
}

/** The shot with a source of it changed. */
export function withSource(shot: Shot, id: string, changes: Partial<Source>): Shot {
  return { ...shot, sources: { byId: { ...shot.sources.byId, [id]: { ...shot.sources.byId[id], ...changes } } } }
}

/** The shot with a treatment on an element or on the finish, after those that are there. */
export function treated(shot: Shot, owner: Use['owner'], settings: TreatmentSettings, given: Partial<Use> = {}): Shot {
  const rank = lastRank(usesOf(shot, owner))
  const use: Use = { id: settings.id, rank, owner, treatment: settings.id, on: true, limit: null, ...given }
  return {
    ...shot,
    treatments: { byId: { ...shot.treatments.byId, [settings.id]: settings } },
    uses: { byId: { ...shot.uses.byId, [use.id]: use } },
  }
}

/** Files of a shot that are all there, each with the same fingerprint. */
export function allThere(fingerprint: string | ((source: Source, number: number | null) => string) = 'there'): Files {
  return {
    fingerprint: typeof fingerprint === 'string' ? () => fingerprint : fingerprint,
    before: (_source, number) => number - 1,
  }
}

/** The plan of a frame that has a picture. */
export function pictureOf(shot: Shot, frame: number, scale: Scale = 1, files = allThere()) {
  const plan = planFrame(shot, frame, scale, files)
  const { composite, plate } = plan
  if (!composite || !plate) throw new Error(plan.problems.map(({ sentence }) => sentence).join(' '))
  return { ...plan, composite, plate }
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
    (name, x, y) => coverage(x, y) * (name === 'A' ? 1 : (tone[name] ?? 0) * ((x - shift + 10) % 5) * 0.3),
  )
}

/** How often each file was asked for. */
export const loads = new Map<string, number>()

export async function loadMadeUp(request: FrameRequest, _signal?: AbortSignal, window?: Window): Promise<SourceFrame> {
  loads.set(request.path, (loads.get(request.path) ?? 0) + 1)
  const file = madeUpFrame(request)
  // As the readers of real files give them: the channels that the request takes, a grey one three times.
  const names = channelsFor(
    request,
    file.planes.map(({ name }) => name),
  )
  const taken = names.flatMap((name) => file.planes.filter((plane) => plane.name === name))
  const { dataWindow: fileWindow } = file
  const part = window ? intersect(fileWindow, fileWindowOf(window, file, request)) : fileWindow
  const cut = [...croppedPlanes(taken, fileWindow, part)]
  return frameAtScale({ ...file, dataWindow: part, fileWindow, planes: cut }, request)
}

/** As the headers of real files give it. */
export async function boundsMadeUp(request: FrameRequest): Promise<Window> {
  return boundsAtScale(madeUpFrame(request), request)
}
