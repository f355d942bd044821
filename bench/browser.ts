/** The application in Chromium: time to the first picture, pictures while dragging; and EXR beside three. */

import { writeFileSync } from 'node:fs'
import { createServer } from 'node:http'
import express from 'express'
import { resolve } from 'node:path'
import type { Browser, Page } from 'playwright-core'
import { launch, screen, waitForNewest, waitForPicture } from '../e2e/driving/chromium'
import { sentence, tallyAxis } from '../e2e/driving/screen'
import { addressOf, newDatabase, runServer } from '../server/test/running-server'
import { samplePlanes, writeSample } from './exr-sample'
import { dragVeil, pictureMark } from './drag-veil'
import { atLeast, atMost, besidePeer, median, type Row } from './row'

const scopeMark = 'enkrasis:scope'

/** @param large folder of the demo at 1920x1080 */
export async function benchBrowser(database: string, data: string, large: string): Promise<Row[]> {
  const browser = await launch()
  try {
    return [
      ...(await benchExrPage(browser)),
      ...(await withServer(database, data, (address) => benchOpening(browser, address))),
      ...(await withServer(database, large, (address) => benchDragging(browser, address))),
      ...(await withServer(database, data, (address) => benchScope(browser, address))),
      ...(await withServer(database, data, (address) => benchPlaying(browser, address))),
      ...(await withServer(database, data, (address) => benchScrubbing(browser, address))),
    ]
  } finally {
    await browser.close()
  }
}

async function benchExrPage(browser: Browser): Promise<Row[]> {
  writeFileSync(resolve('dist/bench/sample.exr'), await writeSample(samplePlanes()))
  const server = createServer(express().use(express.static(resolve('dist/bench'))))
  const port = await new Promise<number>((done) =>
    server.listen(0, '127.0.0.1', () => done((server.address() as { port: number }).port)),
  )
  const page = await browser.newPage()
  await page.goto(`http://127.0.0.1:${port}/`)
  await page.waitForFunction(() => 'measured' in globalThis)
  const [ours, peer] = await page.evaluate(
    () => (globalThis as unknown as { measured: Promise<[number, number]> }).measured,
  )
  await page.close()
  server.close()
  return [besidePeer("EXR ZIP half RGBA 1920x1080, read in Chromium, beside three's loader", ours, peer, 0.5, 'ms')]
}

async function withServer(root: string, data: string, use: (address: string) => Promise<Row[]>): Promise<Row[]> {
  const server = await runServer(await newDatabase(root), data)
  try {
    return await use(await addressOf(server, '/shots/quay-010'))
  } finally {
    await server.stop()
  }
}

async function open(browser: Browser, address: string): Promise<Page> {
  const page = await browser.newPage({ viewport: screen })
  await page.goto(address)
  await waitForPicture(page)
  return page
}

async function benchOpening(browser: Browser, address: string): Promise<Row[]> {
  const first: number[] = []
  for (let i = 0; i < 5; i++) {
    const page = await open(browser, address)
    first.push(await page.evaluate((mark) => performance.getEntriesByName(mark)[0].startTime / 1000, pictureMark))
    await page.close()
  }
  return [atMost('Opening the demo shot in Chromium to the first full picture', median(first), 1.6, 's')]
}

async function benchDragging(browser: Browser, address: string): Promise<Row[]> {
  const page = await open(browser, address)
  const [rate, delay] = await dragVeil(page)
  await page.close()
  return [
    atLeast('Dragging the veil at half scale of 1920x1080 in Chromium', rate, 15, 'pictures/s'),
    atMost('… from pointer to picture, median', delay, 80, 'ms'),
  ]
}

const scopes = ['waveform', 'parade', 'histogram', 'vectorscope']

/** Plate, element and composite in a scope under the picture, while the element changes. */
async function benchScope(browser: Browser, address: string): Promise<Row[]> {
  const page = await open(browser, address)
  const rows: Row[] = []
  for (const scope of scopes) {
    await page.evaluate((mark) => performance.clearMarks(mark), scopeMark)
    await page.keyboard.press('s')
    await page.waitForFunction((mark) => performance.getEntriesByName(mark).length > 0, scopeMark)
    const [, , rate] = await dragVeil(page, scopeMark)
    await page.mouse.up()
    rows.push(
      atLeast(`A ${scope} of three layers at half scale of the demo, while the veil is dragged`, rate, 10, 'updates/s'),
    )
  }
  await page.close()
  return rows
}

/** Rounds that are played at most until one shows every frame. */
const mostRounds = 12

/** Played until the pictures are there, then measured. */
async function benchPlaying(browser: Browser, address: string): Promise<Row[]> {
  const page = await open(browser, address)
  await page.getByRole('button', { name: 'Scale', exact: true }).click()
  await page.getByRole('menuitem', { name: 'half scale' }).click()
  const play = async (ms: number) => {
    await page.keyboard.press('Space')
    await page.waitForTimeout(ms)
    await page.keyboard.press('Space')
    return (await sentence(page).textContent()) ?? ''
  }
  for (let round = 0; round < mostRounds; round++) if ((await play(4000)).includes('none dropped')) break
  const said = await play(6000)
  await page.close()
  const dropped = said.includes('none dropped') ? 0 : Number(/(\d+) of \d+ dropped/.exec(said)?.[1] ?? NaN)
  return [
    atMost(
      'Playing 6 s of the demo at half scale in Chromium, once its pictures are there',
      dropped,
      0,
      'dropped frames',
    ),
  ]
}

/** Sixty frames in one second along the tally, each time in a page that has no frames yet. */
async function benchScrubbing(browser: Browser, address: string): Promise<Row[]> {
  const waits: number[] = []
  for (let time = 0; time < 20; time++) {
    const page = await open(browser, address)
    await page.getByRole('button', { name: 'Scale', exact: true }).click()
    await page.getByRole('menuitem', { name: 'half scale' }).click()
    await waitForNewest(page)
    const box = await tallyAxis(page).boundingBox()
    if (!box) throw new Error('There is no tally.')
    await page.mouse.move(box.x + box.width * 0.1, box.y + box.height / 2)
    await page.mouse.down()
    const start = performance.now()
    for (let i = 1; i <= 60; i++) {
      await page.mouse.move(box.x + box.width * (0.1 + (0.6 * i) / 60 + 0.002 * time), box.y + box.height / 2)
      const left = start + (i * 1000) / 60 - performance.now()
      if (left > 0) await page.waitForTimeout(left)
    }
    const end = performance.now()
    await waitForNewest(page)
    waits.push(performance.now() - end)
    await page.mouse.up()
    await page.close()
  }
  waits.sort((a, b) => a - b)
  return [
    atMost(
      'Scrubbing 60 frames in one second at half scale, cold: until the last stands, 90th percentile of 20',
      waits[17],
      300,
      'ms',
    ),
  ]
}
