import { cpSync, existsSync, readdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import type { Browser, Page } from 'playwright-core'
import { DataFolder, newDatabase, runServer, until, type RunningServer } from '../server/test/running-server'
import { launch, screen, waitForPicture } from './driving/chromium'
import { letGo } from './driving/screen'

/** From an empty list and a folder of files to a shot, by pointer alone; then what the list can do with it. */

const data = new DataFolder()
let server: RunningServer
let browser: Browser
let page: Page

beforeAll(async () => {
  rmSync(join(data.shot, 'quay-010.shot.json'))
  server = await runServer(await newDatabase(), data.path)
  browser = await launch()
  page = await browser.newPage({ viewport: screen })
})
afterAll(async () => {
  await browser.close()
  await server.stop()
  data.remove()
})

const button = (name: string | RegExp) => page.getByRole('button', { name })
const field = (name: string) => page.getByLabel(name, { exact: true })

/** A row of the list. */
const entry = (name: string) => page.getByRole('article', { name, exact: true })

async function choose(shot: string, what: string): Promise<void> {
  await button(`More of ${shot}`).click()
  await page.getByRole('menuitem', { name: what }).click()
}

test('the first composite stands after at most 8 actions of the pointer', async () => {
  await page.goto(server.url)
  await page.getByText('No shots yet.').waitFor()
  let actions = 0
  const act = async (target: ReturnType<typeof button>) => {
    actions++
    await target.click()
  }
  await act(page.getByRole('link', { name: 'New shot' }))
  await act(button('quay-010/'))
  await act(button('Use everything in quay-010'))
  await act(button('Make the shot'))
  await waitForPicture(page)
  expect(actions).toBeLessThanOrEqual(8)
  const entries = page
    .getByRole('group', { name: 'Elements, far to near' })
    .getByRole('button')
    .filter({ hasText: /./ })
  await entries.nth(4).waitFor()
  const names = await entries.allInnerTexts()
  expect(names.map((text) => text.split('\n')[0])).toEqual([
    'Plate',
    'Bell shadow',
    'Bell contact',
    'Bell reflection',
    'Bell',
  ])
})

test('what is proposed can be answered otherwise; what cannot be is said', async () => {
  await page.goto(`${server.url}/new`)
  await button('quay-010/').click()
  await button('plate/').click()
  await page.getByRole('checkbox', { name: /quay-010_plate/ }).click()
  await button('Use the ticked clip').click()
  await field('Name').fill('quay-010')
  await button('Make the shot').click()
  await page.getByText('The name quay-010 is taken by another shot.').waitFor()
  await field('Name').fill('quay-020')
  await field('Handles').fill('3')
  await button('Make the shot').click()
  await page.getByText('Handles of 3 frames at each end leave nothing').waitFor()
  await field('Handles').fill('1')
  await page.getByText('frames 1002 to 1005').waitFor()
  await field('Frames a second').fill('many')
  expect(await button('Make the shot').isDisabled()).toBe(true)
  await field('Frames a second').fill('30000/1001')
  await button('Make the shot').click()
  await waitForPicture(page)
  await page.goto(server.url)
  await entry('quay-020').getByText('Frames 1002 to 1005, 29.97 frames a second').waitFor()
})

test('a shot is duplicated, renamed, archived, removed and brought back from the list', async () => {
  await page.goto(server.url)
  await choose('quay-020', 'Duplicate …')
  await field('Name').fill('quay-010')
  await button('Duplicate').click()
  await page.getByText('is taken by another shot').waitFor()
  await field('Name').fill('sea-001')
  await button('Duplicate').click()
  await entry('sea-001').waitFor()
  await page.getByRole('heading', { name: 'sea, 1 shot' }).waitFor()
  await choose('sea-001', 'Rename …')
  await field('Name').fill('sea-002')
  await button('Rename').click()
  await entry('sea-002').waitFor()
  await field('Search').fill('sea')
  expect(await page.getByRole('article').count()).toBe(1)
  await choose('sea-002', 'Archive')
  await page.getByText('No shot has these words').waitFor()
  const show = async (what: string) => {
    await page.getByRole('combobox', { name: 'Show' }).click()
    await page.getByRole('option', { name: what }).click()
  }
  await show('archived')
  await choose('sea-002', 'Remove')
  await show('removed')
  await choose('sea-002', 'Bring back')
  await show('archived')
  await choose('sea-002', 'Take out of the archive')
  await show('present')
  await entry('sea-002').waitFor()
})

test('a saved shot file is opened again under another name', async () => {
  await page.goto(server.url)
  await button('More of quay-010').click()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'Save the shot file' }).click(),
  ])
  const file = join(data.path, 'saved.shot.json')
  await download.saveAs(file)
  expect(existsSync(file)).toBe(true)
  await page.goto(`${server.url}/new`)
  await button('quay-010/').click()
  await page.getByText('from the folder that is open: quay-010').waitFor()
  await page.getByLabel('Shot file').setInputFiles(file)
  await page.getByText('The name quay-010 is taken by another shot.').waitFor()
  await field('Name of the shot').fill('quay-030')
  await button('Open under this name').click()
  await waitForPicture(page)
})

test('the history tells every change in words and by whom; a state is looked at, named and returned to', async () => {
  await page.goto(server.url)
  await button('Your name').click()
  await page.getByRole('textbox', { name: 'Your name' }).fill('Ada')
  await page.keyboard.press('Enter')
  await page.getByRole('link', { name: 'quay-010' }).click()
  await waitForPicture(page)
  const card = page.getByRole('region', { name: 'Card' })
  const shown = () => page.locator('[aria-label="Picture"] > canvas').first().getAttribute('data-shown')
  const before = await shown()
  await card.getByRole('button', { name: 'Hide Bell' }).click()
  await page.getByRole('status', { name: 'Saving' }).getByText('Saved, revision 2').waitFor()
  await button('History').click()
  const entries = page.getByRole('list', { name: 'Revisions' }).getByRole('listitem')
  await entries.nth(1).waitFor()
  expect(await entries.nth(0).textContent()).toMatch(/Hide Bell.*Ada, the present/)
  await entries.nth(1).getByRole('button', { name: 'Look' }).click()
  await entries.nth(1).getByText('Bell hidden').waitFor()
  await page.waitForFunction(
    (was) => document.querySelector<HTMLElement>('[aria-label="Picture"] > canvas')?.dataset.shown === was,
    before,
  )
  await entries.nth(1).getByRole('button', { name: 'Name' }).click()
  await page.keyboard.type('As it came')
  await page.keyboard.press('Enter')
  await entries.nth(1).getByText('As it came').waitFor()
  await entries.nth(1).getByRole('button', { name: 'Return to it' }).click()
  await entries.nth(0).getByText('Return to As it came').waitFor()
  await page.keyboard.press('Control+z')
  await page.getByRole('status', { name: 'Saving' }).getByText('Saved, revision 4').waitFor()
  await entries.nth(0).getByText('Undo: Return to As it came').waitFor()
})

test('a new version of a render takes the place of the old one in three actions; old and new are flipped', async () => {
  const folder = join(data.path, 'media', 'swap')
  const render = (version: string, from: number) =>
    readdirSync(join(data.shot, 'cg'))
      .sort()
      .forEach((file, i, all) =>
        cpSync(
          join(data.shot, 'cg', all[(i + from) % all.length]),
          join(folder, 'cg', file.replace('quay-010_bell', `bell_${version}`)),
        ),
      )
  cpSync(join(data.shot, 'plate'), join(folder, 'plate'), { recursive: true })
  render('v003', 0)
  await page.goto(`${server.url}/new`)
  await button('swap/').click()
  await button('Use everything in swap').click()
  await button('Make the shot').click()
  await waitForPicture(page)
  /** The picture itself: its key tells of the files' state too, and the files are others. */
  const pixels = () =>
    page.evaluate(() => document.querySelector<HTMLCanvasElement>('[aria-label="Picture"] > canvas')?.toDataURL())
  const seen = (good: (url: string | undefined) => boolean) => until(pixels, good)
  const old = await pixels()
  render('v004', 2)
  await page.getByRole('button', { name: /Sources/ }).click()
  await page.getByRole('region', { name: 'Sources' }).getByRole('button', { name: /^Bell/ }).click()
  await button('Use v004').click()
  await page.getByText('Version v004').waitFor()
  await page.getByText('Data window of the first frame:').waitFor()
  await seen((url) => url !== old)
  const now = await pixels()
  await page.keyboard.down('o')
  await seen((url) => url === old)
  await letGo(page, 'o')
  await seen((url) => url === now)
})
