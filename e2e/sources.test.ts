import type { Browser, Page } from 'playwright-core'
import { execFileSync } from 'node:child_process'
import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { addressOf, DataFolder, newDatabase, runServer, type RunningServer } from '../server/test/running-server'
import { launch, screen, waitForNewest, waitForPicture } from './driving/chromium'
import { card, element, pictureCanvas, saving, source } from './driving/screen'

/** Importing sources, their claims, the wedge and the check, in the browser. */

const data = new DataFolder()
let server: RunningServer
let browser: Browser
let page: Page

/** A log plate of another camera, a movie, a table. */
function makeMedia(): void {
  const media = join(data.path, 'media')
  mkdirSync(join(media, 'camera'))
  execFileSync('node', [
    'bin/enkrasis.mjs',
    'convert',
    data.file('plate/quay-010_plate.####.exr'),
    join(media, 'camera/log.####.dpx'),
    '--to',
    'logc3',
    '--frames',
    '1001-1003',
  ])
  const input = ['-f', 'lavfi', '-i', 'testsrc2=s=640x360:r=24:d=0.25']
  execFileSync('ffmpeg', [
    '-v',
    'error',
    ...input,
    '-pix_fmt',
    'yuv420p',
    '-c:v',
    'libx264',
    join(media, 'camera/clip.mp4'),
  ])
  writeFileSync(join(media, 'camera/dim.cube'), 'LUT_1D_SIZE 2\n0 0 0\n0.5 0.5 0.5\n')
  writeFileSync(join(media, 'camera/short.cube'), 'LUT_1D_SIZE 3\n0 0 0\n')
}

beforeAll(async () => {
  makeMedia()
  server = await runServer(await newDatabase(), data.path)
  browser = await launch()
  page = await (await browser.newContext({ viewport: screen })).newPage()
  await page.goto(await addressOf(server, '/shots/quay-010'))
  await waitForPicture(page)
  await page.getByRole('button', { name: /^▸ Sources/ }).click()
})
afterAll(async () => {
  await browser.close()
  await server.stop()
  data.remove()
})

const openFolder = async (...names: string[]) => {
  await page.getByRole('button', { name: 'Import …' }).click()
  for (const name of names) await page.getByRole('button', { name: `${name}/` }).click()
}
/** Ids of imported sources are random. */
const sourceNamed = (name: string) => source(page, name)
const finding = (words: RegExp) => card(page).getByRole('listitem').filter({ hasText: words })
const claim = (name: string) => card(page).getByRole('group', { name: new RegExp(`^${name}, `) })
const choose = async (label: string, option: string) => {
  await page.getByRole('combobox', { name: label }).click()
  await page.getByRole('option', { name: option, exact: true }).click()
}

test('the drawer says whether the sources are what they claim to be', async () => {
  await page
    .getByRole('status', { name: 'Verdict on the sources' })
    .getByText(/all agree|to look at/)
    .waitFor()
  await source(page, 'Quay plate').click()
  expect(await claim('encoding').getAttribute('aria-label')).toBe('encoding, agrees')
  expect(await claim('rate').textContent()).toContain('24')
})

test('a sequence is imported from the media root with what its files say', async () => {
  let bring = () => undefined as void
  const brought = new Promise<void>((resolve) => (bring = resolve))
  await page.route('**/api/media/picture?*', (route) => brought.then(() => route.continue()))
  await openFolder('camera')
  await page.getByText('log.####.dpx').click()
  await page.getByText('DPX 10 bit, 640 x 360').waitFor()
  const dialog = page.getByRole('dialog', { name: 'Import a source' })
  const button = dialog.getByRole('button', { name: 'Import', exact: true })
  const before = await button.boundingBox()
  bring()
  await dialog.getByRole('img', { name: 'camera/log.####.dpx' }).evaluate((image: HTMLImageElement) => image.decode())
  // A picture that arrives does not move the button from under the pointer.
  expect(await button.boundingBox()).toEqual(before)
  await page.unrouteAll()
  await button.click()
  await card(page).getByText('log', { exact: true }).waitFor()
  await sourceNamed('log').waitFor()
})

test('a wrong claim is found; the wedge puts the right encoding first, and a click chooses it', async () => {
  await choose('Encoding', 'scene-linear')
  await finding(/^[■□]It looks/).waitFor()
  expect(await claim('encoding').getAttribute('aria-label')).toBe('encoding, does not agree')
  await page.getByRole('button', { name: 'Wedge …' }).click()
  await page.getByRole('button', { name: /^1\. LogC3/ }).click()
  await finding(/^[■□]It looks/).waitFor({ state: 'detached' })
  expect(await claim('encoding').getAttribute('aria-label')).toBe('encoding, agrees')
  await page.getByRole('button', { name: 'Undo' }).click()
  await finding(/^[■□]It looks/).waitFor()
  await page.getByRole('button', { name: 'Redo' }).click()
})

test('claims take effect at once: the plate read as log is another picture, and undo brings it back', async () => {
  const key = () =>
    page.evaluate((selector) => document.querySelector<HTMLCanvasElement>(selector)?.dataset.shown, pictureCanvas)
  await source(page, 'Quay plate').click()
  const before = await key()
  await choose('Encoding', 'S-Log3')
  await waitForNewest(page)
  expect(await key()).not.toBe(before)
  await finding(/^[■□]It looks/).waitFor()
  await page.getByRole('button', { name: /^Read it as/ }).click()
  await waitForNewest(page)
  expect(await key()).toBe(before)
})

test('all sources stand side by side in the claims check', async () => {
  await page.getByRole('button', { name: 'Claims check …' }).click()
  const dialog = page.getByRole('dialog', { name: /^Claims check/ })
  await dialog.getByText('LogC3 (EI 800)').waitFor()
  // A row a source, and the heading.
  expect(await dialog.getByRole('row').count()).toBe(11)
  await dialog
    .getByText(/It covers shot frames|What does not fit|Nothing was found/)
    .first()
    .waitFor()
  await page.keyboard.press('Escape')
})

test('a movie is decoded with progress and becomes a source frame by frame', async () => {
  await openFolder('camera')
  await page.getByText('clip.mp4').click()
  await page.getByRole('button', { name: 'Decode and import' }).click()
  await card(page).getByText('clip', { exact: true }).waitFor()
  await card(page)
    .getByText(/DPX 16 bit/)
    .waitFor()
  expect(await claim('rate').textContent()).toContain('24')
})

test('a table is seen through without touching the data; one with a wrong count is refused with a sentence', async () => {
  const saved = saving(page)
  const before = await saved.textContent()
  await openFolder('camera')
  await page.getByText('short.cube').click()
  await page
    .getByRole('dialog', { name: 'Import a source' })
    .getByRole('button', { name: 'Import', exact: true })
    .click()
  await page
    .getByRole('alert')
    .getByText(/short\.cube: it should have 3 rows of numbers and has 1/)
    .waitFor()
  await page.getByText('dim.cube').click()
  await page
    .getByRole('dialog', { name: 'Import a source' })
    .getByRole('button', { name: 'Import', exact: true })
    .click()
  await sourceNamed('dim').waitFor()
  await saved.filter({ hasNotText: before ?? '', hasText: /^Saved, revision/ }).waitFor()
  const revision = await saved.textContent()
  await page.getByRole('button', { name: 'Screen', exact: true }).click()
  await page.getByRole('menuitem', { name: 'the table dim' }).click()
  await waitForNewest(page)
  const pixel = await page.evaluate(
    (selector) => [
      ...(document.querySelector<HTMLCanvasElement>(selector)?.getContext('2d')?.getImageData(100, 60, 1, 1).data ??
        []),
    ],
    pictureCanvas,
  )
  // Half the light, straight to the screen: no more than 127.
  expect(Math.max(...pixel.slice(0, 3))).toBeLessThan(64)
  await page.getByRole('button', { name: 'Screen', exact: true }).click()
  await page.getByRole('menuitem', { name: 'sRGB' }).click()
  await page.getByText(/^Saved, revision/).waitFor()
  expect(await saved.textContent()).toBe(revision)
})

test('files dragged in arrive in the media root and can be imported', async () => {
  await page.getByRole('button', { name: 'Import …' }).click()
  await page
    .getByLabel('Files to import')
    .setInputFiles([data.file('plate/quay-010_plate.1001.exr'), data.file('plate/quay-010_plate.1002.exr')])
  await page.getByRole('status').getByText('2 files have arrived.').waitFor()
  await page.getByText('quay-010_plate.####.exr').waitFor()
  expect(readdirSync(join(data.path, 'media/imported/quay-010_plate'))).toHaveLength(2)
  await page.keyboard.press('Escape')
})

test('an offset that moves the plate off the frame says so where it is corrected; the shot opens with it all the same', async () => {
  await source(page, 'Quay plate').click()
  const offset = card(page).getByLabel('Offset', { exact: true })
  await offset.fill('100')
  await offset.press('Enter')
  const problem = card(page).getByText(/quay-010 has no plate at frame 1001/)
  await problem.first().waitFor()
  await page.getByText(/^Saved, revision/).waitFor()
  await page.reload()
  await page.getByRole('button', { name: /^▸ Sources/ }).waitFor()
  await page.getByRole('button', { name: /^▸ Sources/ }).click()
  await source(page, 'Quay plate').click()
  await problem.first().waitFor()
  expect(await page.getByText('Unexpected Application Error').count()).toBe(0)
  await page.keyboard.press('Control+z')
  await waitForPicture(page, 1001)
  await page.getByText(/^Saved, revision/).waitFor()
})

test('a source whose files went away says so, and the shot stays usable', async () => {
  rmSync(join(data.path, 'media/camera/log.1002.dpx'))
  await sourceNamed('log').click()
  await finding(/missing inside its range/).waitFor({ timeout: 20_000 })
  await page.getByRole('button', { name: 'Repeat the frame before' }).click()
  await finding(/missing inside its range/)
    .getByText(/The frame before is shown instead/)
    .waitFor()
  await page.getByRole('region', { name: 'Sources' }).getByRole('button', { name: 'Close' }).click()
  await element(page, 'Diving bell').click()
  await page.keyboard.press('ArrowRight')
  await waitForPicture(page, 1002)
})
