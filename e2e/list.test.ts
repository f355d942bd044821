import type { Browser, Page } from 'playwright-core'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { newDatabase, runServer, type RunningServer } from '../server/test/running-server'
import { launch, screen } from './driving/chromium'

/** The list of shots on a machine where there is nothing yet. */

const folder = mkdtempSync(join(tmpdir(), 'enkrasis-list-'))
let server: RunningServer
let browser: Browser
let page: Page

beforeAll(async () => {
  server = await runServer(await newDatabase(), folder)
  browser = await launch()
  page = await (await browser.newContext({ viewport: screen })).newPage()
})
afterAll(async () => {
  await browser.close()
  await server.stop()
  rmSync(folder, { recursive: true, force: true })
})

test('a demo shot that is not made yet says how long it takes; made, it tells how far it is, also after a reload', async () => {
  await page.goto(server.url)
  await page.getByRole('button', { name: 'Work: Nothing under way' }).waitFor()
  const offered = page.getByRole('article', { name: 'quay-010, not made yet' })
  await offered.getByText(/The stand-in camera makes it in about \d+ min/).waitFor()
  await offered.getByRole('button', { name: 'Make it' }).click()
  // The shot file is there before its frames.
  await page.getByText(/(\d+|None) of 48 frames/).waitFor()
  const corner = page.getByRole('button', { name: /^Work: 1 under way, \d+ %/ })
  await corner.waitFor()
  await page.reload()
  await corner.click()
  const work = page.getByRole('dialog', { name: 'Work under way' })
  await work.getByText('quay-010 made by the stand-in camera').waitFor()
  await work.getByText(/ after \d+ s/).waitFor()
  await work.getByRole('button', { name: 'Cancel' }).click()
  await work.getByRole('listitem', { name: 'quay-010 made by the stand-in camera, cancelled' }).waitFor()
  await work.press('Escape')
})
