/**
 * Deliveries whose workers, server and database are killed in the middle: what must come out is what comes out undisturbed.
 *
 * A third of the kills wait for a moment inside a write, or between a file's name and its being noted in the database.
 */

import { fork, spawn, type ChildProcess } from 'node:child_process'
import { chmodSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { Client } from 'pg'
import { moviePattern, usualOutput, type DeliveryOutput, type DeliveryStatus } from '../../../core/delivery'
import { isOver } from '../../../core/work'
import { ask, DataFolder, runServer, until, type RunningServer } from '../../test/running-server'

export interface Kill {
  readonly seed: number
  readonly target: 'worker' | 'server' | 'database'
  readonly moment: 'some time' | 'inside a write' | 'before it is noted'
}

const targets = ['worker', 'worker', 'database', 'server'] as const
const moments = ['some time', 'inside a write', 'some time', 'before it is noted', 'some time', 'some time'] as const

/** @returns the same kills for the same seed */
export function killsFor(first: number, count: number): Kill[] {
  return Array.from({ length: count }, (_, i) => ({
    seed: first + i,
    target: targets[i % targets.length],
    moment: moments[i % moments.length],
  }))
}

/** Numbers from 0 to 1 by a seed (a linear congruential generator; Numerical Recipes). */
function randomBy(seed: number): () => number {
  let state = seed >>> 0
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32
}

const frames = { first: 1001, last: 1006 }
const outputs: readonly DeliveryOutput[] = [
  { ...usualOutput, pattern: '{shot}_{output}.{frame}' },
  {
    of: { what: 'composite' },
    name: 'look',
    pattern: moviePattern.replace('_{version}', ''),
    format: 'movie',
    line: false,
  },
]

export class KillBench {
  private readonly root = mkdtempSync(join(tmpdir(), 'enkrasis-kill-'))
  private readonly data = new DataFolder()
  private readonly workers: ChildProcess[] = []
  /** what each said on its way */
  private readonly complaints = new Map<ChildProcess, string>()
  private postgres: { readonly child: ChildProcess; readonly url: string; readonly folder: string } | null = null
  private server: RunningServer | null = null
  private undisturbed: ReadonlyMap<string, Buffer> = new Map()

  async start(): Promise<void> {
    // PostgreSQL runs as another user, who must be able to reach it.
    chmodSync(this.root, 0o755)
    await this.startDatabase()
    await this.startServer()
    await Promise.all([this.startWorker(), this.startWorker()])
    const delivery = await this.deliver()
    await this.over(delivery.id)
    this.undisturbed = this.filesOf(delivery)
  }

  /** @returns what is wrong; nothing, if all is well */
  async disturbed({ seed, target, moment }: Kill): Promise<string[]> {
    const random = randomBy(seed)
    const delivery = await this.deliver()
    await this.untilMoment(delivery, moment, random())
    if (target === 'worker') await this.killWorker(Math.floor(random() * this.workers.length))
    else if (target === 'server') await this.killServer()
    else await this.killDatabase()
    const end = await this.over(delivery.id)
    return this.faultsOf(end)
  }

  async stop(): Promise<void> {
    for (const worker of this.workers) worker.kill('SIGKILL')
    await this.server?.stop()
    this.postgres?.child.kill('SIGTERM')
    await new Promise((done) => this.postgres?.child.once('exit', done))
    this.data.remove()
    rmSync(this.root, { recursive: true, force: true })
  }

  private async faultsOf(end: DeliveryStatus): Promise<string[]> {
    const faults: string[] = []
    const { work } = end
    // Attempts that were thought lost may still be ending; what they leave behind for good is a fault.
    const settled = () => Promise.resolve([...this.filesOf(end).keys()].every((name) => !name.startsWith('.')))
    await until(settled, Boolean, 20).catch(() => undefined)
    if (work.state !== 'done' || work.done !== work.total)
      faults.push(`it ended as ${work.state} with ${work.done} of ${work.total}: ${JSON.stringify(work.failed)}`)
    const files = this.filesOf(end)
    if ([...files.keys()].join() !== [...this.undisturbed.keys()].join())
      faults.push(`its files are ${[...files.keys()].join()}`)
    for (const [name, bytes] of this.undisturbed)
      if (files.get(name)?.equals(bytes) === false) faults.push(`${name} differs from the undisturbed one`)
    const client = new Client({ connectionString: this.url() })
    await client.connect()
    const { rows } = await client.query<{ count: string }>(
      `SELECT count(*) FROM work_items WHERE "workId" = $1 AND state = 'done' AND result IS NOT NULL AND worker IS NULL`,
      [end.id],
    )
    await client.end()
    if (Number(rows[0].count) !== work.total) faults.push(`the database has ${rows[0].count} results of ${work.total}`)
    return faults
  }

  private filesOf({ folder }: DeliveryStatus): ReadonlyMap<string, Buffer> {
    const path = this.pathOf(folder)
    return new Map(
      readdirSync(path)
        .sort()
        .map((name) => [
          name,
          statSync(join(path, name)).isDirectory() ? Buffer.alloc(0) : readFileSync(join(path, name)),
        ]),
    )
  }

  private pathOf(folder: string): string {
    return join(this.data.path, 'delivery', folder)
  }

  private async untilMoment({ id, folder }: DeliveryStatus, moment: Kill['moment'], random: number): Promise<void> {
    const path = this.pathOf(folder)
    const names = () => (existsSync(path) ? readdirSync(path) : [])
    const deadline = Date.now() + 30_000
    const wanted = 1 + Math.floor(random * 4)
    while (Date.now() < deadline) {
      const now = names()
      const finished = now.filter((name) => name.endsWith('.exr')).length
      if (moment === 'some time' && finished >= wanted - 1) {
        await new Promise((done) => setTimeout(done, random * 300))
        return
      }
      if (moment === 'inside a write' && now.some((name) => name.includes('.unfinished-'))) return
      if (moment === 'before it is noted' && finished >= wanted) return
      await new Promise((done) => setImmediate(done))
    }
    throw new Error(`The moment "${moment}" of the delivery ${id} did not come.`)
  }

  private async deliver(): Promise<DeliveryStatus> {
    const { status, body } = await ask<DeliveryStatus>(this.running(), '/api/shots/quay-010/deliveries', {
      ...frames,
      outputs,
    })
    if (status !== 201) throw new Error(`The delivery was refused: ${JSON.stringify(body)}`)
    return body
  }

  private over(id: string): Promise<DeliveryStatus> {
    return until(
      async () => {
        const listed = await ask<DeliveryStatus[]>(this.running(), '/api/shots/quay-010/deliveries').catch(() => null)
        const found = Array.isArray(listed?.body) ? listed.body.find((one) => one.id === id) : undefined
        return found ?? null
      },
      (now) => now !== null && isOver(now.work),
      90,
    ) as Promise<DeliveryStatus>
  }

  private running(): RunningServer {
    if (!this.server) throw new Error('The server was not started.')
    return this.server
  }

  private url(): string {
    if (!this.postgres) throw new Error('The database was not started.')
    return this.postgres.url
  }

  private async startDatabase(port?: number): Promise<void> {
    const program = `
      import { startPostgres } from ${JSON.stringify(resolve('scripts/postgres.mjs'))}
      const postgres = await startPostgres(${JSON.stringify(join(this.root, 'postgres'))}, { lasting: true, port: ${port} })
      console.log(JSON.stringify(postgres))
      process.on('SIGTERM', () => postgres.stop().then(() => process.exit(0)))
      setInterval(() => undefined, 1000)`
    const child = spawn(process.execPath, ['--input-type=module', '-e', program], {
      stdio: ['ignore', 'pipe', 'inherit'],
    })
    const line = await new Promise<string>((done, fail) => {
      child.stdout?.once('data', (text: Buffer) => done(text.toString()))
      child.once('exit', () => fail(new Error('The database did not start.')))
    })
    this.postgres = { child, ...(JSON.parse(line) as { url: string; folder: string }) }
  }

  private async killDatabase(): Promise<void> {
    if (!this.postgres) return
    const { url, folder, child } = this.postgres
    process.kill(Number(readFileSync(join(folder, 'postmaster.pid'), 'utf8').split('\n')[0]), 'SIGKILL')
    child.kill('SIGKILL')
    // Its own processes notice that their parent is gone, and only then another may take their place.
    await new Promise((done) => setTimeout(done, 1500))
    await this.startDatabase(Number(new URL(url).port))
  }

  private environment() {
    return {
      ENKRASIS_DATABASE: this.url(),
      ENKRASIS_DATA: this.data.path,
      ENKRASIS_WORK: 'elsewhere',
    }
  }

  private async startServer(): Promise<void> {
    const { ENKRASIS_WORK } = this.environment()
    this.server = await runServer(this.url(), this.data.path, '0', '', '128', { ENKRASIS_WORK })
  }

  private async killServer(): Promise<void> {
    await this.running().kill()
    await this.startServer()
  }

  private async startWorker(at = this.workers.length): Promise<void> {
    const worker = fork(resolve('bin/enkrasis.mjs'), ['worker', '--threads', '1', '--memory', '96'], {
      env: { ...process.env, ...this.environment() },
      stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
    })
    this.workers[at] = worker
    worker.stderr?.on('data', (text: Buffer) =>
      this.complaints.set(worker, ((this.complaints.get(worker) ?? '') + text.toString()).slice(-4000)),
    )
    await new Promise<void>((done, fail) => {
      worker.stdout?.once('data', () => done())
      worker.once('exit', (code) => fail(new Error(`A worker ended with ${code} before it began.`)))
    })
  }

  private async killWorker(at: number): Promise<void> {
    const worker = this.workers[at]
    // Nobody would ever hear it end again.
    if (worker.exitCode !== null)
      throw new Error(`A worker had ended by itself with ${worker.exitCode}: ${this.complaints.get(worker) ?? ''}`)
    const ended = new Promise((done) => worker.once('exit', done))
    worker.kill('SIGKILL')
    await ended
    await this.startWorker(at)
  }
}
