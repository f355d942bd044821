/** The application's server for the bench, with a database of its own. */

import { fork } from 'node:child_process'
import { resolve } from 'node:path'
import { Client } from 'pg'

/** @param root a database of the same PostgreSQL @returns the new one's address */
export async function newDatabase(root: string): Promise<string> {
  const name = `bench_${Date.now()}`
  const client = new Client({ connectionString: root })
  await client.connect()
  await client.query(`CREATE DATABASE ${name}`)
  await client.end()
  const url = new URL(root)
  url.pathname = `/${name}`
  return url.href
}

export interface BenchServer {
  readonly url: string
  stop(): Promise<void>
}

export async function startServer(database: string, data: string): Promise<BenchServer> {
  const server = fork(resolve('dist/node/server.mjs'), {
    env: { ...process.env, ENKRASIS_DATABASE: database, ENKRASIS_DATA: data, ENKRASIS_PORT: '0' },
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  })
  const port = await new Promise<number>((done, fail) => {
    server.once('message', (message: { port: number }) => done(message.port))
    server.once('exit', (code) => fail(new Error(`The server ended with code ${code} before it answered.`)))
  })
  return {
    url: `http://127.0.0.1:${port}`,
    stop: () =>
      new Promise((done) => {
        server.once('exit', () => done())
        server.kill('SIGTERM')
      }),
  }
}
