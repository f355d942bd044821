/** npm run demo: brings what is missing, makes the demo shot, starts everything, and stops it cleanly on Ctrl+C. */

import { fork, spawn } from 'node:child_process'
import { existsSync, mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { resolve } from 'node:path'
import { setTimeout as wait } from 'node:timers/promises'
import { needBuild, needDebianPackages, needNodeModules } from './packages.mjs'
import { startPostgres } from './postgres.mjs'

const data = resolve('.data')
const running = resolve(data, 'running.json')
const extra = process.argv.slice(2)

needDebianPackages(['postgresql', 'ffmpeg'])
needNodeModules()
needBuild()
mkdirSync(data, { recursive: true })

const postgres = await startPostgres(resolve(data, 'postgres'))
const standin = spawn(
  process.execPath,
  ['dist/node/standin.mjs', '--media', `${data}/media`, '--truth', `${data}/truth`, ...extra],
  { stdio: 'inherit', detached: true },
)
const server = fork('dist/node/server.mjs', {
  env: { ENKRASIS_PORT: '4100', ...process.env, ENKRASIS_DATABASE: postgres.url, ENKRASIS_DATA: data },
  detached: true,
})

let stopping = false
async function stop(code) {
  if (stopping) return
  stopping = true
  rmSync(running, { force: true })
  if (standin.exitCode === null) standin.kill('SIGTERM')
  if (server.exitCode === null) {
    const ended = new Promise((done) => server.once('exit', done))
    server.kill('SIGTERM')
    await Promise.race([ended, wait(8000)])
    server.kill('SIGKILL')
  }
  await postgres.stop()
  process.exit(code)
}
process.on('SIGINT', () => void stop(0))
process.on('SIGTERM', () => void stop(0))
process.on('SIGHUP', () => void stop(0))
server.once('exit', (code) => {
  if (!stopping) console.error(`The server ended with code ${code}.`)
  void stop(1)
})
standin.once('exit', (code) => {
  if (code !== 0 && !stopping)
    console.error('The stand-in camera failed; the frames made so far can be used. Run "npm run demo" again to go on.')
})

const address = new Promise((done) => server.once('message', ({ port }) => done(`http://127.0.0.1:${port}`)))
const plates = resolve(data, 'media/quay-010/plate')
const firstFrames = async () => {
  while (!stopping && !(existsSync(plates) && readdirSync(plates).some((name) => name.endsWith('.exr'))))
    await wait(100)
}
const [url] = await Promise.all([address, firstFrames()])
if (!stopping) {
  writeFileSync(running, JSON.stringify({ url, database: postgres.url }), { mode: 0o600 })
  console.log(`\nEnkrasis is open at ${url}\nStop it with Ctrl+C.\n`)
}
