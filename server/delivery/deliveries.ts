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
import { col, fn, literal } from 'sequelize'
import type { Engine } from '../../core/engine/engine'
import type { Scale } from '../../core/graph/steps'
import { mostFrames, parseShot, type DeliveryStatus, type SampleChoice, type Shot } from '../../core/shot'
import type { MediaRoots } from '../media/media-roots'
import { filesIn } from '../../core/plan/catalog'
import { catalogOf } from '../media/catalog'
import type { DeliveryFrameRow, DeliveryRow, Models, ShotRow } from '../database/models'
import { renderFrameToFile } from './render-frame'

/** What is asked for cannot be delivered. */
export class ImpossibleDeliveryError extends Error {
  override readonly name = 'ImpossibleDeliveryError'
}

/** There is no such delivery. */
export class NoSuchDeliveryError extends Error {
  override readonly name = 'NoSuchDeliveryError'
}

export interface WantedDelivery {
  readonly first: number
  readonly last: number
  readonly scale: Scale
  readonly samples: SampleChoice
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
  readonly documentOf: (row: ShotRow) => Shot
  /** an engine that reads from the shot's folder */
  readonly engineFor: (shotFolder: string) => Engine
  /** names this server among others; the same after a restart */
  readonly workerName: string
}

const uuid = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i
const queue = 'delivery-frame'
const framesAtOnce = 4
/** As many as anybody reads. */
const mostFailures = 100

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
  async create(row: ShotRow, shot: Shot, { first, last, scale, samples }: WantedDelivery): Promise<DeliveryStatus> {
    const { frames } = shot
    if (last - first >= mostFrames)
      throw new ImpossibleDeliveryError(`A delivery has at most ${mostFrames} frames. Deliver the range in parts.`)
    if (first > last || first < frames.first || last > frames.last) {
      throw new ImpossibleDeliveryError(
        `Frames ${first} to ${last} are not inside the shot's range, ${frames.first} to ${frames.last}. Choose frames inside it.`,
      )
    }
    const id = randomUUID()
    const { models, outRoot } = this.options
    const delivery = await models.deliveries.create({
      id,
      shotId: row.id,
      revision: row.revision,
      document: shot,
      first,
      last,
      scale,
      samples,
      folder: join(outRoot, row.name, id),
    })
    const numbers = Array.from({ length: last - first + 1 }, (_, i) => first + i)
    await models.frames.bulkCreate(numbers.map((frame) => ({ deliveryId: id, frame, state: 'waiting' as const })))
    await this.enqueue(id, numbers)
    return this.report(delivery)
  }

  async list(shotId: string): Promise<DeliveryStatus[]> {
    const rows = await this.options.models.deliveries.findAll({
      where: { shotId },
      order: [['createdAt', 'DESC']],
      limit: 20,
    })
    return Promise.all(rows.map((row) => this.statusOf(row)))
  }

  /** Frames that are done stay; the rest is not rendered. */
  async cancel(id: string): Promise<DeliveryStatus> {
    const { models } = this.options
    const row = uuid.test(id) ? await models.deliveries.findByPk(id) : null
    if (!row) throw new NoSuchDeliveryError('There is no such delivery. Reload the shot.')
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
    const shot = await models.shots.findByPk(delivery.shotId)
    if (!shot) return
    await row.update({ state: 'rendering' })
    const abort = this.aborts.get(deliveryId) ?? new AbortController()
    this.aborts.set(deliveryId, abort)
    try {
      const document = parseShot(delivery.document, shot.name)
      const request = {
        shot: document,
        place: media.place(shot.folder),
        frame,
        scale: delivery.scale,
        samples: delivery.samples,
        files: filesIn(await catalogOf(media.place(shot.folder), document)),
        signal: abort.signal,
      }
      const { clamped } = await renderFrameToFile(engineFor(shot.folder), request, delivery.folder)
      await this.settle(row, 'done', null, clamped)
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

  private async settle(
    row: DeliveryFrameRow,
    state: 'done' | 'failed',
    error: string | null,
    clamped = 0,
  ): Promise<void> {
    await this.options.models.frames.update(
      { state, error, clamped, worker: null },
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

  /** Frames are counted by the database: a delivery of a thousand frames is asked about a thousand times. */
  private async statusOf(row: DeliveryRow): Promise<DeliveryStatus> {
    const { frames } = this.options.models
    const where = { deliveryId: row.id }
    const counts = (await frames.findAll({
      where,
      attributes: [
        'state',
        [fn('COUNT', '*'), 'count'],
        [fn('SUM', col('clamped')), 'values'],
        [literal('COUNT(*) FILTER (WHERE clamped > 0)'), 'clampedFrames'],
      ],
      group: ['state'],
      raw: true,
    })) as unknown as { state: string; count: string; values: string | null; clampedFrames: string }[]
    const count = (...states: string[]) =>
      counts.filter(({ state }) => states.includes(state)).reduce((sum, one) => sum + Number(one.count), 0)
    const failed =
      count('failed') === 0
        ? []
        : await frames.findAll({ where: { ...where, state: 'failed' }, order: [['frame', 'ASC']], limit: mostFailures })
    const running = count('waiting', 'rendering') > 0
    return {
      id: row.id,
      shotId: row.shotId,
      revision: row.revision,
      first: row.first,
      last: row.last,
      scale: row.scale,
      samples: row.samples,
      folder: row.folder,
      state: row.cancelled ? 'cancelled' : running ? 'running' : failed.length > 0 ? 'failed' : 'done',
      done: count('done'),
      total: counts.reduce((sum, one) => sum + Number(one.count), 0),
      failed: failed.map(({ frame, error }) => ({ frame, error: error ?? '' })),
      clamped: {
        frames: counts.reduce((sum, one) => sum + Number(one.clampedFrames), 0),
        values: counts.reduce((sum, one) => sum + Number(one.values ?? 0), 0),
      },
      createdAt: row.createdAt.toISOString(),
      finishedAt: row.finishedAt?.toISOString() ?? null,
    }
  }
}
