/** `enkrasis proof`: reads all witnesses and checks of a shot file on every frame, and says whether it holds up. */

import { dirname, resolve } from 'node:path'
import { filesIn } from '../../core/plan/catalog'
import { PlanMemo } from '../../core/plan/memo'
import { planFrame } from '../../core/plan/plan'
import { inOrder, type Shot } from '../../core/shot'
import {
  countsOn,
  factsOf,
  plansOf,
  proofOf,
  rangeText,
  WitnessReader,
  type FrameRead,
  type Proof,
} from '../../core/witnesses'
import { framesAtOnce, inOrder as endedInOrder } from '../delivery/in-order'
import { writeWhole } from '../delivery/write-whole'
import { catalogOf } from '../media/catalog'
import { placeOf } from '../media/media-roots'
import { proofPage } from '../matching/proof-page'
import { readShotFile } from '../shots/shot-store'
import { startEngine, type EngineOptions } from './start-engine'

export interface ProofOptions extends EngineOptions {
  readonly json?: string
  readonly html?: string
  readonly mediaRoot?: readonly string[]
}

/** Of the program; what drifts goes before what is not judged. */
export const exitStatus: Readonly<Record<Proof['outcome'], number>> = { agrees: 0, drifts: 1, 'not judged': 2 }

export async function proof(file: string, options: ProofOptions): Promise<void> {
  const shot = await readShotFile(resolve(file))
  const place = placeOf(options.mediaRoot, dirname(resolve(file)))
  const { engine, close } = await startEngine(options, (request) => ({ place, request }), true)
  try {
    const files = filesIn(await catalogOf(place, shot))
    const memo = new PlanMemo()
    const plan = (seen: Shot, frame: number, scale: 1 | 2 | 4) => planFrame(seen, frame, scale, files, memo)
    const plans = plansOf(shot, plan)
    const reader = new WitnessReader(engine)
    const { first, last } = shot.frames
    const frames = Array.from({ length: last - first + 1 }, (_, i) => first + i)
    const read = new Map<number, FrameRead>()
    const one = async (frame: number): Promise<FrameRead> => {
      const facts = await factsOf(shot, plan(shot, frame, 1), engine)
      const counting = inOrder(shot.witnesses).filter((witness) => countsOn(shot, witness, frame))
      // Where a file cannot be read, the facts say so.
      const readings = await reader.read(plans, frame, counting).catch(() => null)
      const why = { reference: null, adjusted: null, why: 'the frame could not be read' }
      return { facts, witnesses: Object.fromEntries(counting.map(({ id }, i) => [id, readings?.[i] ?? why])) }
    }
    for await (const ended of endedInOrder(frames, framesAtOnce, one)) {
      if ('error' in ended) throw ended.error
      read.set(ended.item, ended.result)
    }
    const found = proofOf(shot, read)
    if (options.json) await writeWhole(resolve(options.json), JSON.stringify(found, null, 2))
    if (options.html)
      await writeWhole(resolve(options.html), await proofPage(shot, found, engine, (frame) => plan(shot, frame, 1)))
    for (const line of inWords(found)) console.log(line)
    process.exitCode = exitStatus[found.outcome]
  } finally {
    await close()
  }
}

const outcomes: Readonly<Record<Proof['outcome'], string>> = {
  agrees: 'All of it agrees.',
  drifts: 'Something drifts.',
  'not judged': 'Something is not judged yet.',
}

function inWords({ outcome, rows, wanting }: Proof): string[] {
  const lines = rows.flatMap(({ name, kind, drifts, notJudged, worst }) => {
    const what = kind === 'witness' ? `Witness ${name}` : name
    return [
      ...(drifts.length > 0
        ? [`${what} drifts on ${rangeText(drifts)}; worst on ${worst?.frame}: ${worst?.says}.`]
        : []),
      ...(drifts.length === 0 && notJudged.length > 0
        ? [`${what} is not judged on ${rangeText(notJudged)}: ${worst?.says}.`]
        : []),
    ]
  })
  return [...lines, ...wanting, outcomes[outcome]]
}
