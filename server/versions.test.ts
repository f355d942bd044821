import { cpSync, mkdirSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import type { Answers } from '../core/new-shot'
import type { Shot } from '../core/shot'
import { ask, DataFolder, newDatabase, runServer, type RunningServer } from './test/running-server'

/** Versions of a render: found beside it, and what each would change. */

const data = new DataFolder()
let server: RunningServer
let id: string
let source: string

/** The bell's frames again, as a version of another shot's render. */
function render(folder: string, name: string, frames: number): void {
  const to = join(data.path, 'media', 'swap', folder)
  mkdirSync(to, { recursive: true })
  for (const file of readdirSync(join(data.shot, 'cg')).sort().slice(0, frames))
    cpSync(join(data.shot, 'cg', file), join(to, file.replace('quay-010_bell', name)))
}

beforeAll(async () => {
  server = await runServer(await newDatabase(), data.path)
  cpSync(join(data.shot, 'plate'), join(data.path, 'media', 'swap', 'plate'), { recursive: true })
  render('cg/v003', 'bell_v003', 6)
  const paths = ['swap']
  const { body } = await ask<{ answers: Answers }>(
    server,
    `/api/new-shot?${new URLSearchParams({ paths: JSON.stringify(paths) })}`,
  )
  const made = await ask<{ id: string }>(server, '/api/shots', { paths, answers: body.answers })
  id = made.body.id
  const { shot } = (await ask<{ shot: Shot }>(server, `/api/shots/${id}`)).body
  source = Object.values(shot.sources.byId).find(({ path }) => path.includes('bell'))?.id ?? ''
})
afterAll(async () => {
  await server.stop()
  data.remove()
})

interface Versions {
  readonly present: number | null
  readonly versions: readonly { readonly number: number; readonly path: string; readonly count: number }[]
}
interface Replacement {
  readonly path: string
  readonly frames: Shot['frames']
  readonly changes: readonly string[]
  readonly message?: string
}
const versions = async () => (await ask<Versions>(server, `/api/shots/${id}/versions?source=${source}`)).body
const replacement = (files: Record<string, string>) =>
  ask<Replacement>(server, `/api/shots/${id}/replacement?${new URLSearchParams({ source, ...files })}`)

test('only what is of the same name is a version; folders and files change together', async () => {
  expect(await versions()).toMatchObject({ present: 3, versions: [{ number: 3 }] })
  render('cg/v004', 'bell_v004', 2)
  render('cg/v005', 'rope_v005', 2)
  render('cg/v001', 'bell_v001', 6)
  expect((await versions()).versions.map(({ number, count }) => [number, count])).toEqual([
    [1, 6],
    [3, 6],
    [4, 2],
  ])
})

test('a version that is still being rendered keeps the range that it will have', async () => {
  const newest = (await versions()).versions.at(-1)
  const { body } = await replacement({ path: newest?.path ?? '' })
  expect(body).toMatchObject({ path: 'cg/v004/bell_v004.####.exr', frames: { first: 1001, last: 1006 } })
  expect(body.changes).toEqual(['Frames: 1001 to 1006 before, 1001 to 1002 now.'])
})

test('other files are chosen as folders of media name them; what is not there, or no picture, is said', async () => {
  const chosen = await replacement({ chosen: 'quay-010/matte/quay-010_front.####.exr' })
  expect(chosen.body.path).toBe('../quay-010/matte/quay-010_front.####.exr')
  expect(chosen.body.changes[0]).toMatch(/^The pass beauty is not there any more, and Bell is made of it\.$/)
  expect((await replacement({ path: 'cg/v009/bell_v009.####.exr' })).body.message).toMatch(/There are no files/)
  expect((await replacement({ chosen: '../../etc/passwd' })).body.message).toMatch(/outside the media roots/)
})
