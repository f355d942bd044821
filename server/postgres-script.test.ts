import { spawn, type ChildProcess } from 'node:child_process'
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { Client } from 'pg'
import { until } from './test/running-server'

/** The cluster that the scripts start: reused, on loopback, clean after a crash. */

const root = mkdtempSync(join(tmpdir(), 'enkrasis-pg-'))
// PostgreSQL runs as another user, who must be able to reach it.
chmodSync(root, 0o755)
const cluster = join(root, 'postgres')
const children: ChildProcess[] = []
afterAll(() => {
  for (const child of children) child.kill('SIGKILL')
  rmSync(root, { recursive: true, force: true })
})

const program = `
  import { startPostgres } from ${JSON.stringify(resolve('scripts/postgres.mjs'))}
  const postgres = await startPostgres(${JSON.stringify(cluster)}, { lasting: false })
  console.log(JSON.stringify(postgres))
  process.on('SIGTERM', () => postgres.stop().then(() => process.exit(0)))
  setInterval(() => undefined, 1000)
`

async function start(): Promise<{ child: ChildProcess; url: string; folder: string }> {
  const child = spawn(process.execPath, ['--input-type=module', '-e', program], {
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  children.push(child)
  const line = await new Promise<string>((done, fail) => {
    child.stdout?.once('data', (text: Buffer) => done(String(text)))
    child.once('exit', () => fail(new Error('PostgreSQL did not start.')))
  })
  return { child, ...(JSON.parse(line) as { url: string; folder: string }) }
}

async function query(url: string, text: string): Promise<unknown[]> {
  const client = new Client({ connectionString: url })
  await client.connect()
  try {
    return (await client.query(text)).rows
  } finally {
    await client.end()
  }
}

const end = (child: ChildProcess, signal: NodeJS.Signals) =>
  new Promise<void>((done) => {
    child.once('exit', () => done())
    child.kill(signal)
  })

test('it answers on loopback only, with a password, and not as root', async () => {
  const { child, url } = await start()
  expect(new URL(url).hostname).toBe('127.0.0.1')
  expect(await query(url, 'SHOW listen_addresses')).toEqual([{ listen_addresses: '127.0.0.1' }])
  const without = new URL(url)
  without.password = 'guess'
  await expect(query(without.href, 'SELECT 1')).rejects.toThrow(/password authentication failed/)
  await query(url, 'CREATE TABLE kept (n int); INSERT INTO kept VALUES (42)')
  await end(child, 'SIGTERM')
})

test('it stops cleanly: no lock is left, and the data is there the next time', async () => {
  const { child, url, folder } = await start()
  expect(await query(url, 'SELECT n FROM kept')).toEqual([{ n: 42 }])
  await end(child, 'SIGTERM')
  expect(existsSync(join(folder, 'postmaster.pid'))).toBe(false)
})

test('a script that was killed leaves a server behind; the next start takes its place', async () => {
  const { child, folder } = await start()
  await end(child, 'SIGKILL')
  expect(existsSync(join(folder, 'postmaster.pid'))).toBe(true)
  const again = await start()
  expect(await query(again.url, 'SELECT n FROM kept')).toEqual([{ n: 42 }])
  await end(again.child, 'SIGTERM')
})

test('a stale lock whose number another program has by now does not stop it', async () => {
  const lock = join(cluster, 'postmaster.pid')
  writeFileSync(lock, `${process.pid}\n${cluster}\n0\n5432\n\n127.0.0.1\n`)
  const { child, url, folder } = await start()
  expect(folder).toBe(cluster)
  expect(await query(url, 'SELECT n FROM kept')).toEqual([{ n: 42 }])
  expect(Number(readFileSync(lock, 'utf8').split('\n')[0])).not.toBe(process.pid)
  await end(child, 'SIGTERM')
  await until(
    async () => existsSync(lock),
    (there) => !there,
    10,
  )
})
