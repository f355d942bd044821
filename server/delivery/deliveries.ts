/**
 * Deliveries: ranges of frames rendered to files by a queue that keeps its state in PostgreSQL.
 *
 * Every frame is a job of its own, so a range goes on where it stopped, several servers can share the queue, and one bad
 * frame fails alone. A server that starts again frees the frames it was rendering when it died.
 */

import { randomUUID } from 'node:crypto'
import { EventEmitter } from 'node:events'
import { join } from 'node:path'
import PgBoss from 'pg-boss'
import type { Engine } from '../../core/engine/engine'
import type { Scale } from '../../core/graph/steps'
import type { DeliveryStatus } from '../../core/shot'
import type { MediaRoots } from '../media/media-roots'
import { fingerprintFrom } from '../../core/plan/catalog'
import { catalogOf } from '../media/catalog'
import type { DeliveryFrameRow, DeliveryRow, Models, ShotRow } from '../database/models'
import { renderFrameToFile } from './render-frame'

/** What is asked for cannot be handed off. */
export class ImpossibleDeliveryError extends Error {
  override readonly name = 'ImpossibleDeliveryError'
}

interface FrameJob {
  readonly deliveryId: string
  readonly frame: number
}

export interface DeliveryOptions {
  readonly databaseUrl: string
  readonly models: Models
  readonly outRoot: string
  readonly media: MediaRoots
  /** an engine that reads from the shot's folder */
  readonly engineFor: (shotFolder: string) => Engine
  /** names this server among others; the same after a restart */
  readonly workerName: string
}

const queue = 'delivery-frame'
const framesAtOnce = 4

export class Deliveries extends EventEmitter<{ changed: [DeliveryStatus] }> {
  private readonly boss: PgBoss
  private readonly aborts = new Map<string, AbortController>()
  private stopping = false

  constructor(private readonly options: DeliveryOptions) {
    super()
    this.boss = new PgBoss({ connectionString: options.databaseUrl, max: 4 })
    this.boss.on('error', (error) => this.stopping || console.error('The delivery queue has trouble:', error.message))
  }

  async start(): Promise<void> {
    await this.boss.start()
    await this.boss.createQueue(queue)
    await this.resumeOwn()
    await this.boss.work<FrameJob>(queue, { batchSize: framesAtOnce, pollingIntervalSeconds: 0.5 }, async (jobs) => {
      // Taken together, rendered one by one: each is marked first, so that none is lost if this server dies on the way.
      for (const job of jobs) await this.take(job.id, job.data)
      for (const job of jobs) await this.renderOne(job.data)
    })
  }

  async stop(): Promise<void> {
    this.stopping = true
    for (const abort of this.aborts.values()) abort.abort()
    await this.boss.stop({ graceful: true, timeout: 5000, wait: true })
  }

  /** Frames this server was rendering when it died go back into the queue at once. */
  private async resumeOwn(): Promise<void> {
    const { models, workerName } = this.options
    const rows = await models.frames.findAll({ where: { state: ['waiting', 'rendering'], worker: workerName } })
    for (const row of rows) {
      if (row.queueJob) await this.boss.cancel(queue, row.queueJob)
      await row.update({ state: 'waiting', worker: null, queueJob: null })
      await this.enqueue(row.deliveryId, [row.frame])
    }
  }

  private async enqueue(deliveryId: string, frames: readonly number[]): Promise<void> {
    await this.boss.insert(
      frames.map((frame) => ({
        id: randomUUID(),
        name: queue,
        data: { deliveryId, frame } satisfies FrameJob,
        retryLimit: 2,
        expireInSeconds: 900,
      })),
    )
  }

  /** @throws ImpossibleDeliveryError for a range outside the shot's */
  async create(row: ShotRow, first: number, last: number, scale: Scale): Promise<DeliveryStatus> {
    const { frames } = row.document
    if (first > last || first < frames.first || last > frames.last) {
      throw new ImpossibleDeliveryError(
        `Frames ${first} to ${last} are not inside the shot's range, ${frames.first} to ${frames.last}. Choose frames inside it.`,
      )
    }
    const id = randomUUID()
    const { models, outRoot } = this.options
    const delivery = await models.deliveries.create({
      id,
      shotName: row.name,
      revision: row.revision,
      document: row.document,
      first,
      last,
      scale,
      folder: join(outRoot, row.name, id),
    })
    const numbers = Array.from({ length: last - first + 1 }, (_, i) => first + i)
    await models.frames.bulkCreate(numbers.map((frame) => ({ deliveryId: id, frame, state: 'waiting' as const })))
    await this.enqueue(id, numbers)
    return this.report(delivery)
  }

  async list(shotName: string): Promise<DeliveryStatus[]> {
    const rows = await this.options.models.deliveries.findAll({
      where: { shotName },
      order: [['createdAt', 'DESC']],
      limit: 20,
    })
    return Promise.all(rows.map((row) => this.statusOf(row)))
  }

  /** Frames that are done stay; the rest is not rendered. */
  async cancel(id: string): Promise<DeliveryStatus> {
    const { models } = this.options
    const row = await models.deliveries.findByPk(id)
    if (!row) throw new ImpossibleDeliveryError(`There is no delivery ${id}.`)
    if (row.finishedAt === null) {
      await row.update({ cancelled: true, finishedAt: new Date() })
      await models.frames.update({ state: 'cancelled' }, { where: { deliveryId: id, state: ['waiting', 'rendering'] } })
      this.aborts.get(id)?.abort()
    }
    return this.report(row)
  }

  private async take(queueJob: string, { deliveryId, frame }: FrameJob): Promise<void> {
    await this.options.models.frames.update(
      { worker: this.options.workerName, queueJob },
      { where: { deliveryId, frame, state: 'waiting' } },
    )
  }

  private async renderOne({ deliveryId, frame }: FrameJob): Promise<void> {
    const { models, engineFor, media } = this.options
    const [delivery, row] = await Promise.all([
      models.deliveries.findByPk(deliveryId),
      models.frames.findOne({ where: { deliveryId, frame } }),
    ])
    if (!delivery || !row || delivery.cancelled || row.state === 'done' || row.state === 'cancelled') return
    if (this.stopping) throw new Error('The server is stopping; the frame waits for the next one.')
    const shot = await models.shots.findByPk(delivery.shotName)
    if (!shot) return
    await row.update({ state: 'rendering' })
    const abort = this.aborts.get(deliveryId) ?? new AbortController()
    this.aborts.set(deliveryId, abort)
    try {
      const fingerprint = fingerprintFrom(await catalogOf(media.place(shot.folder), delivery.document))
      const request = {
        shot: delivery.document,
        place: media.place(shot.folder),
        frame,
        scale: delivery.scale,
        fingerprint,
        signal: abort.signal,
      }
      await renderFrameToFile(engineFor(shot.folder), request, delivery.folder)
      await this.settle(row, 'done', null)
    } catch (error) {
      if (abort.signal.aborted && this.stopping) {
        await row.update({ state: 'waiting' })
        throw error
      }
      if (!abort.signal.aborted)
        await this.settle(row, 'failed', `Frame ${frame}: ${error instanceof Error ? error.message : String(error)}`)
    }
    await this.finishIfComplete(deliveryId)
  }

  private async settle(row: DeliveryFrameRow, state: 'done' | 'failed', error: string | null): Promise<void> {
    await this.options.models.frames.update(
      { state, error, worker: null },
      { where: { deliveryId: row.deliveryId, frame: row.frame, state: 'rendering' } },
    )
  }

  private async finishIfComplete(deliveryId: string): Promise<void> {
    const { models } = this.options
    const delivery = await models.deliveries.findByPk(deliveryId)
    if (!delivery) return
    const left = await models.frames.count({ where: { deliveryId, state: ['waiting', 'rendering'] } })
    if (left === 0) {
      this.aborts.delete(deliveryId)
      if (delivery.finishedAt === null) await delivery.update({ finishedAt: new Date() })
    }
    await this.report(delivery)
  }

  private async report(row: DeliveryRow): Promise<DeliveryStatus> {
    const status = await this.statusOf(row)
    this.emit('changed', status)
    return status
  }

  private async statusOf(row: DeliveryRow): Promise<DeliveryStatus> {
    const frames = await this.options.models.frames.findAll({
      where: { deliveryId: row.id },
      order: [['frame', 'ASC']],
    })
    const failed = frames.filter((f) => f.state === 'failed').map((f) => ({ frame: f.frame, error: f.error ?? '' }))
    const running = frames.some((f) => f.state === 'waiting' || f.state === 'rendering')
    return {
      id: row.id,
      shotName: row.shotName,
      revision: row.revision,
      first: row.first,
      last: row.last,
      scale: row.scale,
      folder: row.folder,
      state: row.cancelled ? 'cancelled' : running ? 'running' : failed.length > 0 ? 'failed' : 'done',
      done: frames.filter((f) => f.state === 'done').length,
      total: frames.length,
      failed,
      createdAt: row.createdAt.toISOString(),
      finishedAt: row.finishedAt?.toISOString() ?? null,
    }
  }
}
