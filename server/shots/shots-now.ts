/** Shots as they are now, for long work: what changed since it was asked for is wanted as it became. */

import { LRUCache } from 'lru-cache'
import { filesIn, type Catalog, type Files } from '../../core/plan/catalog'
import { PlanMemo } from '../../core/plan/memo'
import { parseShot, type Shot } from '../../core/shot'
import type { Models, ShotRow } from '../database/models'
import { catalogOf } from '../media/catalog'
import type { MediaRoots } from '../media/media-roots'

export interface ShotNow {
  readonly row: ShotRow
  readonly shot: Shot
  readonly files: Files
  /** of plans of this document */
  readonly memo: PlanMemo
}

/** Looking for all files of a shot takes as long as reading the windows of a frame. */
const catalogMs = 2000
const mostShots = 5

export class ShotsNow {
  private readonly shots = new LRUCache<string, { readonly shot: Shot; readonly memo: PlanMemo }>({ max: mostShots })
  private readonly catalogs = new LRUCache<string, Promise<Catalog>>({ max: mostShots, ttl: catalogMs })

  constructor(
    private readonly models: Models,
    private readonly media: MediaRoots,
  ) {}

  /** @throws Error when the shot is gone; what looking for its files throws */
  async of(id: string): Promise<ShotNow> {
    const row = await this.models.shots.findByPk(id)
    if (!row) throw new Error('The shot of this work is gone.')
    const name = `${row.id} ${row.revision}`
    const known = this.shots.get(name) ?? { shot: parseShot(row.document, row.name), memo: new PlanMemo() }
    this.shots.set(name, known)
    return { row, ...known, files: filesIn(await this.catalog(name, row, known.shot)) }
  }

  private catalog(name: string, row: ShotRow, shot: Shot): Promise<Catalog> {
    const known = this.catalogs.get(name)
    if (known) return known
    const looked = catalogOf(this.media.place(row.folder), shot)
    this.catalogs.set(name, looked)
    looked.catch(() => this.catalogs.delete(name))
    return looked
  }
}
