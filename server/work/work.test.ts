import { randomUUID } from 'node:crypto'
import type { WorkStatus } from '../../core/work'
import { isOver } from '../../core/work'
import { until } from '../test/running-server'
import { HeldUpError } from './kind'
import { workBench, type WorkBench } from './test/work-bench'
import { statusAndResults } from './status-and-results'
import type { WorkStore } from './work-store'

/** Long work: what is promised of it, on a real database. */

let bench: WorkBench
let store: WorkStore
beforeEach(async () => {
  bench = await workBench()
  store = bench.store()
})
afterEach(() => bench.close())

const wish = (items: number, more: { key?: string; wisher?: string; lastItem?: number; input?: object } = {}) => {
  const { key = randomUUID(), wisher = 'a', lastItem, input = {} } = more
  const numbers = Array.from({ length: items }, (_, i) => i + 1)
  return store.wish({
    ...{ id: randomUUID(), kind: 'movie', key, title: 'some work', input, wisher },
    items: lastItem === undefined ? numbers : [...numbers, lastItem],
    ...(lastItem === undefined ? {} : { lastItem }),
  })
}
const over = (id: string) => until(() => store.status(id), isOver, 20)
const soon = (id: string, good: (status: WorkStatus) => boolean) => until(() => store.status(id), good, 20)
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms))

test('every item is done once, by whichever worker, and the results are kept', async () => {
  const done: string[] = []
  const named = (name: string) => async (_input: unknown, item: number) => {
    done.push(`${name} ${item}`)
    await pause(5)
    return { square: item * item }
  }
  const id = await wish(40)
  await bench.worker(named('a'))
  await bench.worker(named('b'))
  expect(await over(id)).toMatchObject({ state: 'done', done: 40, total: 40, progress: 1, failed: [] })
  expect(done.map((one) => Number(one.split(' ')[1])).sort((x, y) => x - y)).toEqual(
    Array.from({ length: 40 }, (_, i) => i + 1),
  )
  expect(new Set(done.map((one) => one[0]))).toEqual(new Set(['a', 'b']))
  expect([...(await store.resultsOf(id))].at(-1)).toEqual([40, { square: 1600 }])
})

test('what is counted as done has its result, though it is done while both are looked up', async () => {
  const id = await wish(3)
  const items = await store.take('one', ['movie'], 3)
  // Each look takes as long as an item more needs to be done.
  const busy: Pick<WorkStore, 'status' | 'resultsOf'> = {
    status: async (of) => {
      const next = items.shift()
      if (next) await store.finish(next, { done: true })
      return store.status(of)
    },
    resultsOf: (of) => store.resultsOf(of),
  }
  for (let count = 1; count <= 3; count++) {
    const { status, results } = await statusAndResults(busy, id)
    expect([status.done, results.size]).toEqual([count, count])
  }
})

test('who wishes for the same shares it; it is called off when nobody wishes for it any more', async () => {
  const first = await wish(2, { key: 'same' })
  const second = await wish(2, { key: 'same', wisher: 'b' })
  expect(second).toBe(first)
  await store.withdraw(first, 'a')
  expect((await store.status(first)).state).toBe('waiting')
  await store.withdraw(first, 'b')
  expect((await store.status(first)).state).toBe('cancelled')
  expect(await wish(2, { key: 'same' })).not.toBe(first)
})

test('what is done is not done again for another wish', async () => {
  let runs = 0
  await bench.worker(async () => ({ runs: ++runs }))
  const id = await wish(1, { key: 'known' })
  await over(id)
  expect(await wish(1, { key: 'known', wisher: 'b' })).toBe(id)
  await pause(200)
  expect(runs).toBe(1)
})

test('two who wish for the same at the same moment get one', async () => {
  const ids = await Promise.all(Array.from({ length: 8 }, (_, i) => wish(1, { key: 'together', wisher: String(i) })))
  expect(new Set(ids).size).toBe(1)
})

test('a failure is told with its item; the others are done, and it can be retried', async () => {
  let broken = true
  await bench.worker(async (_input, item) => {
    if (item === 2 && broken) throw new Error('The second one is broken. Mend it.')
    return {}
  })
  const id = await wish(3)
  expect(await over(id)).toMatchObject({
    state: 'failed',
    done: 2,
    failed: [{ item: 2, sentence: 'The second one is broken. Mend it.' }],
  })
  broken = false
  await store.retry(id, 'a')
  expect(await over(id)).toMatchObject({ state: 'done', done: 3, failed: [] })
})

test('only failures that may pass are tried again by themselves', async () => {
  const tries: number[] = [0, 0, 0]
  await bench.worker(async (_input, item) => {
    tries[item - 1]++
    if (item === 1 && tries[0] < 2) throw Object.assign(new Error('busy'), { code: 'EBUSY' })
    if (item === 2) throw Object.assign(new Error('always busy'), { code: 'EBUSY' })
    if (item === 3) throw new Error('wrong')
    return {}
  })
  const id = await wish(3)
  const end = await over(id)
  expect(tries).toEqual([2, 3, 1])
  expect(end.failed.map(({ sentence }) => sentence)).toEqual(['always busy', 'wrong'])
})

test('an item that met no database is begun again, however often, and is no failure', async () => {
  let tries = 0
  await bench.worker(async () => {
    if (++tries <= 5)
      throw Object.assign(new Error('connect ECONNREFUSED'), { name: 'SequelizeConnectionRefusedError' })
    return {}
  })
  expect(await over(await wish(1))).toMatchObject({ state: 'done', failed: [] })
  expect(tries).toBe(6)
})

test('what is held up waits, says why, and goes on when it can', async () => {
  let full = true
  await bench.worker(async () => {
    if (full) throw new HeldUpError('The disk is full.', 1)
    return {}
  })
  const id = await wish(1)
  const waiting = await soon(id, ({ heldUp }) => heldUp !== null)
  expect(waiting).toMatchObject({ heldUp: 'The disk is full.', state: 'waiting', failed: [] })
  full = false
  expect(await over(id)).toMatchObject({ state: 'done', heldUp: null })
})

test('the last item is begun when all others are done, and not made when one failed', async () => {
  const order: number[] = []
  await bench.worker(async (input, item) => {
    await pause(item === 1 ? 150 : 5)
    order.push(item)
    if ((input as { fails?: number }).fails === item) throw new Error('no')
    return {}
  })
  const good = await wish(4, { lastItem: 9 })
  expect((await over(good)).state).toBe('done')
  expect(order.at(-1)).toBe(9)
  order.length = 0
  const bad = await wish(4, { lastItem: 9, input: { fails: 3 } })
  const end = await over(bad)
  expect(end.failed.map(({ item }) => item)).toEqual([3, 9])
  expect(end.failed[1].sentence).toBe('It was not made, because others before it failed.')
  expect(order).not.toContain(9)
})

test('cancelling reaches what is under way', async () => {
  let aborted = false
  await bench.worker(
    (_input, _item, { signal }) =>
      new Promise((_resolve, reject) =>
        signal.addEventListener('abort', () => {
          aborted = true
          reject(new Error('called off'))
        }),
      ),
  )
  const id = await wish(1)
  await soon(id, ({ state }) => state === 'running')
  await store.withdraw(id)
  await until(async () => aborted, Boolean, 5)
  expect(await store.status(id)).toMatchObject({ state: 'cancelled', failed: [] })
})

test('a worker that is stopped gives back what it had, and another begins it at once', async () => {
  const first = await bench.worker(
    (_input, _item, { signal }) =>
      new Promise((_resolve, reject) => signal.addEventListener('abort', () => reject(new Error('stopped')))),
  )
  const id = await wish(1)
  await soon(id, ({ state }) => state === 'running')
  await first.stop()
  const again: boolean[] = []
  await bench.worker(async (_input, _item, context) => {
    again.push(context.again)
    return {}
  })
  expect((await over(id)).state).toBe('done')
  expect(again).toEqual([true])
})

test('the result of an attempt that lost its item counts for nothing', async () => {
  const id = await wish(1)
  const [early] = await store.take('slow', ['movie'], 1)
  await bench.sequelize.query(`UPDATE work_items SET lease = now() - interval '1 second'`)
  const [late] = await store.take('quick', ['movie'], 1)
  expect([early.attempt, late.attempt]).toEqual([1, 2])
  expect(await store.finish(early, { by: 'slow' })).toBe(false)
  expect(await store.keep('slow', [])).toEqual([])
  expect(await store.finish(late, { by: 'quick' })).toBe(true)
  expect(await store.fail(early, 'too late')).toBe(false)
  expect([...(await store.resultsOf(id))]).toEqual([[1, { by: 'quick' }]])
})

test('a worker of another build takes none of it, until it is retried with that build', async () => {
  const id = await wish(1)
  const newer = bench.store('next build')
  const done: string[] = []
  await bench.worker(
    async () => {
      done.push('next')
      return {}
    },
    { build: 'next build' },
  )
  await pause(300)
  expect(done).toEqual([])
  expect(await newer.status(id)).toMatchObject({ state: 'waiting', otherBuild: true })
  await newer.retry(id, 'a')
  expect(await until(() => newer.status(id), isOver)).toMatchObject({ state: 'done', otherBuild: false })
})

test('work of another build is abandoned when none of its workers has it', async () => {
  const id = await wish(1)
  const newer = bench.store('next build')
  expect(await newer.isAbandoned(id)).toBe(true)
  expect(await store.isAbandoned(id)).toBe(false)
  const [item] = await store.take('one', ['movie'], 1)
  expect(await newer.isAbandoned(id)).toBe(false)
  await bench.sequelize.query(`UPDATE work_items SET lease = now() - interval '1 second'`)
  expect(await newer.isAbandoned(id)).toBe(true)
  await store.finish(item, {})
  expect(await newer.isAbandoned(id)).toBe(false)
})

test('progress of a long item is told', async () => {
  await bench.worker(async (_input, _item, { progress, signal }) => {
    progress(0.5)
    while (!signal.aborted) await pause(20)
    throw new Error('stopped')
  })
  const id = await wish(2)
  expect((await soon(id, ({ progress }) => progress > 0)).progress).toBeCloseTo(0.5, 5)
})

test('measuring that is over is not listed, and is forgotten after its time; other work stays', async () => {
  const about = { title: 'measured', input: {}, wisher: 'a', items: [1] }
  const measured = await store.wish({ ...about, id: randomUUID(), kind: 'claims', key: 'claims 1' })
  const movie = await wish(1)
  expect((await store.list()).map(({ id }) => id).sort()).toEqual([measured, movie].sort())
  for (const item of await store.take('one', ['claims', 'movie'], 2)) await store.finish(item, {})
  expect((await store.list()).map(({ id }) => id)).toEqual([movie])
  await store.forgetMeasured(30)
  expect((await store.status(measured)).state).toBe('done')
  await bench.sequelize.query(`UPDATE work SET "finishedAt" = now() - interval '31 days'`)
  await store.forgetMeasured(30)
  await expect(store.status(measured)).rejects.toThrow('There is no such work.')
  expect((await store.status(movie)).state).toBe('done')
})
