import type { Browser, Page } from 'playwright-core'
import { halfToFloat } from '../core/image/half'
import { readExr } from '../formats/exr'
import { unpacking } from '../server/media/exr-blocks'
import { withFile } from '../server/media/file-source'
import { addressOf, DataFolder, newDatabase, runServer, type RunningServer } from '../server/test/running-server'
import { join } from 'node:path'
import { execFileSync } from 'node:child_process'
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { launch, screen, waitForPicture } from './driving/chromium'
import {
  card,
  controlClick,
  deliveries,
  element,
  letGo,
  ofParameter,
  pictureCanvas,
  readingRow,
  saving,
  tallyAxis,
} from './driving/screen'

/** The job of the first slice, done in a real browser against the real server: from opening the demo to delivered frames. */

const data = new DataFolder()
let server: RunningServer
let browser: Browser
let page: Page
const troubles: string[] = []

beforeAll(async () => {
  server = await runServer(await newDatabase(), data.path)
  browser = await launch()
  page = await newPage()
})
afterAll(async () => {
  await browser.close()
  await server.stop()
  data.remove()
})

async function newPage(): Promise<Page> {
  const context = await browser.newContext({ viewport: screen })
  const made = await context.newPage()
  made.on('pageerror', (error) => troubles.push(error.message))
  return made
}

/** Screen position of a full-scale picture pixel. */
async function screenAt(x: number, y: number): Promise<{ x: number; y: number }> {
  const box = await page.locator(pictureCanvas).boundingBox()
  if (!box) throw new Error('There is no picture.')
  return { x: box.x + ((x + 0.5) / 640) * box.width, y: box.y + ((y + 0.5) / 360) * box.height }
}

async function pointAt(x: number, y: number): Promise<void> {
  const at = await screenAt(x, y)
  await page.mouse.move(at.x, at.y)
  await page.getByText(`Under the pointer, ${x} ${y}`).waitFor()
}

/** @param row of what, and which layer */
type Row = readonly [of: string, layer: string]

async function values([of, layer]: Row): Promise<number[]> {
  const texts = await readingRow(page, of, layer).locator('> span').allTextContents()
  return texts.map(Number)
}

/** Waits until the reading has settled on numbers. */
async function settledValues(row: Row): Promise<number[]> {
  let before = ''
  for (;;) {
    const now = (await values(row)).join(' ')
    if (now === before && !now.includes('NaN')) return now.split(' ').map(Number)
    before = now
    await page.waitForTimeout(120)
  }
}

async function picturePixel(x: number, y: number): Promise<number[]> {
  return page.evaluate(
    ([selector, px, py]) => {
      const context = document.querySelector<HTMLCanvasElement>(selector)?.getContext('2d')
      return [...(context?.getImageData(px, py, 1, 1).data ?? [])]
    },
    [pictureCanvas, x, y] as const,
  )
}

/** Where edits are sent and heard of. */
const oneShot = /\/api\/shots\/[0-9a-f-]{36}$/

const saved = () =>
  saving(page)
    .getByText(/^Saved/)
    .waitFor()
const veil = (channel: string) => page.getByRole('spinbutton', { name: `Veil ${channel}` })

/** A dark spot of the CG (the bell's rim in shade) and of the plate (the bollard's foot). */
const cgBlack = { x: 345, y: 258 }
const plateBlack = { x: 272, y: 262 }

test('the list shows the demo shot, and it opens with its first frame', async () => {
  await page.goto(server.url)
  await page
    .getByRole('link', { name: 'quay-010' })
    .getByText('Frames 1001 to 1006, 24 frames a second, 640 × 360')
    .waitFor()
  await page.getByRole('link', { name: 'quay-010' }).click()
  await waitForPicture(page, 1001)
  await expect(element(page, 'Diving bell').textContent()).resolves.toBe('Diving belloverbeauty')
})

test('scrubbing along the tally shows other frames', async () => {
  const box = await tallyAxis(page).boundingBox()
  if (!box) throw new Error('There is no tally.')
  await page.mouse.move(box.x + 30, box.y + 10)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width * 0.6, box.y + 10, { steps: 8 })
  await page.mouse.up()
  await waitForPicture(page, 1004)
  await page.keyboard.press('Home')
  await waitForPicture(page, 1001)
  await page.keyboard.press('ArrowRight')
  await waitForPicture(page, 1002)
  await page.keyboard.press('ArrowLeft')
  await waitForPicture(page, 1001)
})

test('dragging the veil brings the CG’s black to the plate’s black, live', async () => {
  await pointAt(plateBlack.x, plateBlack.y)
  const plate = await settledValues(['Under the pointer', 'plate'])
  const at = await screenAt(cgBlack.x, cgBlack.y)
  await controlClick(page, at.x, at.y)
  const before = await settledValues(['Sample 1', 'composite'])
  expect(before[0]).toBeLessThan(plate[0])
  const pixelBefore = await picturePixel(cgBlack.x, cgBlack.y)
  for (const [channel, name] of ['red', 'green', 'blue'].entries()) {
    const number = await veil(name).boundingBox()
    if (!number) throw new Error('There is no veil.')
    const start = { x: number.x + number.width / 2, y: number.y + number.height / 2 }
    await page.mouse.move(start.x, start.y)
    await page.mouse.down()
    let distance = 0
    for (let i = 0; i < 400; i++) {
      const now = (await settledValues(['Sample 1', 'composite']))[channel]
      if (Math.abs(now - plate[channel]) <= 0.0006) break
      distance += now < plate[channel] ? Math.max(1, Math.round((plate[channel] - now) / 0.0005)) : -1
      await page.mouse.move(start.x + distance, start.y)
    }
    await page.mouse.up()
  }
  const after = await settledValues(['Sample 1', 'composite'])
  after.forEach((value, c) => expect(Math.abs(value - plate[c])).toBeLessThanOrEqual(0.0011))
  await page.waitForTimeout(300)
  expect(await picturePixel(cgBlack.x, cgBlack.y)).not.toEqual(pixelBefore)
  await saved()
})

test('the plate’s own pixels keep their values while the CG is lifted', async () => {
  await pointAt(60, 300)
  expect(await settledValues(['Under the pointer', 'composite'])).toEqual(
    await settledValues(['Under the pointer', 'plate']),
  )
})

test('undo takes back one channel at a time, redo brings it again, and both are saved', async () => {
  const blue = await veil('blue').textContent()
  expect(Number(blue)).toBeGreaterThan(0)
  await page.keyboard.press('Control+z')
  expect(await veil('blue').textContent()).toBe('0.0000')
  expect(Number(await veil('green').textContent())).toBeGreaterThan(0)
  await page.keyboard.press('Control+Shift+z')
  expect(await veil('blue').textContent()).toBe(blue)
  await saved()
})

test('a reload loses nothing', async () => {
  const texts = await Promise.all(['red', 'green', 'blue'].map((c) => veil(c).textContent()))
  await page.reload()
  await waitForPicture(page, 1001)
  expect(await Promise.all(['red', 'green', 'blue'].map((c) => veil(c).textContent()))).toEqual(texts)
})

test('numbers can be typed, set at keyframes and reset; notches show the keyframes', async () => {
  await page.getByRole('spinbutton', { name: 'Gain red' }).click()
  await page.getByRole('textbox', { name: 'Gain red' }).fill('1.25')
  await page.keyboard.press('Enter')
  expect(await page.getByRole('spinbutton', { name: 'Gain red' }).textContent()).toBe('1.250')
  await ofParameter(page, 'Gain', 'Set a keyframe')
  expect(await page.getByRole('button', { name: /^Keyframe at/ }).count()).toBe(1)
  await page.keyboard.press('End')
  await waitForPicture(page, 1006)
  await page.getByRole('spinbutton', { name: 'Gain red' }).press('ArrowUp')
  expect(await page.getByRole('spinbutton', { name: 'Gain red' }).textContent()).toBe('1.255')
  expect(await page.getByRole('button', { name: /^Keyframe at/ }).count()).toBe(2)
  await ofParameter(page, 'Gain', 'Reset')
  expect(await page.getByRole('button', { name: /^Keyframe at/ }).count()).toBe(0)
  expect(await page.getByRole('spinbutton', { name: 'Gain red' }).textContent()).toBe('1.000')
  await page.keyboard.press('Home')
  await waitForPicture(page, 1001)
  await saved()
})

test('holding P shows the plate as it came, releasing returns', async () => {
  const composite = await picturePixel(cgBlack.x, cgBlack.y)
  await page.keyboard.down('p')
  await page.getByRole('button', { name: 'What is shown' }).getByText('The plate alone').waitFor()
  await page.waitForTimeout(300)
  expect(await picturePixel(cgBlack.x, cgBlack.y)).not.toEqual(composite)
  await letGo(page, 'p')
  await page.getByRole('button', { name: 'What is shown' }).getByText('The composite').waitFor()
  await page.waitForTimeout(300)
  expect(await picturePixel(cgBlack.x, cgBlack.y)).toEqual(composite)
})

test('zoomed in, a picture pixel is a crisp square', async () => {
  const at = await screenAt(320, 180)
  await page.mouse.move(at.x, at.y)
  for (let i = 0; i < 12; i++) await page.mouse.wheel(0, -120)
  await page.waitForTimeout(200)
  const style = await page.locator(pictureCanvas).evaluate((canvas: HTMLCanvasElement) => ({
    rendering: canvas.style.imageRendering,
    zoom: canvas.getBoundingClientRect().width / 640,
  }))
  expect(style.rendering).toBe('pixelated')
  expect(style.zoom).toBeGreaterThan(8)
  await page.keyboard.press('0')
})

test('another tab’s change arrives; a change to the same value is not overwritten silently', async () => {
  const other = await newPage()
  await other.goto(await addressOf(server, '/shots/quay-010'))
  await waitForPicture(other, 1001)
  await other.getByRole('spinbutton', { name: 'Gamma green' }).press('ArrowUp')
  await page.waitForFunction(() => document.querySelector('[aria-label="Gamma green"]')?.textContent === '1.005')
  // The first tab hears nothing while the second changes the same value again.
  await page.route(oneShot, (route) => route.abort())
  await other.getByRole('spinbutton', { name: 'Gamma green' }).press('ArrowUp')
  await saving(other)
    .getByText(/^Saved/)
    .waitFor()
  await other.waitForTimeout(300)
  await page.getByRole('spinbutton', { name: 'Gamma green' }).press('ArrowDown')
  await page
    .getByRole('alert')
    .getByText(/another tab changed the same value meanwhile/)
    .waitFor()
  expect(await page.getByRole('spinbutton', { name: 'Gamma green' }).textContent()).toBe('1.010')
  await page.unroute(oneShot)
  await page.getByRole('button', { name: 'Use mine' }).click()
  await other.waitForFunction(() => document.querySelector('[aria-label="Gamma green"]')?.textContent === '1.000')
  await saved()
  await other.context().close()
})

test('three tabs edit at once, an answer lost on the way; what each takes back, in whatever order, leaves nothing behind', async () => {
  const documentNow = async () =>
    ((await (await fetch(await addressOf(server, '/api/shots/quay-010'))).json()) as { shot: unknown }).shot
  const beginning = await documentNow()
  const [second, third] = [await newPage(), await newPage()]
  for (const other of [second, third]) {
    await other.goto(await addressOf(server, '/shots/quay-010'))
    await waitForPicture(other, 1001)
  }
  const tabs = [page, second, third]
  const number = (tab: Page, name: string) => tab.getByRole('spinbutton', { name, exact: true })
  const shows = (tab: Page, name: string, value: string | null) =>
    tab.waitForFunction(([of, text]) => document.querySelector(`[aria-label="${of}"]`)?.textContent === text, [
      name,
      value,
    ] as const)
  const before = await number(page, 'Gamma red').textContent()
  // The server takes the second tab's edit; that it did never arrives, so it is sent again, and counts once.
  let cut = 0
  await second.route('**/api/shots/*/edits', async (route) => {
    if (cut++ > 0) return route.continue()
    await route.fetch()
    await route.abort()
  })
  await number(page, 'Gamma red').press('ArrowUp')
  await number(second, 'Gamma blue').press('ArrowUp')
  await number(third, 'Opacity').press('ArrowDown')
  for (const tab of tabs) {
    await saving(tab)
      .getByText(/^Saved/)
      .waitFor()
    await shows(tab, 'Gamma red', (Number(before) + 0.005).toFixed(3))
    await shows(tab, 'Gamma blue', '1.005')
    await shows(tab, 'Opacity', '0.995')
  }
  expect(cut).toBe(2)
  for (const tab of [third, page, second]) {
    await tab.getByRole('button', { name: 'Undo' }).click()
    await saving(tab)
      .getByText(/^Saved/)
      .waitFor()
  }
  for (const tab of tabs) {
    await shows(tab, 'Gamma red', before)
    await shows(tab, 'Gamma blue', '1.000')
    await shows(tab, 'Opacity', '1.000')
  }
  expect(await documentNow()).toEqual(beginning)
  await second.context().close()
  await third.context().close()
  await saved()
})

test('two delivered frames hold what the screen says', async () => {
  const spots = [cgBlack, { x: 60, y: 300 }, { x: 330, y: 200 }, { x: 300, y: 290 }]
  const read: number[][] = []
  for (const { x, y } of spots) {
    await pointAt(x, y)
    read.push(await settledValues(['Under the pointer', 'composite']))
  }
  await page.getByRole('button', { name: 'Deliver' }).click()
  await page.getByLabel('Last frame').fill('1002')
  await card(page).getByRole('button', { name: 'Deliver' }).click()
  await deliveries(page)
    .getByText(/^done in/)
    .waitFor({ timeout: 40_000 })
  const said = await page.getByRole('group', { name: 'Folder' }).first().textContent()
  expect(said).toMatch(/^quay-010\/v001, [\d.]+ (kB|MB)$/)
  const folder = join(data.path, 'delivery/quay-010/v001')
  const names = ['quay-010_comp_v001.1001.exr', 'quay-010_comp_v001.1002.exr']
  expect(readdirSync(folder).sort()).toEqual(names)
  const path = join(folder, names[0])
  const delivered = await withFile(path, path, (source) => readExr(source, { ...unpacking, channels: ['R', 'G', 'B'] }))
  spots.forEach(({ x, y }, i) => {
    delivered.planes.forEach(({ samples }, c) => {
      const value = halfToFloat(samples[y * 640 + x])
      // The screen prints four decimals of a float; the file holds its nearest half.
      expect(Math.abs(value - read[i][c])).toBeLessThanOrEqual(0.00005 + Math.abs(value) * 2 ** -11)
    })
  })

  await card(page).getByRole('button', { name: 'Files' }).click()
  const [one] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('list', { name: 'Files' }).getByRole('link').first().click(),
  ])
  expect(one.suggestedFilename()).toBe(names[0])
  expect(readFileSync(await one.path()).equals(readFileSync(path))).toBe(true)
  const [all] = await Promise.all([
    page.waitForEvent('download'),
    card(page).getByRole('link', { name: 'Download all' }).click(),
  ])
  expect(all.suggestedFilename()).toBe('quay-010_v001.zip')
  const listed = execFileSync('unzip', ['-Z1', await all.path()], { encoding: 'utf8' })
  expect(listed.trim().split('\n')).toEqual(names)

  await card(page).getByRole('button', { name: 'Remove' }).click()
  await card(page).getByRole('button', { name: 'Really remove' }).click()
  await card(page).getByText('Its files were removed.').waitFor()
  expect(existsSync(folder)).toBe(false)
  await card(page).getByRole('button', { name: 'Close' }).click()
})

test('a frame that cannot be read says so on the picture, and the others go on', async () => {
  const { truncateSync } = await import('node:fs')
  truncateSync(data.file('plate/quay-010_plate.1006.exr'), 60_000)
  await page.reload()
  await waitForPicture(page, 1001)
  await page.keyboard.press('End')
  await page
    .getByRole('alert')
    .getByText(/quay-010_plate\.1006\.exr: rows \d+ to \d+ cannot be read/)
    .waitFor()
  await page.keyboard.press('Home')
  await waitForPicture(page, 1001)
  await page.getByRole('alert').waitFor({ state: 'detached' })
})

test('the page met no error on the way', () => expect(troubles).toEqual([]))
