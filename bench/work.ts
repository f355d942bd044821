/** Long work: small items through queue and worker, a killed worker's items, thirty kills, the preview movie. */

import { randomUUID } from 'node:crypto'
import { join } from 'node:path'
import { isOver } from '../core/work'
import { until } from '../server/test/running-server'
import { KillBench, killsFor } from '../server/work/test/kills'
import { workBench, type WorkBench } from '../server/work/test/work-bench'
import { atMost, besidePeer, inTurns, type Row } from './row'
import { renderDemo } from './command-line'

const items = 1000
const itemMs = 20
const kills = 30

export async function benchWork(data: string): Promise<Row[]> {
  const bench = await workBench()
  try {
    const small = await smallItems(bench)
    const lost = await lostItems(bench)
    return [
      atMost('1,000 items of 20 ms through queue and one worker', small, 30, 's'),
      atMost('Items of a killed worker, until another has done them', lost, 15, 's'),
      await previewMovie(data),
      atMost(`${kills} kills in mid-work that had consequences`, await consequences(), 0, ''),
    ]
  } finally {
    await bench.close()
  }
}

const wish = (bench: WorkBench, count: number) => {
  const about = {
    id: randomUUID(),
    kind: 'movie',
    key: randomUUID(),
    title: 'items',
    input: {},
    wisher: 'bench',
  } as const
  return bench.store().wish({ ...about, items: Array.from({ length: count }, (_, i) => i) })
}

const over = (bench: WorkBench, id: string) => until(() => bench.store().status(id), isOver, 120)

/** @returns seconds */
async function smallItems(bench: WorkBench): Promise<number> {
  const worker = await bench.worker(() => new Promise((done) => setTimeout(() => done({}), itemMs)), { atOnce: 3 })
  const start = performance.now()
  await over(bench, await wish(bench, items))
  const seconds = (performance.now() - start) / 1000
  await worker.stop()
  return seconds
}

/** Two items are taken by somebody who is never heard of again; another worker is there. @returns seconds */
async function lostItems(bench: WorkBench): Promise<number> {
  const id = await wish(bench, 2)
  const taken = await bench.store().take('killed', ['movie'], 2)
  if (taken.length !== 2) throw new Error('The items were not taken.')
  const start = performance.now()
  const worker = await bench.worker(async () => ({}))
  await over(bench, id)
  await worker.stop()
  return (performance.now() - start) / 1000
}

async function consequences(): Promise<number> {
  const bench = new KillBench()
  await bench.start()
  let faulty = 0
  try {
    for (const kill of killsFor(7000, kills)) {
      const faults = await bench.disturbed(kill)
      if (faults.length === 0) continue
      faulty++
      console.error(`Seed ${kill.seed}, ${kill.target}, ${kill.moment}: ${faults.join('; ')}`)
    }
  } finally {
    await bench.stop()
  }
  return faulty
}

async function previewMovie(data: string): Promise<Row> {
  const shotFile = join(data, 'media/quay-010/quay-010.shot.json')
  const [movie, exr] = await inTurns(
    2,
    () => renderDemo(shotFile, ['--format', 'movie', '--line']),
    () => renderDemo(shotFile, []),
  )
  return besidePeer('Preview movie of the 48 demo frames, beside their EXR files', movie, exr, 1.25, 'ms')
}
