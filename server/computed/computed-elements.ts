/** Elements that are kept computed: which, what there is of them, and letting go of them. */

import { randomUUID } from 'node:crypto'
import type { ComputedElement } from '../../core/work'
import { find, type Shot } from '../../core/shot'
import type { ShotRow } from '../database/models'
import { statusAndResults } from '../work/status-and-results'
import type { WorkStore } from '../work/work-store'
import type { ComputedFiles } from './computed-files'
import type { ComputedItem } from './computed-work'

/** The element cannot be kept computed. */
export class ImpossibleToKeepError extends Error {
  override readonly name = 'ImpossibleToKeepError'
}

export class ComputedElements {
  constructor(
    private readonly work: WorkStore,
    private readonly files: ComputedFiles,
  ) {}

  async list(shotId: string): Promise<ComputedElement[]> {
    const rows = await this.rowsOf(shotId)
    return Promise.all(
      rows.map(async ({ id, input }) => {
        const { status, results } = await statusAndResults(this.work, id)
        const items = [...results.values()] as ComputedItem[]
        return {
          element: (input as { element: string }).element,
          work: id,
          ...{ done: status.done, total: status.total },
          bytes: items.reduce((sum, { bytes }) => sum + bytes, 0),
          keys: keysOf(items),
        }
      }),
    )
  }

  /**
   * Computes it on every frame of the shot, or again if it is kept already: what has not changed is found on the disk.
   *
   * @throws ImpossibleToKeepError
   */
  async keep(row: ShotRow, shot: Shot, id: string, author?: string): Promise<void> {
    const element = find(shot.elements, id)
    if (!element) throw new ImpossibleToKeepError(`${shot.name} has no such element. Reload the shot.`)
    const known = (await this.rowsOf(row.id)).find(({ input }) => (input as { element: string }).element === id)
    const { first, last } = shot.frames
    const key = `computed ${row.id} ${id} ${first} ${last}`
    if (known?.key === key) return this.work.retry(known.id, 'kept', true)
    // The shot has another range now; what is on the disk is found again by its key.
    if (known) await this.work.forget(known.id)
    await this.work.wish({
      ...{ id: randomUUID(), kind: 'computed', key, shotId: row.id, author },
      title: `${element.name} kept computed, ${first} to ${last}`,
      input: { shot: row.id, element: id },
      items: Array.from({ length: last - first + 1 }, (_, i) => first + i),
      wisher: 'kept',
    })
  }

  /** What nobody else keeps is removed from the disk. */
  async letGo(shotId: string, element: string): Promise<void> {
    const own = new Set<string>()
    for (const { id, input } of await this.rowsOf(shotId)) {
      if ((input as { element: string }).element !== element) continue
      for (const key of keysOf((await this.work.resultsOf(id)).values())) own.add(key)
      await this.work.forget(id)
    }
    const used = await this.usedKeys()
    await this.files.remove([...own].filter((key) => !used.has(key)))
  }

  /** Removes files that belong to no element that is kept: it has changed and was computed again, or a worker was killed. */
  async removeUnused(): Promise<void> {
    await this.files.removeAllBut(await this.usedKeys())
  }

  private async usedKeys(): Promise<ReadonlySet<string>> {
    return new Set(keysOf(await this.work.allResultsOf('computed')))
  }

  private rowsOf(shotId: string) {
    return this.work.newestOfShot(shotId, 'computed')
  }
}

const keysOf = (results: Iterable<object>): string[] =>
  [...(results as Iterable<ComputedItem>)].flatMap(({ keys }) => keys.filter((key) => key !== null))
