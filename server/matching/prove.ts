/** Reads all witnesses and checks of a shot on every frame, and puts its proof together; commands and deliveries share this. */

import type { Engine } from '../../core/engine/engine'
import type { Files } from '../../core/plan/catalog'
import { PlanMemo } from '../../core/plan/memo'
import { planInPlate } from '../../core/plan/plan'
import { inOrder, type FrameRange, type Shot } from '../../core/shot'
import { countsOn, factsOf, plansOf, proofOf, WitnessReader, type FrameRead, type Proof } from '../../core/witnesses'
import { framesAtOnce, inOrder as endedInOrder } from '../delivery/in-order'
import { writeWhole } from '../delivery/write-whole'
import { lookOf } from '../engine/look-of'
import { proofPage } from './proof-page'

export interface ShotToProve {
  readonly shot: Shot
  readonly files: Files
  /** of the document; null where it comes from a file that has none */
  readonly revision: number | null
  /** those that are proven; absent: all of the shot */
  readonly frames?: FrameRange
  readonly signal?: AbortSignal
}

/** Where the proof is written: as data, as a page. */
export interface ProofFiles {
  readonly json?: string
  readonly html?: string
}

/** @throws what making pictures throws, and where it is called off; a file that cannot be read is told in the proof */
export async function prove(
  engine: Engine,
  { shot: whole, files, revision, frames: range = whole.frames, signal = new AbortController().signal }: ShotToProve,
  to: ProofFiles,
  attempt?: string,
): Promise<Proof> {
  const shot: Shot = { ...whole, frames: range }
  const memo = new PlanMemo()
  const plan = (seen: Shot, frame: number, scale: 1 | 2 | 4) => planInPlate(seen, frame, scale, files, memo)
  const look = lookOf(engine, signal)
  const plans = plansOf(shot, plan)
  const reader = new WitnessReader(look)
  const numbers = Array.from({ length: range.last - range.first + 1 }, (_, i) => range.first + i)
  const read = new Map<number, FrameRead>()
  const one = async (frame: number): Promise<FrameRead> => {
    const facts = await factsOf(shot, plan(shot, frame, 1), look, signal)
    const counting = inOrder(shot.witnesses).filter((witness) => countsOn(shot, witness, frame))
    // Where a file cannot be read, the facts say so.
    const readings = await reader.read(plans, frame, counting).catch(() => null)
    signal.throwIfAborted()
    const why = { reference: null, adjusted: null, why: 'the frame could not be read' }
    return { facts, witnesses: Object.fromEntries(counting.map(({ id }, i) => [id, readings?.[i] ?? why])) }
  }
  for await (const ended of endedInOrder(numbers, framesAtOnce, one)) {
    if ('error' in ended) throw ended.error
    read.set(ended.item, ended.result)
  }
  const proof = proofOf(shot, read, revision)
  if (to.json) await writeWhole(to.json, JSON.stringify(proof, null, 2), attempt)
  if (to.html) await writeWhole(to.html, await proofPage(shot, proof, engine, (frame) => plan(shot, frame, 1)), attempt)
  return proof
}
