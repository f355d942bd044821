import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import type { Browser, Page } from 'playwright-core'
import type { ComputedElement, WorkStatus } from '../core/work'
import { ask, DataFolder, newDatabase, runServer, until, type RunningServer } from '../server/test/running-server'
import { launch, screen, waitForNewest, waitForPicture } from './driving/chromium'
import { card, element, pictureCanvas, saving } from './driving/screen'

/** An element that is kept computed: made once, on the disk, as work; read as long as nothing in it changes. */

const data = new DataFolder()
let database: string
let server: RunningServer
let browser: Browser
let page: Page
let id: string

beforeAll(async () => {
  database = await newDatabase()
  server = await runServer(database, data.path)
  browser = await launch()
  page = await browser.newPage({ viewport: screen })
  await page.goto(server.url)
  await page.getByRole('link', { name: 'quay-010' }).click()
  await waitForPicture(page)
  await element(page, 'Diving bell').click()
  id = page.url().split('/').at(-1) ?? ''
})
afterAll(async () => {
  await browser.close()
  await server.stop()
  data.remove()
})

const button = (name: string) => card(page).getByRole('button', { name, exact: true })
const status = () => card(page).getByRole('status', { name: 'What is kept computed' })
const saved = () =>
  saving(page)
    .getByText(/^Saved/)
    .waitFor()
const pixels = () =>
  page
    .locator(pictureCanvas)
    .first()
    .evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL())
const files = () => readdirSync(join(data.path, 'computed'))
const kept = () => ask<ComputedElement[]>(server, `/api/shots/${id}/computed`).then(({ body }) => body)
const complete = async () => {
  for (let i = 0; i < 300; i++) {
    const [one] = await kept()
    if (one?.done === one?.total && one) return one
    await new Promise((turn) => setTimeout(turn, 100))
  }
  throw new Error('It is not complete after half a minute.')
}

test('it is computed on every frame at three scales, and read; the picture stays the same to the bit', async () => {
  await page.keyboard.press('ArrowRight')
  await waitForNewest(page)
  const before = await pixels()
  await button('Keep computed').click()
  const { done, total, bytes, keys } = await complete()
  expect([done, total]).toEqual([6, 6])
  expect(new Set(keys).size).toBe(18)
  expect(files().sort()).toEqual([...keys].sort())
  expect(bytes).toBeGreaterThan(100_000)
  await status().getByText('this frame is read').waitFor()
  // Opened again, nothing of the bell itself is asked for.
  const asked: string[] = []
  page.on('request', (request) => asked.push(request.url()))
  await page.reload()
  await waitForPicture(page)
  await element(page, 'Diving bell').click()
  await status().getByText('this frame is read').waitFor()
  await page.keyboard.press('ArrowRight')
  await waitForPicture(page, 1002)
  await waitForNewest(page)
  expect(asked.some((url) => url.includes('/api/computed/'))).toBe(true)
  expect(await pixels()).toBe(before)
  await page.getByText('1 kept computed').waitFor()
})

test('changed, it is said to be stale and made anew; undone, it is read again', async () => {
  await card(page).getByRole('spinbutton', { name: 'Opacity', exact: true }).click()
  await page.getByRole('textbox', { name: 'Opacity', exact: true }).fill('0.5')
  await page.keyboard.press('Enter')
  await saved()
  await status().getByText('stale here').waitFor()
  await page.getByText('1 kept but stale').waitFor()
  await page.getByRole('button', { name: 'Undo' }).click()
  await saved()
  await status().getByText('this frame is read').waitFor()
})

test('another tab sees it, and hears when it is let go', async () => {
  const other = await browser.newPage({ viewport: screen })
  await other.goto(page.url())
  await waitForPicture(other)
  await element(other, 'Diving bell').click()
  await card(other).getByText('this frame is read').waitFor()
  await button('Let go').click()
  await card(other).getByRole('button', { name: 'Keep computed' }).waitFor()
  await other.close()
  expect(await kept()).toEqual([])
  // It is told as soon as nobody keeps them; then they are removed.
  await until(
    () => Promise.resolve(files()),
    (left) => left.length === 0,
  )
})

test('a full share of the disk is said with what to do, and nothing else is lost', async () => {
  await server.stop()
  server = await runServer(database, data.path, new URL(server.url).port, '', '128', { ENKRASIS_COMPUTED_GB: '0.001' })
  await page.goto(`${server.url}/shots/${id}`)
  await waitForPicture(page)
  await element(page, 'Diving bell').click()
  await button('Keep computed').click()
  for (let i = 0; ; i++) {
    const { body } = await ask<WorkStatus[]>(server, '/api/work')
    const [work] = body.filter(({ kind }) => kind === 'computed')
    if (work?.state === 'failed') {
      expect(work.failed[0].sentence).toMatch(/^What is kept computed may use 0\.0 GiB of the disk.*Let go of elements/)
      break
    }
    if (i > 200) throw new Error('It did not fail.')
    await new Promise((turn) => setTimeout(turn, 100))
  }
  await page.getByRole('button', { name: /^Work: 1 failed/ }).waitFor()
})
