/** `enkrasis proof`: reads all witnesses and checks of a shot file on every frame, and says whether it holds up. */

import { dirname, resolve } from 'node:path'
import { filesIn } from '../../core/plan/catalog'
import { rangeText, type Proof } from '../../core/witnesses'
import { catalogOf } from '../media/catalog'
import { placeOf } from '../media/media-roots'
import { prove } from '../matching/prove'
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
    const to = { json: options.json && resolve(options.json), html: options.html && resolve(options.html) }
    const found = await prove(engine, { shot, files, revision: null }, to)
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
