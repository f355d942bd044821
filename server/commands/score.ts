/**
 * `enkrasis score`: how far a shot's composite is from the truth that the stand-in camera keeps.
 *
 * The one place that reads the truth: whatever matches must not know it.
 */

import { existsSync } from 'node:fs'
import { readFile } from 'node:fs/promises'
import { dirname, join, resolve } from 'node:path'
import { array, number, object } from 'yup'
import type { Engine } from '../../core/engine/engine'
import { colour, fileStep } from '../../core/graph/steps'
import { primariesSteps, workingSpaces } from '../../core/colour'
import { quantile } from '../../core/measure/sample'
import type { Window } from '../../core/image/window'
import { filesIn, type Files } from '../../core/plan/catalog'
import { PlanMemo } from '../../core/plan/memo'
import { planFrame, type FramePlan } from '../../core/plan/plan'
import { refuseProblems, UnplannedError } from '../../core/plan/problem'
import { pictureOf, scoreFrame, type FrameScore, type Plane, type TrueGrain } from '../../core/score'
import { elementsInOrder, type Shot } from '../../core/shot'
import { writeWhole } from '../delivery/write-whole'
import { catalogOf } from '../media/catalog'
import { placeOf } from '../media/media-roots'
import { readShotFile } from '../shots/shot-store'
import { startEngine, type EngineOptions } from './start-engine'

export interface ScoreOptions extends EngineOptions {
  readonly truth: string
  readonly frames?: { first: number; last: number }
  readonly json?: string
  readonly mediaRoot?: readonly string[]
}

/** No truth of this shot, or none of a frame. */
export class NoTruthError extends Error {
  override readonly name = 'NoTruthError'
}

/** Beside its own truth the plate differs by its veil's small changes, and by shadows. */
const mostOutside = 4

interface Scored {
  readonly frame: number
  readonly score: FrameScore
}

const threeNumbers = () => array(number().required()).length(3).required()
const truthFile = object({
  camera: object({ recording: object({ shot: threeNumbers(), read: threeNumbers() }).required() }).required(),
})

export async function score(file: string, options: ScoreOptions): Promise<void> {
  const shot = await readShotFile(resolve(file))
  const { first, last } = options.frames ?? shot.frames
  const folder = truthFolder(shot, options.truth)
  const grain = await grainOf(folder)
  const place = placeOf(options.mediaRoot, dirname(resolve(file)))
  // The truth lies where no shot may read.
  const { engine, close } = await startEngine(
    options,
    (request) =>
      request.path.startsWith(folder) ? { place: { roots: [folder], folder }, request } : { place, request },
    true,
  )
  const scored: Scored[] = []
  try {
    const files = filesIn(await catalogOf(place, shot))
    const memo = new PlanMemo()
    for (let frame = first; frame <= last; frame++) {
      const found = await scoreOf(engine, shot, frame, files, memo, folder, grain)
      if (!found) continue
      if (found.outside.median > mostOutside)
        throw new NoTruthError(
          `The truth in ${folder} is of another picture: where nothing covers it, frame ${frame} differs by dE ${found.outside.median.toFixed(1)}. Name the truth that was made with the files of ${shot.name}.`,
        )
      scored.push({ frame, score: found })
      console.log(`${frame}: ${inWords(found)}`)
    }
  } finally {
    await close()
  }
  if (scored.length === 0) throw new NoTruthError(`No element of ${shot.name} is seen on frames ${first} to ${last}.`)
  const overall = overallOf(scored)
  console.log(`all: ${overall.sentence}`)
  if (options.json !== undefined)
    await writeWhole(
      resolve(options.json),
      `${JSON.stringify({ shot: shot.name, overall: overall.values, frames: scored }, null, 2)}\n`,
    )
}

function truthFolder(shot: Shot, given: string): string {
  const folder = [join(resolve(given), shot.name), resolve(given)].find((one) => existsSync(join(one, 'truth.json')))
  if (!folder)
    throw new NoTruthError(
      `${given} holds no truth of ${shot.name}. The stand-in camera writes it into the folder that its --truth names.`,
    )
  return folder
}

async function grainOf(folder: string): Promise<TrueGrain> {
  const { camera } = truthFile.validateSync(JSON.parse(await readFile(join(folder, 'truth.json'), 'utf8')))
  return camera.recording
}

async function scoreOf(
  engine: Engine,
  shot: Shot,
  frame: number,
  files: Files,
  memo: PlanMemo,
  folder: string,
  grain: TrueGrain,
): Promise<FrameScore | null> {
  const truth = join(folder, `${shot.name}_truth.${String(frame).padStart(4, '0')}.exr`)
  if (!existsSync(truth))
    throw new NoTruthError(`${folder} has no truth of frame ${frame}. Make it, or score other frames.`)
  const plan = planFrame(shot, frame, 1, files, memo)
  refuseProblems(plan.problems)
  if (!plan.composite) throw new UnplannedError(`${shot.name} has no picture at frame ${frame}.`)
  const { width, height } = shot.frameSize
  const window = { x: 0, y: 0, width, height }
  const once = { once: true }
  const toView = primariesSteps(workingSpaces[shot.workingSpace], 'rec709')
  const ours = await engine.light(colour(plan.composite, toView), window, once)
  const claims = { encoding: 'linear', primaries: 'rec709', alpha: 'none' } as const
  const theirs = await engine.light(fileStep(truth, truth, 'rgba', claims, 'rec709'), window, once)
  const coverage = await coverageOf(engine, shot, plan, window)
  return scoreFrame(pictureOf(ours, width, height), pictureOf(theirs, width, height), coverage, grain)
}

/** Of everything that is laid over the plate, less what is revealed in front of it. */
async function coverageOf(engine: Engine, shot: Shot, { elements }: FramePlan, window: Window): Promise<Plane> {
  const { width, height } = window
  const values = new Float64Array(width * height)
  for (const { element } of elementsInOrder(shot)) {
    const step = elements.get(element.id)
    const { kind } = element.blend
    if (!step || element.id === shot.plate || !element.visible || (kind !== 'over' && kind !== 'reveal')) continue
    const light = await engine.light(step, window, { once: true })
    for (let i = 0; i < values.length; i++) {
      const alpha = Math.min(1, Math.max(0, light[i * 4 + 3]))
      values[i] = kind === 'over' ? values[i] + alpha * (1 - values[i]) : values[i] * (1 - alpha)
    }
  }
  return { width, height, values }
}

function inWords({ inside, edges, similarity, spectrum, edgeSpread, registration, grain }: FrameScore): string {
  const place = Math.hypot(registration.x, registration.y)
  return [
    `inside dE ${inside.median.toFixed(2)} (95 %: ${inside.percentile95.toFixed(2)})`,
    `edges dE ${edges.median.toFixed(2)} (95 %: ${edges.percentile95.toFixed(2)})`,
    `similarity ${similarity.toFixed(3)}`,
    `spectrum ${spectrum.toFixed(2)}`,
    `edge spread ${edgeSpread === null ? '-' : edgeSpread.toFixed(2)}`,
    `registration ${place.toFixed(2)} px`,
    ...(grain ? [`grain ${grain.map((ratio) => ratio.toFixed(2)).join(' ')}`] : []),
  ].join(', ')
}

/** Medians over the frames; of the far end, the worst frame's. */
function overallOf(scored: readonly Scored[]) {
  const median = (value: (one: FrameScore) => number | null) => {
    const known = scored.map(({ score: one }) => value(one)).filter((one) => one !== null)
    return known.length === 0 ? null : quantile(Float64Array.from(known).sort(), 0.5)
  }
  const worst = (value: (one: FrameScore) => number) => Math.max(...scored.map(({ score: one }) => value(one)))
  const values = {
    insideMedian: median(({ inside }) => inside.median),
    inside95: worst(({ inside }) => inside.percentile95),
    edgesMedian: median(({ edges }) => edges.median),
    edges95: worst(({ edges }) => edges.percentile95),
    similarity: median(({ similarity }) => similarity),
    spectrum: median(({ spectrum }) => spectrum),
    edgeSpread: median(({ edgeSpread }) => edgeSpread),
    registration: median(({ registration: { x, y } }) => Math.hypot(x, y)),
    grain: [0, 1, 2].map((c) => median(({ grain }) => grain?.[c] ?? null)),
  }
  const text = (value: number | null) => (value === null ? '-' : value.toFixed(2))
  const sentence = `inside dE ${text(values.insideMedian)}, edges dE ${text(values.edgesMedian)}, similarity ${text(values.similarity)}, edge spread ${text(values.edgeSpread)}, registration ${text(values.registration)} px, grain ${values.grain.map(text).join(' ')}`
  return { values, sentence }
}
