import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { smallShot } from '../../core/test/small-shot'
import { connect, migrate } from '../database/connect'
import { defineModels, type Models } from '../database/models'
import { newDatabase } from '../test/running-server'
import { NoSuchShotError, ShotStore } from './shot-store'

/** Many who ask for a shot at the same moment share a question, and nobody is told what is older than an acknowledged edit. */

const folder = mkdtempSync(join(tmpdir(), 'enkrasis-store-'))
let models: Models
let store: ShotStore
let id: string
let close: () => Promise<void>

beforeAll(async () => {
  const sequelize = connect(await newDatabase())
  await migrate(sequelize)
  models = defineModels(sequelize)
  store = new ShotStore(sequelize, models)
  const file = join(folder, 'small.shot.json')
  writeFileSync(file, JSON.stringify({ ...smallShot, name: 'small' }))
  await store.adopt(file)
  id = (await store.findByName('small')).id
  close = () => sequelize.close()
})
afterAll(async () => {
  await close()
  rmSync(folder, { recursive: true, force: true })
})
afterEach(() => jest.restoreAllMocks())

const veil = (value: number) =>
  ({
    kind: 'set-parameter',
    at: { owner: { kind: 'treatment', id: 'match' }, parameter: 'veil', channel: 0 },
    frame: 1001,
    value,
  }) as const

test('six who ask together ask the database once; who asks later asks again', async () => {
  const asked = jest.spyOn(models.shots, 'findByPk')
  const rows = await Promise.all(Array.from({ length: 6 }, () => store.findTogether(id)))
  expect(asked).toHaveBeenCalledTimes(1)
  expect(new Set(rows).size).toBe(1)
  await store.findTogether(id)
  expect(asked).toHaveBeenCalledTimes(2)
})

test('who asks after an edit was acknowledged sees it, though an older question is still on its way', async () => {
  const before = await store.find(id)
  let answer = () => undefined as void
  const late = new Promise<void>((resolve) => (answer = resolve))
  jest.spyOn(models.shots, 'findByPk').mockImplementationOnce((async () => {
    await late
    return before
  }) as never)
  const older = store.findTogether(id)
  const { revision } = await store.edit(id, { id: 'edit-0001', edit: veil(0.1), tab: 'a', baseRevision: 1 })
  expect((await store.findTogether(id)).revision).toBe(revision)
  answer()
  expect((await older).revision).toBe(before.revision)
  // The older question has not taken the newer one's place.
  expect((await store.findTogether(id)).revision).toBe(revision)
})

test('a shot that is not there is refused for each who asked, and asked for again', async () => {
  const nobody = '00000000-0000-4000-8000-000000000000'
  const asking = [store.findTogether(nobody), store.findTogether(nobody)]
  for (const one of asking) await expect(one).rejects.toThrow(NoSuchShotError)
  await expect(store.findTogether(nobody)).rejects.toThrow(NoSuchShotError)
})
