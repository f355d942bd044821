/** `enkrasis make`: the files of sources that are made here: clean plates, soft mattes. */

import { dirname, resolve } from 'node:path'
import { filesIn } from '../../core/plan/catalog'
import { PlanMemo } from '../../core/plan/memo'
import { madeFrames } from '../../core/making'
import { allOf, type Recipe, type Source } from '../../core/shot'
import { Makers } from '../making/makers'
import { writeMade } from '../making/write-made'
import { catalogOf } from '../media/catalog'
import { placeOf } from '../media/media-roots'
import { readShotFile } from '../shots/shot-store'
import { startEngine, type EngineOptions } from './start-engine'

export interface MakeOptions extends EngineOptions {
  readonly source?: string
  readonly frames?: { first: number; last: number }
  readonly mediaRoot?: readonly string[]
}

type MadeSource = Source & { readonly made: Recipe }
const isMade = (source: Source): source is MadeSource => source.made !== undefined

export async function make(file: string, options: MakeOptions): Promise<void> {
  const shot = await readShotFile(resolve(file))
  const all = allOf(shot.sources).filter(isMade)
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
      const range = madeFrames(source.made, shot)
      const { first, last } = options.frames ?? range ?? shot.frames
      const frames = range
        ? Array.from({ length: last - first + 1 }, (_, i) => first + i - (source.offset ?? 0))
        : [null]
      for (const frame of frames) {
        // Looked at anew: one source may be made of another.
        const files = filesIn(await catalogOf(place, shot))
        const { path, says } = await writeMade(
          { shot, files, memo: new PlanMemo(), place, engine, heavy },
          source,
          frame,
        )
        console.log(`${path}: ${says}`)
      }
    }
  } finally {
    await heavy.close()
    await close()
  }
}
