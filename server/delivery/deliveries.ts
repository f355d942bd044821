/**
 * Deliveries: what is asked for, under which version, in which folder, and which files came of it. The frames are items of
 * long work (server/work); a preview movie and a proof are made by its last item.
 */

import { randomUUID } from 'node:crypto'
import { lstat, mkdir, readdir, rm } from 'node:fs/promises'
import { isAbsolute, join, relative } from 'node:path'
import { QueryTypes, type Sequelize } from 'sequelize'
import {
  deliveryFault,
  holdsAllFrames,
  versionName,
  type DeliveredFile,
  type DeliveryStatus,
  type WantedDelivery,
} from '../../core/delivery'
import type { Shot } from '../../core/shot'
import type { WorkStatus } from '../../core/work'
import type { DeliveryRow, Models, ShotRow } from '../database/models'
import type { WorkStore } from '../work/work-store'
import { unfinishedMark } from './write-whole'

/** What is asked for cannot be delivered. */
export class ImpossibleDeliveryError extends Error {
  override readonly name = 'ImpossibleDeliveryError'
}

/** There is no such delivery, or it has no such file. */
export class NoSuchDeliveryError extends Error {
  override readonly name = 'NoSuchDeliveryError'
}

/** The files of the delivery were removed. */
export class RemovedDeliveryError extends Error {
  override readonly name = 'RemovedDeliveryError'
}

const removedSentence = ({ version }: DeliveryRow) =>
  `The files of ${versionName(version)} were removed and are not made again. Deliver once more.`

export interface DeliveriesOptions {
  readonly sequelize: Sequelize
  readonly models: Models
  readonly work: WorkStore
  /** folder of deliveries */
  readonly root: string
}

const uuid = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i
const mostListed = 50
/** Folders that are there already are passed over; beyond so many something else is wrong. */
const mostVersionsPassed = 10_000

export class Deliveries {
  constructor(private readonly options: DeliveriesOptions) {}

  /**
   * The version is counted while the shot's row is locked, and its folder made: what cannot be written is found out here.
   *
   * @throws ImpossibleDeliveryError
   */
  async create(row: ShotRow, shot: Shot, wanted: WantedDelivery, author?: string): Promise<DeliveryStatus> {
    const fault = deliveryFault(shot, wanted)
    if (fault) throw new ImpossibleDeliveryError(fault)
    const { models, work, sequelize } = this.options
    const { first, last, scale, outputs } = wanted
    const id = randomUUID()
    const numbers = Array.from({ length: last - first + 1 }, (_, i) => first + i)
    const atLast = outputs.some(({ format }) => holdsAllFrames(format))
    await sequelize.transaction(async (transaction) => {
      await models.shots.findByPk(row.id, { lock: transaction.LOCK.UPDATE, transaction, attributes: ['id'] })
      const newest = await models.deliveries.max<number | null, DeliveryRow>('version', {
        where: { shotId: row.id },
        transaction,
      })
      const { version, folder } = await this.newFolder(row.name, (newest ?? 0) + 1)
      await models.deliveries.create(
        {
          ...{ id, shotId: row.id, revision: row.revision, document: shot },
          ...{ version, first, last, scale, outputs, folder },
        },
        { transaction },
      )
      await work.wish(
        {
          id,
          kind: 'delivery',
          key: `delivery ${id}`,
          shotId: row.id,
          title: `${row.name} ${versionName(version)}, ${first} to ${last}`,
          author,
          input: { delivery: id },
          items: atLast ? [...numbers, last + 1] : numbers,
          ...(atLast ? { lastItem: last + 1 } : {}),
          wisher: `delivery ${id}`,
        },
        transaction,
      )
    })
    return this.status(id)
  }

  /** Newest first. */
  async list(shotId: string): Promise<DeliveryStatus[]> {
    const rows = await this.options.models.deliveries.findAll({
      where: { shotId },
      order: [['version', 'DESC']],
      limit: mostListed,
      attributes: { exclude: ['document'] },
    })
    return this.statusesOf(rows)
  }

  /** @throws NoSuchDeliveryError */
  async status(id: string): Promise<DeliveryStatus> {
    const [status] = await this.statusesOf([await this.find(id)])
    return status
  }

  /** Complete files, by name. @throws NoSuchDeliveryError */
  async files(id: string): Promise<DeliveredFile[]> {
    const folder = this.folderOf(await this.find(id))
    const names = (await readdir(folder).catch(() => [])).filter(isDelivered).sort()
    return Promise.all(names.map(async (name) => ({ name, bytes: (await lstat(join(folder, name))).size })))
  }

  /** @returns the whole path of one of its files. @throws NoSuchDeliveryError */
  async pathOf(id: string, name: string): Promise<string> {
    const row = await this.find(id)
    const known = (await this.files(id)).some((file) => file.name === name)
    if (!known) throw new NoSuchDeliveryError(`This delivery has no file ${name}. Reload the shot.`)
    return join(this.folderOf(row), name)
  }

  /** What is under way is called off; the files go, the entry stays and says so. @throws NoSuchDeliveryError */
  async remove(id: string): Promise<DeliveryStatus> {
    const row = await this.find(id)
    await this.options.work.withdraw(id)
    // In this order: a worker that writes a file after it has gone finds that out, and clears up (`clearIfRemoved`).
    await row.update({ removed: true })
    await this.removeFiles(row)
    return this.status(id)
  }

  /**
   * For whoever has just written a file of the delivery: takes the files away again if it was removed meanwhile.
   *
   * @throws RemovedDeliveryError if it was
   */
  async clearIfRemoved(row: DeliveryRow): Promise<void> {
    // After every frame: its document is not read for that.
    const now = await this.options.models.deliveries.findByPk(row.id, { attributes: ['removed'] })
    if (now && !now.removed) return
    await this.removeFiles(row)
    throw new RemovedDeliveryError(removedSentence(row))
  }

  /** @throws RemovedDeliveryError when its files were removed: they are not made again */
  async refuseRemoved(id: string): Promise<void> {
    const row = await this.find(id)
    if (row.removed) throw new RemovedDeliveryError(removedSentence(row))
  }

  private async removeFiles(row: DeliveryRow): Promise<void> {
    // Somebody may be writing into it.
    await rm(this.folderOf(row), { recursive: true, force: true, maxRetries: 10 })
  }

  /** @throws NoSuchDeliveryError */
  async find(id: string): Promise<DeliveryRow> {
    const row = uuid.test(id) ? await this.options.models.deliveries.findByPk(id) : null
    if (!row) throw new NoSuchDeliveryError('There is no such delivery. Reload the shot.')
    return row
  }

  folderOf({ folder }: Pick<DeliveryRow, 'folder'>): string {
    // Earlier programs noted whole paths.
    return isAbsolute(folder) ? folder : join(this.options.root, folder)
  }

  /** A folder that is there already, of whatever origin, is never written into. */
  private async newFolder(shot: string, from: number): Promise<{ readonly version: number; readonly folder: string }> {
    const { root } = this.options
    for (let version = from; version < from + mostVersionsPassed; version++) {
      const folder = join(shot, versionName(version))
      try {
        await mkdir(join(root, shot), { recursive: true })
        await mkdir(join(root, folder))
        return { version, folder }
      } catch (error) {
        const { code } = error as NodeJS.ErrnoException
        if (code !== 'EEXIST')
          throw new ImpossibleDeliveryError(
            `The folder ${folder} below the folder of deliveries cannot be made (${code ?? String(error)}). Check its permissions and the room on the disk.`,
          )
      }
    }
    throw new ImpossibleDeliveryError(`There are too many folders of ${shot}. Clear the folder of deliveries.`)
  }

  private async statusesOf(rows: readonly DeliveryRow[]): Promise<DeliveryStatus[]> {
    if (rows.length === 0) return []
    const { models, work, sequelize, root } = this.options
    const ids = rows.map(({ id }) => id)
    const works = await work.statusesOf(await models.work.findAll({ where: { id: ids } }))
    const sums = await sequelize.query<Sums>(
      `SELECT "workId", coalesce(sum((result->>'bytes')::bigint), 0)::float AS bytes,
         coalesce(sum((result->>'clamped')::bigint), 0)::float AS values,
         count(*) FILTER (WHERE (result->>'clamped')::bigint > 0)::int AS frames
       FROM work_items WHERE "workId" IN (:ids) AND state = 'done' GROUP BY "workId"`,
      { replacements: { ids }, type: QueryTypes.SELECT },
    )
    return rows.flatMap((row) => {
      const about = works.find(({ id }) => id === row.id)
      if (!about) return []
      const sum = sums.find(({ workId }) => workId === row.id)
      return [statusOf(row, about, sum, isAbsolute(row.folder) ? relative(root, row.folder) : row.folder)]
    })
  }
}

interface Sums {
  readonly workId: string
  readonly bytes: number
  readonly values: number
  readonly frames: number
}

function statusOf(row: DeliveryRow, work: WorkStatus, sums: Sums | undefined, folder: string): DeliveryStatus {
  const { id, shotId, revision, version, first, last, scale, outputs, removed } = row
  const clamped = { frames: sums?.frames ?? 0, values: sums?.values ?? 0 }
  return {
    ...{ id, shotId, revision, version, first, last, scale, outputs, removed, work, folder, clamped },
    bytes: sums?.bytes ?? 0,
  }
}

/** Neither unfinished nor a movie's frames. */
const isDelivered = (name: string) => !name.includes(unfinishedMark) && !name.startsWith('.')
