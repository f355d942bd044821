/** For the tests: databases of their own, media copied from the small demo shot, and the real server as a process. */

import { fork, type ChildProcess } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { cpSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { Client } from 'pg'
import { ownPageHeader } from '../../formats/wire/own-page'

function needed(name: string): string {
  const value = process.env[name]
  if (!value)
    throw new Error(
      `${name} is not set. Run the tests with "npm test", which starts PostgreSQL and makes the small shot.`,
    )
  return value
}

/** Folder of the small demo shot's media (640x360, 6 frames). */
export const smallData = () => needed('ENKRASIS_TEST_DATA')

/** @param root a database of the same PostgreSQL @returns the new one's address */
export async function newDatabase(root = needed('ENKRASIS_TEST_DATABASE')): Promise<string> {
  const name = `test_${randomBytes(6).toString('hex')}`
  const client = new Client({ connectionString: root })
  await client.connect()
  await client.query(`CREATE DATABASE ${name}`)
  await client.end()
  const url = new URL(root)
  url.pathname = `/${name}`
  return url.href
}

/** A data folder with its own copy of the small shot. */
export class DataFolder {
  readonly path = mkdtempSync(join(tmpdir(), 'enkrasis-data-'))
  readonly shot = join(this.path, 'media', 'quay-010')
  constructor() {
    cpSync(join(smallData(), 'media'), join(this.path, 'media'), { recursive: true })
  }
  file(relative: string): string {
    return join(this.shot, relative)
  }
  remove(): void {
    rmSync(this.path, { recursive: true, force: true })
  }
}

export interface RunningServer {
  readonly url: string
  readonly process: ChildProcess
  /** as Ctrl+C would */
  stop(): Promise<void>
  /** as a power cut would */
  kill(): Promise<void>
}

/**
 * @param port the same as before when a page should find it again; 0 for any
 * @param media folders of footage beside the one in `data`
 * @param more of its environment
 * @param engineMegabytes what the server's own engine may use; tests run several servers
 */
export async function runServer(
  database: string,
  data: string,
  port = '0',
  media = '',
  engineMegabytes = '128',
  more: Readonly<Record<string, string>> = {},
): Promise<RunningServer> {
  const child = fork(resolve('dist/node/server.mjs'), {
    env: {
      ...process.env,
      ENKRASIS_DATABASE: database,
      ENKRASIS_DATA: data,
      ENKRASIS_PORT: port,
      ENKRASIS_MEDIA: media,
      ENKRASIS_ENGINE_MB: engineMegabytes,
      ...more,
    },
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  })
  const answering = await new Promise<number>((done, fail) => {
    child.once('message', (message: { port: number }) => done(message.port))
    child.once('exit', (code) => fail(new Error(`The server ended with code ${code} before it answered.`)))
  })
  let ending = false
  child.once('exit', (code, signal) => {
    if (!ending) process.stderr.write(`The server of a test ended by itself, with code ${code}, signal ${signal}.\n`)
  })
  const end = (signal: NodeJS.Signals) =>
    new Promise<void>((done) => {
      ending = true
      if (child.exitCode !== null || child.signalCode !== null) return done()
      child.once('exit', () => done())
      child.kill(signal)
    })
  return {
    url: `http://127.0.0.1:${answering}`,
    process: child,
    stop: () => end('SIGTERM'),
    kill: () => end('SIGKILL'),
  }
}

const ids = new Map<string, string>()

/** @param path may name a shot, which addresses do not: `/api/shots/quay-010/edits` @returns the whole address */
export async function addressOf(server: Pick<RunningServer, 'url'>, path: string): Promise<string> {
  const [, name, rest = ''] = /^\/(?:api\/)?shots\/([a-z][a-z0-9-]{0,30})([/?].*)?$/.exec(path) ?? []
  if (name === undefined) return server.url + path
  const key = `${server.url} ${name}`
  if (!ids.has(key)) {
    const { shots } = (await (await fetch(`${server.url}/api/shots`)).json()) as {
      shots: { id: string; name: string }[]
    }
    const found = shots.find((shot) => shot.name === name)
    if (!found) return server.url + path
    ids.set(key, found.id)
  }
  return `${server.url}${path.startsWith('/api') ? '/api' : ''}/shots/${ids.get(key)}${rest}`
}

/** What the application's own page sends with every request that changes something. */
export const ownPage = { [ownPageHeader]: '1' }

/** @returns status and JSON of an answer */
export async function ask<T>(
  server: RunningServer,
  path: string,
  body?: unknown,
): Promise<{ status: number; body: T }> {
  const init =
    body === undefined
      ? undefined
      : { method: 'POST', headers: { 'Content-Type': 'application/json', ...ownPage }, body: JSON.stringify(body) }
  const response = await fetch(await addressOf(server, path), init)
  return { status: response.status, body: (await response.json()) as T }
}

/** Asks again until the answer is as wanted. */
export async function until<T>(look: () => Promise<T>, good: (found: T) => boolean, seconds = 50): Promise<T> {
  const end = Date.now() + seconds * 1000
  for (;;) {
    const found = await look()
    if (good(found)) return found
    if (Date.now() > end) throw new Error(`It did not come to pass in ${seconds} s: ${JSON.stringify(found)}`)
    await new Promise((done) => setTimeout(done, 100))
  }
}
