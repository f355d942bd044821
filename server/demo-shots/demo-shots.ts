/** Demo shots that are not made yet: offered, and made as long work when somebody asks for them. */

import { createHash, randomUUID } from 'node:crypto'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import {
  atSmallSize,
  demoShots,
  secondsToMake,
  type DemoShot,
  type OfferedShot,
  type WorkStatus,
} from '../../core/work'
import type { Configuration } from '../configuration'
import type { WorkKind } from '../work/kind'
import type { WorkStore } from '../work/work-store'
import { runStandInCamera } from './stand-in-camera'

/** There is no such demo shot. */
export class NoSuchDemoShotError extends Error {
  override readonly name = 'NoSuchDemoShotError'
}

type Place = Pick<Configuration, 'media' | 'truthRoot' | 'threads'>

/** Work of the kind `demo-shot`: one item, which goes on where an attempt before it stopped. */
export function demoShotWork({ media, truthRoot, threads }: Place, built: URL): WorkKind<unknown, object> {
  return {
    kind: 'demo-shot',
    async run(input, _item, { signal, progress }) {
      const { shot } = input as { readonly shot: DemoShot }
      const where = { media: media.store, truth: truthRoot, threads, built }
      await runStandInCamera({ shot, ...where, signal, progress, output: 'hidden' })
      return {}
    },
  }
}

export class DemoShots {
  constructor(
    private readonly place: Place,
    private readonly work: WorkStore,
  ) {}

  /** Those that nobody can open yet. */
  offered(): OfferedShot[] {
    return demoShots
      .filter(({ name }) => !existsSync(join(this.place.media.store, name, `${name}.shot.json`)))
      .map((shot) => ({
        ...shot,
        seconds: secondsToMake(shot, this.place.threads),
        ...(shot.small ? { smallSeconds: secondsToMake(atSmallSize(shot), this.place.threads) } : {}),
      }))
  }

  /** @throws NoSuchDemoShotError also for the small size of one that has none */
  async make(name: string, small = false): Promise<WorkStatus> {
    const known = demoShots.find((one) => one.name === name && (!small || one.small))
    if (!known)
      throw new NoSuchDemoShotError(`There is no demo shot ${name}${small ? ' at a small size' : ''}. Reload the list.`)
    const shot = small ? atSmallSize(known) : known
    const digest = createHash('sha256').update(JSON.stringify(shot)).digest('hex').slice(0, 16)
    const key = `demo-shot ${digest}`
    const before = await this.work.newestOf(key)
    if (before && before.state !== 'open') {
      // Somebody has cleared it away, or it was called off.
      await this.work.retry(before.id, 'list', true)
      return this.work.status(before.id)
    }
    const title = `${name} made by the stand-in camera`
    const id = await this.work.wish({
      ...{ id: randomUUID(), kind: 'demo-shot', key, title, input: { shot }, wisher: 'list' },
      items: [1],
    })
    return this.work.status(id)
  }
}
