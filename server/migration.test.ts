import { execFileSync } from 'node:child_process'
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { parseShot, usesOf, type Shot } from '../core/shot'
import { finishOfSchema1, shotOfSchema1 } from '../core/test/schema-1'
import type { DeliveryStatus } from '../core/delivery'
import { connect, migrate } from './database/connect'
import { ask, DataFolder, newDatabase, runServer, type RunningServer } from './test/running-server'

/** A shot file and a database of the application before: every setting is kept, and the pictures are the same. */

const withVeil = (veil: unknown) => ({
  ...shotOfSchema1,
  elements: shotOfSchema1.elements.map((element) =>
    element.id === 'bell'
      ? {
          ...element,
          treatments: element.treatments.map((treatment) =>
            'id' in treatment && treatment.id === 'match'
              ? { ...treatment, parameters: { veil, gain: [0.9, 0.95, 1], gamma: [1, 1, 1] } }
              : treatment,
          ),
        }
      : element,
  ),
})
const veilOf = (shot: Shot) => shot.treatments.byId['bell-match'].parameters.veil

describe('a file of schema 1', () => {
  const shot = parseShot(shotOfSchema1, 'old.shot.json')

  test('every setting is kept', () => {
    expect(shot).toMatchObject({
      schema: 10,
      name: 'quay-010',
      seed: 'quay-010',
      plate: 'plate',
      frames: { first: 1001, last: 1006 },
      workingSpace: 'linear-rec709',
    })
    expect(shot.sources.byId.bell).toMatchObject({
      missing: 'repeat',
      framing: 'file',
      path: 'cg/quay-010_bell.####.exr',
    })
    const order = Object.values(shot.elements.byId).sort((a, b) => (a.rank < b.rank ? -1 : 1))
    expect(order.map(({ id, visible, blend }) => [id, visible, blend.kind])).toEqual([
      ['plate', true, 'over'],
      ['shadow', true, 'shadow'],
      ['hidden', false, 'plus-lighter'],
      ['bell', true, 'over'],
      ['front', true, 'reveal'],
    ])
    expect(shot.elements.byId.shadow.blend.parameters).toMatchObject({
      ratio: [0.3, 0.36, 0.42],
      veil: [0.02, 0.022, 0.027],
    })
    expect(veilOf(shot)).toEqual([{ keyframes: { 1001: 0.01, 1006: 0.03 } }, 0.012, 0.015])
    const uses = usesOf(shot, { kind: 'element', id: 'bell' })
    expect(uses.map(({ treatment, on }) => [shot.treatments.byId[treatment].kind, on])).toEqual([
      ['veil-and-gain', true],
      ['soften', false],
      ['lens-map', true],
    ])
    expect(shot.treatments.byId['bell-soften'].parameters).toEqual({ across: [0.6], down: [0.4] })
    const [finish] = usesOf(shot, { kind: 'finish' })
    expect(shot.treatments.byId[finish.treatment].parameters).toEqual(finishOfSchema1[0].parameters)
    expect(Object.keys(shot.tries.byId['try-1'].elements.byId)).toEqual(['plate', 'shadow'])
  })

  test('passes that were added up are a sum, with the alpha of the part that they replaced', () => {
    const inputs = Object.values(shot.elements.byId.bell.inputs.byId)
    expect(inputs.find(({ kind }) => kind === 'sum')).toMatchObject({ alpha: 'alpha' })
    expect(inputs.flatMap((one) => (one.kind === 'pass' ? [one.part] : []))).toEqual([
      'beauty',
      'diffuse_direct',
      'diffuse_indirect',
      'specular_direct',
    ])
  })

  test('a treatment that two elements had in common by its id is two treatments now, as it was', () => {
    expect(shot.treatments.byId['bell-lens']).toMatchObject({ kind: 'lens-map', sources: { map: 'lens' } })
    expect(shot.treatments.byId['shadow-lens']).toMatchObject({ kind: 'lens-map', sources: { map: 'lens' } })
  })

  test('a document of schema 2 has no samples and no markers, and keeps everything', () => {
    const { samples, markers, ...rest } = shot
    expect([samples, markers]).toEqual([{ byId: {} }, { byId: {} }])
    expect(parseShot({ ...rest, schema: 2 }, 'two.shot.json')).toEqual(shot)
  })

  test('a document of schema 4 has no witnesses, and keeps everything', () => {
    const { witnesses, ...rest } = shot
    expect(witnesses).toEqual({ byId: {} })
    expect(parseShot({ ...rest, schema: 4 }, 'four.shot.json')).toEqual(shot)
  })

  test('what only says that it is of schema 1 is refused, not thrown at', () => {
    expect(() => parseShot({ schema: 1, name: 'x', elements: 5 }, 'odd.shot.json')).toThrow(/odd\.shot\.json/)
  })
})

describe('a database of schema 1', () => {
  const data = new DataFolder()
  let server: RunningServer

  beforeAll(async () => {
    const url = await newDatabase()
    const sequelize = connect(url)
    await migrate(sequelize, '0002-handoffs')
    const say = (sql: string, replacements: Record<string, unknown>) => sequelize.query(sql, { replacements })
    const [first, second] = [withVeil([0, 0, 0]), withVeil([0.02, 0, 0])]
    await say('INSERT INTO shots VALUES (:name, :folder, 2, :document, now())', {
      name: 'quay-010',
      folder: data.shot,
      document: JSON.stringify(second),
    })
    const patches = [{ op: 'replace', path: ['elements', 3, 'treatments', 0, 'parameters', 'veil', 0], value: 0.02 }]
    for (const [i, document] of [first, second].entries())
      await say(`INSERT INTO revisions VALUES ('quay-010', :revision, :label, 'old-tab', :patches, :document, now())`, {
        revision: i + 1,
        label: i === 0 ? 'Opened' : 'Veil of Diving bell',
        patches: JSON.stringify(i === 0 ? [] : patches),
        document: JSON.stringify(document),
      })
    await say(
      `INSERT INTO handoffs VALUES ('6a1d2d4e-5d7b-4f0e-9d4b-0a4e5c1f2b3a', 'quay-010', 2, :document, 1001, 1001, 1, :folder, false, now(), now())`,
      { document: JSON.stringify(second), folder: data.path },
    )
    await say(
      `INSERT INTO handoff_frames VALUES ('6a1d2d4e-5d7b-4f0e-9d4b-0a4e5c1f2b3a', 1001, 'done', null, null, null)`,
      {},
    )
    await sequelize.close()
    server = await runServer(url, data.path)
  })
  afterAll(async () => {
    await server.stop()
    data.remove()
  })

  test('the shot opens with its last settings, its revisions and its deliveries', async () => {
    const { body } = await ask<{ shot: Shot; revision: number }>(server, '/api/shots/quay-010')
    expect(body.revision).toBe(2)
    expect(veilOf(body.shot)).toEqual([0.02, 0, 0])
    const at = async (revision: number) =>
      veilOf((await ask<Shot>(server, `/api/shots/quay-010/revisions/${revision}`)).body)
    expect([await at(1), await at(2)]).toEqual([
      [0, 0, 0],
      [0.02, 0, 0],
    ])
    const { body: deliveries } = await ask<DeliveryStatus[]>(server, '/api/shots/quay-010/deliveries')
    expect(deliveries).toMatchObject([
      {
        version: 1,
        outputs: [{ of: { what: 'composite' }, format: 'exr', samples: 'half' }],
        work: { state: 'done', done: 1, total: 1, title: 'quay-010, 1001 to 1001' },
      },
    ])
  })

  test('it is edited and taken back in the schema of today, and the old revisions can still be read', async () => {
    const send = (id: string, baseRevision: number, edit: object) =>
      ask<{ shot: Shot; revision: number }>(server, '/api/shots/quay-010/edits', { id, baseRevision, tab: 'new', edit })
    const at = { owner: { kind: 'treatment', id: 'bell-match' }, parameter: 'veil', channel: 1 }
    const edited = await send('edit-first', 2, { kind: 'set-parameter', at, frame: 1001, value: 0.04 })
    expect(edited).toMatchObject({ status: 200 })
    expect([edited.status, edited.body.revision, veilOf(edited.body.shot)]).toEqual([200, 3, [0.02, 0.04, 0]])
    const back = await send('edit-second', 3, { kind: 'undo', edit: 'edit-first' })
    expect(veilOf(back.body.shot)).toEqual([0.02, 0, 0])
    const read = await Promise.all(
      [1, 2, 3, 4].map(
        async (revision) => veilOf((await ask<Shot>(server, `/api/shots/quay-010/revisions/${revision}`)).body)[1],
      ),
    )
    expect(read).toEqual([0, 0, 0.04, 0])
  })
})

/** The shot as the application before would have written it. */
function asSchema1(today: Shot): object {
  const { elements, uses: _uses, treatments, sources, tries: _tries, plate, seed: _seed, ...shot } = today
  const inOrder = Object.values(elements.byId).sort((a, b) => (a.rank < b.rank ? -1 : 1))
  return {
    ...shot,
    schema: 1,
    sources: Object.values(sources.byId),
    elements: inOrder.map(({ id, name, inputs, visible, blend }) => {
      const [pass] = Object.values(inputs.byId)
      if (pass.kind !== 'pass') throw new Error('Schema 1 has no such input.')
      return {
        id,
        name,
        source: pass.source,
        part: pass.part,
        visible,
        landing: { ...blend, kind: id === plate ? 'plate' : blend.kind },
        treatments: usesOf(today, { kind: 'element', id }).map((use) => ({
          ...treatments.byId[use.treatment],
          enabled: use.on,
        })),
      }
    }),
  }
}

test('the demo shot as schema 1 had it gives the same bits as the one of today', () => {
  const data = new DataFolder()
  const today = parseShot(JSON.parse(readFileSync(data.file('quay-010.shot.json'), 'utf8')), 'today')
  const render = (name: string, document: object) => {
    writeFileSync(data.file(`${name}.shot.json`), JSON.stringify(document))
    const out = join(data.path, name)
    execFileSync(
      'node',
      ['bin/enkrasis.mjs', 'render', data.file(`${name}.shot.json`), '--frames', '1003', '--scale', '2', '--out', out],
      { env: { PATH: process.env.PATH } },
    )
    return readFileSync(join(out, 'quay-010_comp.1003.exr'))
  }
  const old = render('old', asSchema1(today))
  expect(old.equals(render('new', today))).toBe(true)
  expect(old.equals(render('other', shotOfSchema1))).toBe(false)
  data.remove()
})
