/** Movies, decoded once into the media store: which are, and how far the others have got. */

import { createHash, randomUUID } from 'node:crypto'
import { existsSync } from 'node:fs'
import { stat } from 'node:fs/promises'
import { basename, extname, join } from 'node:path'
import type { MovieStatus } from '../../core/check'
import type { WorkState } from '../../core/work'
import type { WorkStore } from '../work/work-store'
import type { MediaRoots } from './media-roots'
import { readMovieHeader } from './movie-header'
import type { MovieToDecode } from './movie-work'

const decodedFolder = 'decoded'
const wisher = 'media'

const states: Readonly<Record<WorkState, MovieStatus['state']>> = {
  waiting: 'decoding',
  running: 'decoding',
  done: 'done',
  failed: 'failed',
  cancelled: 'stopped',
}

export class Movies {
  constructor(
    private readonly media: MediaRoots,
    private readonly work: WorkStore,
  ) {}

  /**
   * Has a movie decoded, unless that is done or under way.
   *
   * @param path as the browser names it
   * @throws UnreadableMovieError, OutsideMediaError, MissingFileError
   */
  async decodeOnce(path: string): Promise<MovieStatus> {
    const real = await this.media.pathOf(path)
    const folder = await this.folderFor(path, real)
    const known = await this.status(path)
    if (known?.state === 'done') return known
    if (known?.state === 'decoding' && !(await this.isAbandoned(folder))) return known
    const says = await readMovieHeader(real, path)
    const stem = basename(path, extname(path)).replace(/[^\w-]+/g, '_')
    const input: MovieToDecode = { path, says, folder, pattern: `${folder}/${stem}.######.dpx` }
    const before = await this.work.newestOf(keyOf(folder))
    if (before) await this.work.retry(before.id, wisher, true)
    else
      await this.work.wish({
        ...{ id: randomUUID(), kind: 'movie', key: keyOf(folder), title: `${basename(path)} decoded`, input, wisher },
        items: [1],
      })
    return (await this.status(path)) as MovieStatus
  }

  /** @returns null for a movie that was never decoded, or has changed since */
  async status(path: string): Promise<MovieStatus | null> {
    const real = await this.media.pathOf(path)
    const folder = await this.folderFor(path, real)
    const row = await this.work.newestOf(keyOf(folder))
    if (!row) return null
    const [status] = await this.work.statusesOf([row])
    const { says, pattern } = row.input as MovieToDecode
    // Somebody may have cleared the store.
    if (status.state === 'done' && !existsSync(join(this.media.store, folder))) return null
    const counted = (await this.work.resultsOf(row.id)).get(1) as { frames?: number } | undefined
    const began = Date.parse(status.createdAt)
    const until = status.finishedAt === null ? Date.now() : Date.parse(status.finishedAt)
    return {
      path,
      state: states[status.state],
      says,
      done: counted?.frames ?? Math.round(status.progress * (says.frames ?? 0)),
      startedAt: new Date(began).toISOString(),
      elapsedMs: Math.max(0, until - began),
      pattern,
      sentence: status.failed[0]?.sentence ?? status.heldUp,
    }
  }

  async cancel(path: string): Promise<void> {
    const real = await this.media.pathOf(path)
    const row = await this.work.newestOf(keyOf(await this.folderFor(path, real)))
    if (row) await this.work.withdraw(row.id)
  }

  /** Begun by another build of the program, no worker of which has it: decoding gives the same with this one. */
  private async isAbandoned(folder: string): Promise<boolean> {
    const row = await this.work.newestOf(keyOf(folder))
    return row !== null && (await this.work.isAbandoned(row.id))
  }

  /** A movie that changed is another movie. */
  private async folderFor(path: string, real: string): Promise<string> {
    const { size, mtimeMs } = await stat(real)
    const digest = createHash('sha256')
      .update(`${path} ${size} ${Math.round(mtimeMs)}`)
      .digest('hex')
      .slice(0, 12)
    return `${decodedFolder}/${basename(path, extname(path)).replace(/[^\w-]+/g, '_')}-${digest}`
  }
}

const keyOf = (folder: string) => `movie ${folder}`
