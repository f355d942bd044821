/** `enkrasis make`: the files of sources that are made here: clean plates, soft mattes. */

import { dirname, resolve } from 'node:path'
import type { Engine } from '../../core/engine/engine'
import { filesIn } from '../../core/plan/catalog'
import { PlanMemo } from '../../core/plan/memo'
import { madeFrames } from '../../core/making'
import { isMadeHere, unmadeAt, type MadeSource } from '../../core/plan/unmade'
import { allOf, type Shot } from '../../core/shot'
import { Makers } from '../making/makers'
import { writeMade } from '../making/write-made'
import { catalogOf } from '../media/catalog'
import type { MediaPlace } from '../media/read-frame'
import { placeOf } from '../media/media-roots'
import { readShotFile } from '../shots/shot-store'
import { startEngine, type EngineOptions } from './start-engine'

export interface MakeOptions extends EngineOptions {
  readonly source?: string
  readonly frames?: { first: number; last: number }
  readonly mediaRoot?: readonly string[]
}

export async function make(file: string, options: MakeOptions): Promise<void> {
  const shot = await readShotFile(resolve(file))
  const all = allOf(shot.sources).filter(isMadeHere)
  const wanted = all.filter(({ name }) => options.source === undefined || name === options.source)
  if (wanted.length === 0)
    throw new Error(
      options.source === undefined
        ? `${shot.name} has no sources that are made here.`
        : `${shot.name} makes no source "${options.source}". It makes: ${all.map(({ name }) => name).join(', ') || 'none'}.`,
    )
  const place = placeOf(options.mediaRoot, dirname(resolve(file)))
  const { engine, close } = await startEngine(options, (request) => ({ place, request }), true)
  const heavy = new Makers(new URL('maker.mjs', options.built), options.threads)
  try {
    for (const source of wanted) {
      const { first, last } = options.frames ?? madeFrames(source.made, shot) ?? shot.frames
      await makeFrames({ shot, place, engine, heavy }, source, { first, last })
    }
  } finally {
    await heavy.close()
    await close()
  }
}

interface Making {
  readonly shot: Shot
  readonly place: MediaPlace
  readonly engine: Engine
  readonly heavy: Makers
}

async function makeFrames(
  making: Making,
  source: MadeSource,
  { first, last }: { readonly first: number; readonly last: number },
): Promise<void> {
  const { shot, place } = making
  const frames = madeFrames(source.made, shot)
    ? Array.from({ length: last - first + 1 }, (_, i) => first + i - (source.offset ?? 0))
    : [null]
  for (const frame of frames) {
    // Looked at anew: one source may be made of another.
    const files = filesIn(await catalogOf(place, shot))
    const { path, says } = await writeMade({ ...making, files, memo: new PlanMemo() }, source, frame)
    console.log(`${path}: ${says}`)
  }
}

/** What frames need of sources that are made here, and what is not there yet. */
export async function makeMissing(
  { shot, place, engine }: Omit<Making, 'heavy'>,
  { first, last }: { readonly first: number; readonly last: number },
  { built, threads }: EngineOptions,
): Promise<void> {
  let heavy: Makers | null = null
  try {
    for (let frame = first; frame <= last; frame++)
      for (const source of unmadeAt(shot, frame, filesIn(await catalogOf(place, shot)))) {
        heavy ??= new Makers(new URL('maker.mjs', built), threads)
        await makeFrames({ shot, place, engine, heavy }, source, { first: frame, last: frame })
      }
  } finally {
    await heavy?.close()
  }
}
