/** The document: planning while a number is dragged, and a long shot with a long history in the database. */

import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Client } from 'pg'
import { allThere, treated } from '../core/test/small-shot'
import { PlanMemo } from '../core/plan/memo'
import { planFrame } from '../core/plan/plan'
import {
  applyEdit,
  firstRanks,
  newBlend,
  newElement,
  newShutter,
  newTreatment,
  passInputs,
  schemaVersion,
  tableOf,
  type Change,
  type Shot,
  type Source,
  type Use,
} from '../core/shot'
import { withoutUses } from '../web/src/store/plans'
import { ownPageHeader } from '../formats/wire/own-page'
import { newDatabase, runServer } from '../server/test/running-server'
import { atMost, median, type Row } from './row'

const frames = { first: 1001, last: 3000 }
const claims = (alpha: Source['claims']['alpha']) => ({ encoding: 'linear', primaries: 'rec709', alpha }) as const
const sources: Source[] = [
  { id: 'plate', name: 'Plate', path: 'plate.####.exr', frames, claims: claims('none') },
  { id: 'cg', name: 'CG', path: 'cg.####.exr', frames, claims: claims('premultiplied') },
  { id: 'matte', name: 'Matte', path: 'matte.####.exr', frames, claims: claims('none') },
  { id: 'clean', name: 'Clean plate', path: 'clean.exr', frames: null, claims: claims('none') },
]

/** Each element but the plate has five treatments of its own; the last ten are made of the one that is named `used`. */
function longShot(name: string, elements: number): Shot {
  const ranks = firstRanks(elements)
  const ids = ranks.map((_, i) => (i === 0 ? 'plate' : i === elements - 12 ? 'used' : `element-${i}`))
  const start: Shot = {
    schema: schemaVersion,
    name,
    seed: name,
    frames,
    rate: { numerator: 24, denominator: 1 },
    frameSize: { width: 1920, height: 1080 },
    pixelAspect: 1,
    workingSpace: 'linear-rec709',
    plate: 'plate',
    sources: tableOf(sources),
    elements: tableOf(
      ids.map((id, i) => {
        const element = newElement(
          id,
          id,
          ranks[i],
          newBlend('over'),
          passInputs(id === 'plate' ? 'plate' : 'cg', id === 'plate' ? null : `part_${i}`),
        )
        return i < elements - 10 ? element : { ...element, inputs: ofElement('used') }
      }),
    ),
    treatments: tableOf([]),
    uses: tableOf<Use>([]),
    tries: { byId: {} },
    samples: tableOf([]),
    markers: tableOf([]),
    witnesses: tableOf([]),
    referenceObjects: tableOf([]),
    tracks: tableOf([]),
    mattes: tableOf([]),
    shutter: newShutter(),
  }
  const kinds = ['veil-and-gain', 'saturation', 'soften', 'grain', 'glow'] as const
  return ids.reduce(
    (shot, id) =>
      kinds.reduce(
        (before, kind) => treated(before, { kind: 'element', id }, newTreatment(kind, `${id}-${kind}`)),
        shot,
      ),
    start,
  )
}

function ofElement(element: string) {
  const [input] = Object.values(passInputs('cg').byId)
  const { id, parent, rank, parameters } = input
  return tableOf([{ id, parent, rank, parameters, kind: 'element' as const, element }])
}

const veil = (treatment: string, value: number): Change => ({
  kind: 'set-parameter',
  at: { owner: { kind: 'treatment', id: treatment }, parameter: 'veil', channel: 0 },
  frame: 1500,
  value,
})

/** As the screen does: the composite with the plate, and the element untreated, which it is compared with. */
function benchPlanning(): Row {
  const shot = longShot('planning', 40)
  const files = allThere()
  const worst = ['plate', 'element-20', 'used'].map((element) => {
    const memo = new PlanMemo()
    const times: number[] = []
    for (let i = 0; i < 120; i++) {
      const dragged = applyEdit(shot, veil(`${element}-veil-and-gain`, 0.0001 * (i + 1))).shot
      const untreated = withoutUses(dragged, element, null)
      const start = performance.now()
      const { problems } = planFrame(dragged, 1500, 2, files, memo)
      planFrame(untreated, 1500, 2, files, memo)
      if (i > 20) times.push(performance.now() - start)
      if (problems.length > 0) throw new Error(problems[0].sentence)
    }
    return median(times)
  })
  return atMost(
    'Planning while one number is dragged, 40 elements of 5 treatments, the worst of plate, middle, used by ten',
    Math.max(...worst),
    2,
    'ms',
  )
}

const revisions = 5000
const revisionsPerDocument = 50

async function fillHistory(database: string, shot: Shot): Promise<string> {
  const client = new Client({ connectionString: database })
  await client.connect()
  const { rows } = await client.query<{ id: string }>('SELECT id FROM shots WHERE name = $1', [shot.name])
  const [{ id }] = rows
  const path = '["treatments","byId","element-20-veil-and-gain","parameters","veil",0]'
  const patch = (value: string) =>
    `jsonb_build_array(jsonb_build_object('op', 'replace', 'path', '${path}'::jsonb, 'value', ${value}))`
  await client.query(
    `INSERT INTO revisions (revision, label, tab, patches, inverse, document, "createdAt", "shotId", "editId")
     SELECT n, 'Veil of element-20', 'bench', ${patch('n / 1e6')}, ${patch('(n - 1) / 1e6')},
       CASE WHEN n % ${revisionsPerDocument} = 0 THEN $2::jsonb END, now(), $1, 'bench-edit-' || n
     FROM generate_series(2, ${revisions}) AS n`,
    [id, JSON.stringify(shot)],
  )
  await client.query('UPDATE shots SET revision = $2 WHERE id = $1', [id, revisions])
  await client.end()
  return id
}

const timed = async (work: () => Promise<unknown>) => {
  const start = performance.now()
  await work()
  return performance.now() - start
}

async function benchHistory(root: string): Promise<Row[]> {
  const data = mkdtempSync(join(tmpdir(), 'enkrasis-bench-'))
  const folder = join(data, 'media', 'long')
  mkdirSync(folder, { recursive: true })
  const shot = longShot('long', 24)
  writeFileSync(join(folder, 'long.shot.json'), JSON.stringify(shot))
  for (const { path } of sources)
    for (let n = frames.first; n <= frames.last; n++) writeFileSync(join(folder, path.replace('####', String(n))), 'x')
  const database = await newDatabase(root)
  try {
    const first = await runServer(database, data)
    await (await fetch(`${first.url}/api/shots`)).json()
    const id = await fillHistory(database, shot)
    await first.stop()
    const [documents, catalogs, stored]: [number[], number[], number[]] = [[], [], []]
    for (let start = 0; start < 5; start++) {
      const server = await runServer(database, data)
      const address = `${server.url}/api/shots/${id}`
      const get = async () => {
        const answer = await fetch(address)
        if (answer.status !== 200) throw new Error(await answer.text())
        return (await answer.json()) as { revision: number }
      }
      documents.push(await timed(get))
      catalogs.push(await timed(async () => (await fetch(`${address}/catalog`)).json()))
      let { revision } = await get()
      for (let i = 0; i < 9; i++) {
        const edit = veil('element-6-veil-and-gain', Math.random() / 10)
        const body = JSON.stringify({ id: crypto.randomUUID(), baseRevision: revision, tab: 'bench', edit })
        const headers = { 'Content-Type': 'application/json', [ownPageHeader]: '1' }
        stored.push(
          await timed(async () => {
            const answer = await fetch(`${address}/edits`, { method: 'POST', headers, body })
            if (answer.status !== 200) throw new Error(await answer.text())
            ;({ revision } = (await answer.json()) as { revision: number })
          }),
        )
      }
      await server.stop()
    }
    const which = 'a shot of 2,000 frames, 4 sources and 5,000 revisions'
    return [
      atMost(`Opening ${which}: document, cold`, median(documents), 100, 'ms'),
      atMost('… its catalog, cold', median(catalogs), 500, 'ms'),
      atMost('Storing an edit of it', median(stored), 25, 'ms'),
    ]
  } finally {
    rmSync(data, { recursive: true, force: true })
  }
}

export async function benchDocument(database: string): Promise<Row[]> {
  return [benchPlanning(), ...(await benchHistory(database))]
}
