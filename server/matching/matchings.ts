/** What was found when a shot was matched: asked for, and told. */

import { randomUUID } from 'node:crypto'
import { contentKey } from '../../core/graph/content-key'
import type { Shot } from '../../core/shot'
import type { ShotMatching } from '../../core/witnesses'
import type { ShotRow } from '../database/models'
import { catalogOf } from '../media/catalog'
import type { MediaRoots } from '../media/media-roots'
import { statusAndResults } from '../work/status-and-results'
import type { WorkStore } from '../work/work-store'
import type { MatchItem } from './match-work'

const onlyItem = 1

export interface MatchWish {
  readonly author?: string
  readonly gainFrom?: ShotRow
}

export class Matchings {
  constructor(
    private readonly work: WorkStore,
    private readonly media: MediaRoots,
  ) {}

  /** The newest. */
  async of(shotId: string): Promise<ShotMatching> {
    const [newest] = await this.work.newestOfShot(shotId, 'match')
    if (!newest) return { work: null, state: null, problem: null, found: null }
    const { status, results } = await statusAndResults(this.work, newest.id)
    const found = (results.get(onlyItem) as MatchItem | undefined) ?? null
    return { work: newest.id, state: status.state, problem: status.failed.at(0)?.sentence ?? null, found }
  }

  /**
   * On the shot as it is, and its files as they are: asked for again, it is there.
   *
   * @param gainFrom another shot of the series
   */
  async match(row: ShotRow, shot: Shot, { author, gainFrom }: MatchWish = {}): Promise<void> {
    const catalog = await catalogOf(this.media.place(row.folder), shot)
    await this.work.wish({
      ...{
        id: randomUUID(),
        kind: 'match',
        shotId: row.id,
        author,
        input: { shot: row.id, gainFrom: gainFrom?.id },
        wisher: 'matching',
      },
      key: `match ${row.id} ${row.revision} ${contentKey(catalog)}${gainFrom ? ` ${gainFrom.id} ${gainFrom.revision}` : ''}`,
      title: `Matching of ${shot.name}`,
      items: [onlyItem],
    })
  }
}
