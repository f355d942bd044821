import type { Browser, Page } from 'playwright-core'
import type { Shot } from '../core/shot'
import { ask, DataFolder, newDatabase, runServer, type RunningServer } from '../server/test/running-server'
import { launch, screen, waitForPicture } from './driving/chromium'
import { deskAt, type Desk } from './driving/desk'
import { card } from './driving/screen'

/** A colour fringe in the glass: measured on the plate, typed, and taken back. */

const data = new DataFolder()
let server: RunningServer
let browser: Browser
let page: Page
let desk: Desk
let id: string

beforeAll(async () => {
  server = await runServer(await newDatabase(), data.path)
  browser = await launch()
  page = await browser.newPage({ viewport: screen })
  desk = deskAt(page, () => server.url, data.path, 'quay-010')
  await page.goto(server.url)
  await page.getByRole('link', { name: 'quay-010' }).click()
  await waitForPicture(page)
  id = page.url().split('/').at(-1) ?? ''
})
afterAll(async () => {
  await browser.close()
  await server.stop()
  data.remove()
})

const fringeNow = async () => {
  await desk.saved()
  const { shot } = (await ask<{ shot: Shot }>(server, `/api/shots/${id}`)).body
  return Object.values(shot.treatments.byId).find(({ kind }) => kind === 'fringe')?.parameters
}

test('the plate’s is measured in one step: this camera makes none, and that is what is found', async () => {
  await page
    .getByRole('button', { name: /^Glass/ })
    .first()
    .click()
  await page.getByRole('button', { name: 'Add a treatment …' }).click()
  await page.getByRole('textbox', { name: 'What should it do?' }).fill('chromatic')
  await page.keyboard.press('Enter')
  await card(page).getByRole('button', { name: 'Measure the plate’s' }).click()
  await card(page)
    .getByText(/at the corners: red .* px, blue .* px farther out than green, by \d+ places/)
    .waitFor()
  const found = await fringeNow()
  // A tenth of a pixel at the corners of 640 by 360.
  for (const name of ['red', 'blue']) expect(Math.abs(Number(found?.[name][0])) * 3.67).toBeLessThan(0.15)
  await page.getByRole('button', { name: 'Undo' }).click()
  expect(await fringeNow()).toMatchObject({ red: [0], blue: [0] })
})

test('typed, it is in the document; undone, it is as it was', async () => {
  await desk.setNumber('Red', '0.4')
  expect(await fringeNow()).toMatchObject({ red: [0.4], blue: [0] })
  await waitForPicture(page)
  await page.getByRole('button', { name: 'Undo' }).click()
  expect(await fringeNow()).toMatchObject({ red: [0], blue: [0] })
})
