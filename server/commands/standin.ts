/** `enkrasis standin`: any demo shot of any seed and size, media and truth in folders apart. */

import { join, resolve } from 'node:path'
import { demoShots } from '../../core/work'
import { NoSuchDemoShotError } from '../demo-shots/demo-shots'
import { runStandInCamera } from '../demo-shots/stand-in-camera'

export interface StandInOptions {
  readonly shot: string
  readonly out: string
  readonly seed?: number
  readonly size?: { readonly width: number; readonly height: number }
  readonly frames?: number
  readonly threads: number
  readonly built: URL
}

export async function standIn({ shot: name, out, threads, built, ...changed }: StandInOptions): Promise<void> {
  const known = demoShots.find((one) => one.name === name)
  if (!known)
    throw new NoSuchDemoShotError(
      `The stand-in camera makes no ${name}. It makes ${demoShots.map((one) => one.name).join(', ')}.`,
    )
  const { seed = known.seed, size = known.size, frames = known.frames } = changed
  const shot = { ...known, seed, size, frames }
  const folder = resolve(out)
  await runStandInCamera({
    ...{ shot, threads, built, output: 'shown' },
    media: join(folder, 'media'),
    truth: join(folder, 'truth'),
  })
}
