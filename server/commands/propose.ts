/** `enkrasis propose`: matches a shot file's renders to its plate by measuring, and writes the shot file that comes of it. */

import { dirname, resolve } from 'node:path'
import { filesIn } from '../../core/plan/catalog'
import { PlanMemo } from '../../core/plan/memo'
import { planInPlate } from '../../core/plan/plan'
import { applyEdit, find, newId, type Shot } from '../../core/shot'
import { accepted, changesOf, matchAll, type Accept, type Matching } from '../../core/witnesses'
import { writeWhole } from '../delivery/write-whole'
import { catalogOf } from '../media/catalog'
import { placeOf } from '../media/media-roots'
import { readShotFile } from '../shots/shot-store'
import { startEngine, type EngineOptions } from './start-engine'

export interface ProposeOptions extends EngineOptions {
  readonly accept: Accept
  readonly out: string
  readonly json?: string
  /** a shot file of the same series */
  readonly gainFrom?: string
  readonly mediaRoot?: readonly string[]
}

export async function propose(file: string, options: ProposeOptions): Promise<void> {
  const shot = await readShotFile(resolve(file))
  const series = options.gainFrom === undefined ? null : await readShotFile(resolve(options.gainFrom))
  const place = placeOf(options.mediaRoot, dirname(resolve(file)))
  const { engine, close } = await startEngine(options, (request) => ({ place, request }), true)
  try {
    const files = filesIn(await catalogOf(place, shot))
    const memo = new PlanMemo()
    const plan = (seen: Shot, frame: number, scale: 1 | 2 | 4) => planInPlate(seen, frame, scale, files, memo)
    const matching = await matchAll(shot, engine, plan, { series })
    const changes = changesOf(shot, { ...matching, parts: accepted(matching.parts, options.accept) })
    const before = { kind: 'keep-try', id: newId(), name: 'before matching' } as const
    const all = changes.length > 0 ? [before, ...changes] : []
    const matched = all.reduce((so, change) => applyEdit(so, change).shot, shot)
    await writeWhole(resolve(options.out), JSON.stringify(matched, null, 2))
    if (options.json) await writeWhole(resolve(options.json), JSON.stringify(matching, null, 2))
    for (const line of inWords(shot, matching)) console.log(line)
    if (all.length === 0) console.log('Nothing was changed.')
  } finally {
    await close()
  }
}

function inWords(shot: Shot, { parts, left }: Matching): string[] {
  const nameOf = (element: string) => find(shot.elements, element)?.name ?? element
  const number = (value: number) => value.toFixed(4)
  return [
    ...parts.map(({ element, what, values, surer, rests }) => {
      const numbers = values.map(({ value, bar }) => `${number(value)} +- ${number(bar)}`).join(', ')
      const basis = `${nameOf(element)}: ${what} ${numbers}, from ${rests.join(' and ')}`
      return surer === null ? basis : `${basis}. Not sure: ${surer}`
    }),
    ...left.map(({ element, what, why }) => `${nameOf(element)}: ${what} is left as it is: ${why}.`),
  ]
}
