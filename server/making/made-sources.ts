/** Sources that are made here: how the making of each stands, and making it. */

import { randomUUID } from 'node:crypto'
import { contentKey } from '../../core/graph/content-key'
import { CannotBeMadeError, madeFrames } from '../../core/making'
import { find, type Shot, type Source } from '../../core/shot'
import type { MakingState } from '../../core/work'
import type { ShotRow } from '../database/models'
import { catalogOf } from '../media/catalog'
import type { MediaRoots } from '../media/media-roots'
import { HeldUpError } from '../work/kind'
import { statusAndResults } from '../work/status-and-results'
import type { WorkStore } from '../work/work-store'
import type { MadeFile } from './write-made'

const onlyItem = 1
const betweenLooksSeconds = 2
const sourceOf = (input: object) => (input as { source: string }).source

export class MadeSources {
  constructor(
    private readonly work: WorkStore,
    private readonly media: MediaRoots,
  ) {}

  /** The newest making of each source. */
  async list(shotId: string): Promise<MakingState[]> {
    const rows = await this.work.newestOfShot(shotId, 'made-source')
    const newest = rows.filter(({ input }, i) => rows.findIndex((one) => sourceOf(one.input) === sourceOf(input)) === i)
    return Promise.all(
      newest.map(async ({ id, input }) => {
        const { status, results } = await statusAndResults(this.work, id)
        const { state, done, total, failed, heldUp, finishedAt } = status
        const [last] = [...results.values()].slice(-1) as MadeFile[]
        return {
          ...{ source: sourceOf(input), work: id, state, done, total, finishedAt },
          says: heldUp ?? failed.at(0)?.sentence ?? last?.says ?? null,
        }
      }),
    )
  }

  /**
   * For work that needs them: what is not being made yet is begun.
   *
   * @param look which sources have no file that is needed, as it is now
   * @param since when the work was wished for: a making that was called off later is not begun again
   * @throws HeldUpError while they are made, and what went wrong with them
   */
  async refuseUnmade(
    row: ShotRow,
    shot: Shot,
    look: () => Promise<readonly Source[]>,
    { since }: { readonly since?: Date } = {},
  ): Promise<void> {
    if ((await look()).length === 0) return
    const known = await this.list(row.id)
    // Looked at again: what ended meanwhile must not be made once more.
    const unmade = await look()
    if (unmade.length === 0) return
    for (const { id, name } of unmade) {
      const making = known.find(({ source }) => source === id)
      if (making?.state === 'failed')
        throw new CannotBeMadeError(
          `${name} could not be made: ${making.says ?? 'no reason is known'} Make it on its card, then deliver again.`,
        )
      if (making?.state === 'cancelled' && since && new Date(making.finishedAt ?? 0) > since)
        throw new CannotBeMadeError(`Making ${name} was called off. Make it on its card, then deliver again.`)
      if (making?.state !== 'running' && making?.state !== 'waiting') await this.make(row, shot, id)
    }
    const [{ id, name }] = unmade
    const now = (await this.list(row.id)).find(({ source }) => source === id)
    const far = now && now.total > 1 ? ` (${now.done} of ${now.total} frames)` : ''
    throw new HeldUpError(`Waits until ${name} is made${far}.`, betweenLooksSeconds)
  }

  /** Made anew, whatever there is of it. @throws CannotBeMadeError */
  async make(row: ShotRow, shot: Shot, id: string, author?: string): Promise<void> {
    const source = find(shot.sources, id)
    if (!source?.made)
      throw new CannotBeMadeError(
        'There is nothing of that kind to be made yet. Wait until the shot is saved, and try again.',
      )
    const range = madeFrames(source.made, shot)
    const items = range ? Array.from({ length: range.last - range.first + 1 }, (_, i) => range.first + i) : [onlyItem]
    const catalog = await catalogOf(this.media.place(row.folder), shot)
    const { [id]: _own, ...others } = catalog
    const key = `made-source ${row.id} ${id} ${row.revision} ${contentKey(others, source.made)}`
    const known = await this.work.newestOf(key)
    if (known?.state === 'open') return
    // Somebody may have taken the files away.
    if (known) return this.work.retry(known.id, 'making', true)
    await this.work.wish({
      ...{ id: randomUUID(), kind: 'made-source', key, shotId: row.id, author, wisher: 'making' },
      title: `${source.name} of ${shot.name}`,
      input: { shot: row.id, source: id },
      items,
    })
  }
}
