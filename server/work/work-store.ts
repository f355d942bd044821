/**
 * Long work in the database: what is wanted, who has it, how it stands.
 *
 * Items are taken by leases on the database's clock. A result counts only for the attempt that has the item at present, so
 * a worker that was thought dead changes nothing any more. Everything that ends an item locks its work first, so that
 * exactly one of them finds that it was the last.
 */

import { Op, QueryTypes, type Sequelize, type Transaction } from 'sequelize'
import type { WorkKindName, WorkStatus } from '../../core/work'
import type { WorkModels, WorkRow } from './models'
import { changedWorkChannel, newWorkChannel } from './notifications'

/** There is no such work. */
export class NoSuchWorkError extends Error {
  override readonly name = 'NoSuchWorkError'
}

export interface WantedWork {
  readonly id: string
  readonly kind: WorkKindName
  /** equal key, equal result */
  readonly key: string
  readonly shotId?: string
  readonly title: string
  readonly author?: string
  readonly input: object
  /** numbers of its items */
  readonly items: readonly number[]
  /** the number of an item that is begun when all others are done */
  readonly lastItem?: number
  /** who wants it */
  readonly wisher: string
}

export interface TakenItem {
  readonly workId: string
  readonly number: number
  readonly attempt: number
  readonly tries: number
  readonly kind: WorkKindName
  readonly input: unknown
}

/** A worker that is not heard of for so long has lost its items. */
export const leaseSeconds = 10
/** As many failures as anybody reads. */
const mostFailures = 100
const mostListed = 50
const uuid = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i

export class WorkStore {
  /** @param build hash of this program: work of another one is left alone */
  constructor(
    private readonly sequelize: Sequelize,
    readonly models: WorkModels,
    readonly build: string,
  ) {}

  /** Adds a wish for the work; it is made once, however many wish for it. @returns its id, which may be an older one's */
  async wish(wanted: WantedWork, transaction?: Transaction): Promise<string> {
    if (!transaction) return this.sequelize.transaction((own) => this.wish(wanted, own))
    const { work, items, wishes } = this.models
    const { id, kind, key, shotId = null, title, author = null, input, wisher, lastItem } = wanted
    // Two who wish for the same at the same moment take turns.
    await this.run('SELECT pg_advisory_xact_lock(hashtextextended(:key, 7015833))', { key }, transaction)
    const known = await work.findOne({ where: { key, build: this.build, state: ['open', 'done'] }, transaction })
    const workId = known?.id ?? id
    if (!known) {
      await work.create({ id, kind, key, shotId, title, author, input, build: this.build }, { transaction })
      await items.bulkCreate(
        wanted.items.map((number) => ({ workId: id, number, last: number === lastItem })),
        { transaction },
      )
      await this.tell(newWorkChannel, '', transaction)
    }
    await wishes.findOrCreate({ where: { workId, wisher }, transaction })
    await this.tell(changedWorkChannel, workId, transaction)
    return workId
  }

  /** Up to `count` items for this worker, those of the oldest work first. */
  async take(worker: string, kinds: readonly WorkKindName[], count: number): Promise<TakenItem[]> {
    return this.sequelize.transaction(async (transaction) => {
      const taken = await this.rows<TakenItem>(
        `UPDATE work_items item
         SET state = 'running', attempt = attempt + 1, worker = :worker, progress = 0,
             lease = clock_timestamp() + make_interval(secs => :lease)
         FROM work
         WHERE work.id = item."workId" AND (item."workId", item.number) IN (
           SELECT one."workId", one.number FROM work_items one JOIN work ON work.id = one."workId"
           WHERE work.state = 'open' AND work.build = :build AND work.kind IN (:kinds)
             AND (one.state = 'waiting' OR (one.state = 'running' AND one.lease < clock_timestamp()))
             AND (one."notBefore" IS NULL OR one."notBefore" <= clock_timestamp())
             AND (NOT one.last OR NOT EXISTS (
               SELECT 1 FROM work_items other WHERE other."workId" = one."workId" AND NOT other.last AND other.state <> 'done'))
           ORDER BY work."createdAt", one.number LIMIT :count FOR UPDATE OF one SKIP LOCKED)
         RETURNING item."workId", item.number, item.attempt, item.tries, work.kind, work.input`,
        { worker, lease: leaseSeconds, build: this.build, kinds, count },
        transaction,
      )
      const ids = [...new Set(taken.map(({ workId }) => workId))]
      if (ids.length > 0) {
        await this.run(
          `UPDATE work SET "startedAt" = clock_timestamp() WHERE id IN (:ids) AND "startedAt" IS NULL`,
          { ids },
          transaction,
        )
        for (const id of ids) await this.tell(changedWorkChannel, id, transaction)
      }
      return taken
    })
  }

  /** Keeps the worker's items for another while. @returns those that it still has */
  async keep(
    worker: string,
    progress: readonly { readonly item: TakenItem; readonly share: number }[],
  ): Promise<readonly Pick<TakenItem, 'workId' | 'number' | 'attempt'>[]> {
    for (const { item, share } of progress) {
      const [changed] = await this.models.items.update(
        { progress: share },
        { where: { workId: item.workId, number: item.number, attempt: item.attempt, state: 'running' } },
      )
      if (changed > 0) await this.tell(changedWorkChannel, item.workId)
    }
    return this.rows(
      `UPDATE work_items SET lease = clock_timestamp() + make_interval(secs => :lease)
       WHERE worker = :worker AND state = 'running' RETURNING "workId", number, attempt`,
      { worker, lease: leaseSeconds },
    )
  }

  /** @returns false when the item is not this attempt's any more; nothing has changed then */
  finish(item: TakenItem, result: object): Promise<boolean> {
    return this.settle(item, { state: 'done', result: JSON.stringify(result), error: null })
  }

  /** @returns as `finish` */
  fail(item: TakenItem, sentence: string): Promise<boolean> {
    return this.settle(item, { state: 'failed', result: null, error: sentence })
  }

  /** The item waits again. @param tried whether this counts as a failure that may have been a passing one */
  async putBack(item: TakenItem, seconds: number, sentence: string | null, tried = false): Promise<void> {
    await this.run(
      `UPDATE work_items SET state = 'waiting', worker = NULL, lease = NULL, error = :sentence, tries = tries + :tried,
         "notBefore" = clock_timestamp() + make_interval(secs => :seconds)
       WHERE "workId" = :workId AND number = :number AND attempt = :attempt AND state = 'running'`,
      { ...keyOf(item), seconds, sentence, tried: tried ? 1 : 0 },
    )
    await this.tell(changedWorkChannel, item.workId)
    if (seconds === 0) await this.tell(newWorkChannel, '')
  }

  /** Withdraws a wish, or all of them; what nobody wishes for any more is called off. What is done stays. */
  async withdraw(id: string, wisher?: string): Promise<void> {
    await this.sequelize.transaction(async (transaction) => {
      await this.lock(id, transaction)
      const { work, items, wishes } = this.models
      await wishes.destroy({ where: { workId: id, ...(wisher === undefined ? {} : { wisher }) }, transaction })
      if ((await wishes.count({ where: { workId: id }, transaction })) > 0) return
      const [changed] = await work.update(
        { state: 'cancelled', finishedAt: new Date() },
        { where: { id, state: 'open' }, transaction },
      )
      if (changed > 0)
        await items.update(
          { state: 'cancelled', worker: null },
          { where: { workId: id, state: ['waiting', 'running'] }, transaction },
        )
      await this.tell(changedWorkChannel, id, transaction)
    })
  }

  /** What failed or was called off is made again by this build. @param everything also what is done */
  async retry(id: string, wisher: string, everything = false): Promise<void> {
    await this.sequelize.transaction(async (transaction) => {
      await this.lock(id, transaction)
      const { work, items, wishes } = this.models
      await items.update(
        { state: 'waiting', error: null, worker: null, lease: null, notBefore: null, tries: 0, progress: 0 },
        { where: { workId: id, ...(everything ? {} : { state: ['failed', 'cancelled', 'waiting'] }) }, transaction },
      )
      await work.update(
        // It is as new: how long it took before says nothing of how long it takes.
        { state: 'open', createdAt: new Date(), startedAt: null, finishedAt: null, build: this.build },
        { where: { id, ...(everything ? {} : { state: ['open', 'failed', 'cancelled'] }) }, transaction },
      )
      await wishes.findOrCreate({ where: { workId: id, wisher }, transaction })
      await this.tell(newWorkChannel, '', transaction)
      await this.tell(changedWorkChannel, id, transaction)
    })
  }

  /** Some of its items are made again by this build; of the others what was made stays. */
  async retryItems(id: string, wisher: string, numbers: readonly number[]): Promise<void> {
    if (numbers.length === 0) return
    await this.sequelize.transaction(async (transaction) => {
      await this.lock(id, transaction)
      const { work, items, wishes } = this.models
      const again = { state: 'waiting', error: null, worker: null, lease: null, notBefore: null, tries: 0, progress: 0 }
      await items.update(again as never, { where: { workId: id, number: [...numbers] }, transaction })
      await work.update(
        { state: 'open', createdAt: new Date(), startedAt: null, finishedAt: null, build: this.build },
        { where: { id }, transaction },
      )
      await wishes.findOrCreate({ where: { workId: id, wisher }, transaction })
      await this.tell(newWorkChannel, '', transaction)
      await this.tell(changedWorkChannel, id, transaction)
    })
  }

  /** @throws NoSuchWorkError */
  async status(id: string): Promise<WorkStatus> {
    const row = uuid.test(id) ? await this.models.work.findByPk(id) : null
    if (!row) throw new NoSuchWorkError('There is no such work. Reload the page.')
    const [status] = await this.statusesOf([row])
    return status
  }

  /** Newest first: everything that is open, and what ended last of what is listed (`isListed`). @param shotId only this shot's and that of no shot */
  async list(shotId?: string): Promise<WorkStatus[]> {
    if (shotId !== undefined && !uuid.test(shotId)) return []
    const rows = await this.models.work.findAll({
      where: {
        [Op.and]: [
          { [Op.or]: [{ kind: { [Op.ne]: 'claims' } }, { state: ['open', 'failed'] }] },
          ...(shotId === undefined ? [] : [{ [Op.or]: [{ shotId }, { shotId: null }] }]),
        ],
      },
      order: [
        [this.sequelize.literal(`state = 'open'`), 'DESC'],
        ['createdAt', 'DESC'],
      ],
      limit: mostListed,
    })
    return this.statusesOf(rows)
  }

  /** Results that nobody asked for any more for so long are made again when somebody does. @param days since it ended */
  async forgetMeasured(days: number): Promise<void> {
    await this.run(
      `DELETE FROM work WHERE kind = 'claims' AND state <> 'open' AND "finishedAt" < clock_timestamp() - make_interval(days => :days)`,
      { days },
    )
  }

  /** Calls it off and forgets that it was ever there. */
  async forget(id: string): Promise<void> {
    await this.withdraw(id)
    await this.models.work.destroy({ where: { id } })
    await this.tell(changedWorkChannel, id)
  }

  /** All work of a kind for a shot, whatever became of it, newest first. */
  async newestOfShot(shotId: string, kind: WorkKindName): Promise<WorkRow[]> {
    return this.models.work.findAll({ where: { shotId, kind }, order: [['createdAt', 'DESC']] })
  }

  /** Results of all items of a kind that ever had one, those that are being made again too. */
  async allResultsOf(kind: WorkKindName): Promise<object[]> {
    const rows = await this.rows<{ result: object }>(
      `SELECT result FROM work_items JOIN work ON work.id = "workId" WHERE work.kind = :kind AND result IS NOT NULL`,
      { kind },
    )
    return rows.map(({ result }) => result)
  }

  /** What an item of a shot's newest work of a kind gave last, also where it is being made again. */
  async lastResultOf(shotId: string, kind: WorkKindName, number: number): Promise<object | null> {
    const [found] = await this.rows<{ result: object | null }>(
      `SELECT result FROM work_items JOIN work ON work.id = "workId"
       WHERE work."shotId" = :shotId AND work.kind = :kind AND number = :number AND result IS NOT NULL
       ORDER BY work."createdAt" DESC LIMIT 1`,
      { shotId, kind, number },
    )
    return found?.result ?? null
  }

  /** The newest work of a key, whatever became of it. */
  async newestOf(key: string): Promise<WorkRow | null> {
    return this.models.work.findOne({ where: { key }, order: [['createdAt', 'DESC']] })
  }

  /** Whether it is open, was begun by another build, and no worker of that build has any of it. */
  async isAbandoned(id: string): Promise<boolean> {
    const found = await this.rows(
      `SELECT id FROM work WHERE id = :id AND state = 'open' AND build <> :build AND NOT EXISTS (
         SELECT 1 FROM work_items WHERE "workId" = work.id AND state = 'running' AND lease > clock_timestamp())`,
      { id, build: this.build },
    )
    return found.length > 0
  }

  /** Results of its items, by number; of those that are done. */
  async resultsOf(id: string): Promise<ReadonlyMap<number, object>> {
    const rows = await this.models.items.findAll({ where: { workId: id, state: 'done' }, order: [['number', 'ASC']] })
    return new Map(rows.flatMap(({ number, result }) => (result === null ? [] : [[number, result] as const])))
  }

  async statusesOf(rows: readonly WorkRow[]): Promise<WorkStatus[]> {
    if (rows.length === 0) return []
    const ids = rows.map(({ id }) => id)
    const counts = await this.rows<Counts>(
      `SELECT "workId", count(*)::int AS total, count(*) FILTER (WHERE state = 'done')::int AS done,
         count(*) FILTER (WHERE state = 'failed')::int AS failed,
         count(*) FILTER (WHERE state = 'running')::int AS running,
         coalesce(sum(progress) FILTER (WHERE state = 'running'), 0)::float AS shares,
         max(error) FILTER (WHERE state = 'waiting') AS "heldUp"
       FROM work_items WHERE "workId" IN (:ids) GROUP BY "workId"`,
      { ids },
    )
    const failing = counts.filter(({ failed }) => failed > 0).map(({ workId }) => workId)
    const failures = failing.length === 0 ? [] : await this.failuresOf(failing)
    return rows.map((row) => this.statusOf(row, counts, failures))
  }

  private statusOf(row: WorkRow, counts: readonly Counts[], failures: readonly Failure[]): WorkStatus {
    const count = counts.find(({ workId }) => workId === row.id)
    const { total = 0, done = 0, running = 0, shares = 0, heldUp = null } = count ?? {}
    const open = done + running > 0 ? 'running' : 'waiting'
    return {
      id: row.id,
      kind: row.kind,
      title: row.title,
      shotId: row.shotId,
      author: row.author,
      state: row.state === 'open' ? open : row.state,
      done,
      total,
      progress: total === 0 ? 0 : (done + shares) / total,
      failed: failures
        .filter(({ workId }) => workId === row.id)
        .map(({ number, error }) => ({ item: number, sentence: error })),
      heldUp: row.state === 'open' ? heldUp : null,
      otherBuild: row.state === 'open' && row.build !== this.build,
      createdAt: row.createdAt.toISOString(),
      startedAt: row.startedAt?.toISOString() ?? null,
      finishedAt: row.finishedAt?.toISOString() ?? null,
    }
  }

  private failuresOf(ids: readonly string[]): Promise<Failure[]> {
    return this.rows<Failure>(
      `SELECT "workId", number, coalesce(error, '') AS error FROM (
         SELECT *, row_number() OVER (PARTITION BY "workId" ORDER BY number) AS place
         FROM work_items WHERE "workId" IN (:ids) AND state = 'failed') failed
       WHERE place <= :most ORDER BY number`,
      { ids, most: mostFailures },
    )
  }

  private async settle(
    item: TakenItem,
    to: { readonly state: 'done' | 'failed'; readonly result: string | null; readonly error: string | null },
  ): Promise<boolean> {
    return this.sequelize.transaction(async (transaction) => {
      await this.lock(item.workId, transaction)
      const ended = await this.rows(
        `UPDATE work_items SET state = :state, result = :result::jsonb, error = :error, worker = NULL, lease = NULL, progress = 1
         WHERE "workId" = :workId AND number = :number AND attempt = :attempt AND state = 'running' RETURNING number`,
        { ...keyOf(item), ...to },
        transaction,
      )
      if (ended.length === 0) return false
      await this.closeIfComplete(item.workId, transaction)
      await this.tell(changedWorkChannel, item.workId, transaction)
      return true
    })
  }

  private async closeIfComplete(id: string, transaction: Transaction): Promise<void> {
    const [left] = await this.rows<{ open: number; failed: number; last: number }>(
      `SELECT count(*) FILTER (WHERE NOT last AND state IN ('waiting', 'running'))::int AS open,
         count(*) FILTER (WHERE state = 'failed')::int AS failed,
         count(*) FILTER (WHERE last AND state IN ('waiting', 'running'))::int AS last
       FROM work_items WHERE "workId" = :id`,
      { id },
      transaction,
    )
    if (left.open > 0) return
    if (left.last > 0 && left.failed === 0) return this.tell(newWorkChannel, '', transaction)
    await this.models.items.update(
      { state: 'failed', error: 'It was not made, because others before it failed.' },
      { where: { workId: id, last: true, state: 'waiting' }, transaction },
    )
    await this.run(
      `UPDATE work SET state = :state, "finishedAt" = clock_timestamp() WHERE id = :id AND state = 'open'`,
      { id, state: left.failed > 0 ? 'failed' : 'done' },
      transaction,
    )
  }

  private async lock(id: string, transaction: Transaction): Promise<void> {
    await this.run('SELECT id FROM work WHERE id = :id FOR UPDATE', { id }, transaction)
  }

  private async tell(channel: string, payload: string, transaction?: Transaction): Promise<void> {
    await this.run('SELECT pg_notify(:channel, :payload)', { channel, payload }, transaction)
  }

  private async run(sql: string, replacements: object, transaction?: Transaction): Promise<void> {
    await this.sequelize.query(sql, { replacements: { ...replacements }, transaction })
  }

  private rows<T extends object>(sql: string, replacements: object, transaction?: Transaction): Promise<T[]> {
    const options = { replacements: { ...replacements }, transaction, type: QueryTypes.SELECT } as const
    return this.sequelize.query<T>(sql, options)
  }
}

interface Counts {
  readonly workId: string
  readonly total: number
  readonly done: number
  readonly failed: number
  readonly running: number
  readonly shares: number
  readonly heldUp: string | null
}

interface Failure {
  readonly workId: string
  readonly number: number
  readonly error: string
}

const keyOf = ({ workId, number, attempt }: TakenItem) => ({ workId, number, attempt })
