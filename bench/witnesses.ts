/** Witnesses read over the demo's range by the server's own worker: at first, and after an edit of an element that few see. */

import type { Change, Shot } from '../core/shot'
import type { ShotReadings } from '../core/witnesses'
import { launch, screen, waitForPicture } from '../e2e/driving/chromium'
import { ownPageHeader } from '../formats/wire/own-page'
import { addressOf, ask, newDatabase, runServer, type RunningServer } from '../server/test/running-server'
import { dragVeil } from './drag-veil'
import { atLeast, atMost, type Row } from './row'

const count = 12

export async function benchWitnesses(database: string, data: string): Promise<Row[]> {
  const server = await runServer(await newDatabase(database), data)
  try {
    const { shot } = (await ask<{ shot: Shot }>(server, '/api/shots/quay-010')).body
    const idOf = (name: string) => Object.values(shot.elements.byId).find((one) => one.name === name)?.id ?? ''
    const [bell, other] = [idOf('Diving bell'), idOf('Bell in wet stone')]
    await edit(server, {
      kind: 'together',
      changes: Array.from({ length: count }, (_, i) => ({
        kind: 'add-witness',
        witness: {
          ...{ id: `w-${i}`, name: String(i), rank: `a${i.toString(36)}`, purpose: 'mid', element: bell },
          reference: { x: 100 + 80 * i, y: 60 + 45 * (i % 12), width: 32, height: 32 },
          adjusted: { x: 590 + 10 * i, y: 220 + 20 * (i % 10), width: 32, height: 32 },
        },
      })),
    })
    const cold = await timeToRead(server)
    await checksRead(server)
    await edit(server, {
      kind: 'set-parameter',
      at: { owner: { kind: 'element', id: other }, parameter: 'opacity', channel: 0 },
      frame: 1001,
      value: 0.8,
    })
    const again = await timeToRead(server)
    await checksRead(server)
    const [pictures, readings] = await draggedBesideWitnesses(server)
    const name = `${count} witnesses of 32 x 32 over ${shot.frames.last - shot.frames.first + 1} demo frames, as work`
    return [
      atMost(`${name}: cold, decoding included`, cold, 4, 's'),
      atMost('… again after an edit of one element', again, 0.3, 's'),
      atLeast('… read while the veil is dragged at half scale in Chromium', readings, 15, 'times/s'),
      atLeast('… pictures meanwhile', pictures, 15, 'pictures/s'),
    ]
  } finally {
    await server.stop()
  }
}

/** Marked by the page whenever it has read the frame's witnesses. */
const readingsMark = 'enkrasis:readings'

async function draggedBesideWitnesses(server: RunningServer): Promise<[number, number]> {
  const browser = await launch()
  try {
    const page = await browser.newPage({ viewport: screen })
    await page.goto(await addressOf(server, '/shots/quay-010'))
    await waitForPicture(page)
    const [pictures, , readings] = await dragVeil(page, readingsMark)
    return [pictures, readings]
  } finally {
    await browser.close()
  }
}

/** Until the server has nothing more to do. */
async function checksRead(server: RunningServer): Promise<void> {
  const address = `${await addressOf(server, '/api/shots/quay-010')}/readings`
  for (;;) {
    const { progress } = (await (await fetch(address)).json()) as ShotReadings
    if (progress.checks.done >= progress.checks.total) return
    await new Promise((turn) => setTimeout(turn, 100))
  }
}

async function edit(server: RunningServer, one: Change): Promise<void> {
  const address = await addressOf(server, '/api/shots/quay-010')
  const { revision } = (await (await fetch(address)).json()) as { revision: number }
  const body = JSON.stringify({ id: crypto.randomUUID(), baseRevision: revision, tab: 'bench', edit: one })
  const headers = { 'Content-Type': 'application/json', [ownPageHeader]: '1' }
  const answer = await fetch(`${address}/edits`, { method: 'POST', headers, body })
  if (!answer.ok) throw new Error(await answer.text())
}

/** @returns seconds from asking until every frame is read */
async function timeToRead(server: RunningServer): Promise<number> {
  const address = `${await addressOf(server, '/api/shots/quay-010')}/readings`
  const headers = { 'Content-Type': 'application/json', [ownPageHeader]: '1' }
  const start = performance.now()
  let now = (await (await fetch(address, { method: 'POST', headers, body: '{}' })).json()) as ShotReadings
  while (now.progress.witnesses.done < now.progress.witnesses.total) {
    await new Promise((turn) => setTimeout(turn, 20))
    now = (await (await fetch(address)).json()) as ShotReadings
  }
  return (performance.now() - start) / 1000
}
