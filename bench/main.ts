/** npm run bench [-- --json FILE] [-- --only WORD]: measures, prints a table, and ends with 1 when a limit is broken. */

import { writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { Command } from 'commander'
import { benchBrowser } from './browser'
import { benchRender } from './command-line'
import { benchDocument } from './document'
import { benchEngine } from './engine'
import { benchExr } from './exr'
import { benchHands } from './hands'
import { benchKernels } from './kernels'
import type { Row } from './row'
import { benchShaping } from './shaping'
import { benchPlacingInBrowser } from './placing-in-browser'
import { benchSources } from './sources'
import { benchMatching } from './matching'
import { benchLens } from './lens'
import { benchDraggingPoint } from './drag-point'
import { benchBackingKey } from './backing-key'
import { benchMattes } from './mattes'
import { benchRepair } from './repair'
import { benchTracking } from './tracking'
import { benchWitnesses } from './witnesses'
import { benchWork } from './work'
import { useKernelsForBlocks } from '../server/media/exr-blocks'

useKernelsForBlocks(new URL('.', import.meta.url))
const { json, only } = new Command('bench')
  .option('--json <file>', 'also write the rows')
  .option(
    '--only <group>',
    'kernels, engine, exr, document, shaping, sources, browser, render, work, witnesses, matching, tracking, lens, mattes, repair, placing or hands',
  )
  .parse()
  .opts<{ json?: string; only?: string }>()
const database = process.env.ENKRASIS_BENCH_DATABASE
if (!database) throw new Error('Run the bench with "npm run bench", which starts PostgreSQL for it.')
const data = resolve('.data')
// The helpers of the tests ask for it by this name.
process.env.ENKRASIS_TEST_DATABASE = database
process.env.ENKRASIS_TEST_DATA ??= resolve('.data/bench-small')

const groups: Record<string, () => Promise<Row[]>> = {
  kernels: benchKernels,
  engine: () => benchEngine(data),
  exr: benchExr,
  document: () => benchDocument(database),
  shaping: benchShaping,
  sources: () => benchSources(data),
  browser: () => benchBrowser(database, data, resolve('.data/bench-1080')),
  render: () => benchRender(data),
  work: () => benchWork(data),
  witnesses: () => benchWitnesses(database, data),
  matching: () => benchMatching(join(data, 'media')),
  tracking: () => benchTracking(data),
  lens: () => Promise.resolve(benchLens()),
  repair: benchRepair,
  mattes: async () => [
    ...(await benchMattes(data)),
    ...(await benchBackingKey()),
    ...(await benchDraggingPoint(database, data)),
  ],
  placing: () => benchPlacingInBrowser(database),
  hands: () => benchHands(database, data),
}
const rows: Row[] = []
for (const [name, measure] of Object.entries(groups))
  if (only === undefined || only === name) rows.push(...(await measure()))

const number = (value: number) => (value >= 100 ? value.toFixed(0) : value.toPrecision(3))
for (const { name, ours, peer, ratio, limit, unit, good } of rows) {
  const most = limit === null ? 'no limit' : `limit ${peer === null ? `${number(limit)} ${unit}` : limit}`
  const beside = peer === null ? most : `peer ${number(peer)} ${unit}, ratio ${ratio.toFixed(2)}, ${most}`
  console.log(`${good ? 'ok ' : 'NOT'}  ${name}: ${number(ours)} ${unit} (${beside})`)
}
if (json !== undefined) writeFileSync(json, `${JSON.stringify(rows, null, 2)}\n`)
process.exitCode = rows.every((row) => row.good) ? 0 : 1
