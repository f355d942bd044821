import type { Browser, Page } from 'playwright-core'
import { renameSync } from 'node:fs'
import { addressOf, DataFolder, newDatabase, runServer, until, type RunningServer } from '../server/test/running-server'
import { launch, screen, waitForNewest, waitForPicture } from './driving/chromium'
import { card, deliveries, element, ofParameter, picture, pictureCanvas, saving, sentence } from './driving/screen'

/** Rough going: the server away, frames that are not there yet, small gestures, keys and the view sentence. */

const data = new DataFolder()
let database: string
let server: RunningServer
let browser: Browser
let page: Page

beforeAll(async () => {
  renameSync(data.file('plate/quay-010_plate.1005.exr'), data.file('late.exr'))
  database = await newDatabase()
  server = await runServer(database, data.path)
  browser = await launch()
  page = await (await browser.newContext({ viewport: screen })).newPage()
})
afterAll(async () => {
  await browser.close()
  await server.stop()
  data.remove()
})

const number = (name: string) => page.getByRole('spinbutton', { name })
const word = (name: string) => page.getByRole('button', { name, exact: true })
const canvas = () => page.locator(pictureCanvas)
const choose = async (name: string, choice: string) => {
  await word(name).click()
  await page.getByRole('menuitem', { name: choice, exact: true }).click()
}
const pixel = (x: number, y: number) =>
  canvas().evaluate(
    (element: HTMLCanvasElement, at: number[]) => [
      ...(element.getContext('2d')?.getImageData(at[0], at[1], 1, 1).data ?? []),
    ],
    [x, y],
  )
const settled = () => waitForNewest(page)

test('the list says how many frames have arrived, and the shot opens meanwhile', async () => {
  await page.goto(server.url)
  await page.getByText('5 of 6 frames have arrived; it can be opened now.').waitFor()
  await page.getByRole('link', { name: 'quay-010' }).click()
  await waitForPicture(page, 1001)
})

test('a frame that has not arrived says so, and is shown once it has', async () => {
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowRight')
  await page
    .getByRole('alert')
    .getByText(/quay-010_plate\.1005\.exr does not exist/)
    .waitFor()
  expect(await canvas().isVisible()).toBe(false)
  renameSync(data.file('late.exr'), data.file('plate/quay-010_plate.1005.exr'))
  await waitForPicture(page, 1005)
  await page.getByRole('alert').waitFor({ state: 'detached' })
  await page.keyboard.press('Home')
  await waitForPicture(page, 1001)
})

test('every word of the view sentence changes the view and nothing else', async () => {
  const revision = await saving(page).textContent()
  await choose('Channel', 'green only')
  await settled()
  const [r, g, b] = await pixel(100, 200)
  expect([r, b]).toEqual([g, g])
  await choose('Channel', 'alpha')
  await settled()
  expect(await pixel(100, 200)).toEqual([255, 255, 255, 255])
  await choose('Channel', 'all channels')
  const before = await pixel(100, 200)
  await number('Exposure in stops').click()
  await page.getByRole('textbox', { name: 'Exposure in stops' }).fill('2')
  await page.keyboard.press('Enter')
  await settled()
  expect((await pixel(100, 200))[0]).toBeGreaterThan(before[0])
  await number('Exposure in stops').click()
  await page.getByRole('textbox', { name: 'Exposure in stops' }).fill('0')
  await page.keyboard.press('Enter')
  expect(await saving(page).textContent()).toBe(revision)
})

test('at half scale the picture has half the pixels and says so', async () => {
  await choose('Scale', 'half scale')
  await page.waitForFunction(
    (selector) => document.querySelector<HTMLCanvasElement>(selector)?.width === 320,
    pictureCanvas,
  )
  await page.getByText('averaged over 2 × 2 pixels').waitFor()
  await choose('Scale', 'full scale')
  await page.waitForFunction(
    (selector) => document.querySelector<HTMLCanvasElement>(selector)?.width === 640,
    pictureCanvas,
  )
})

test('zoom words and the fit key', async () => {
  await choose('Zoom', '400 %')
  expect((await canvas().boundingBox())?.width).toBe(2560)
  await page.keyboard.press('0')
  expect((await canvas().boundingBox())?.width).toBe(856)
  expect(await word('Zoom').textContent()).toBe('fit')
})

test('the picture alone, and back', async () => {
  await page.keyboard.press('`')
  expect((await picture(page).boundingBox())?.width).toBe(1280)
  await page.keyboard.press('`')
  expect((await picture(page).boundingBox())?.width).toBeLessThan(900)
})

test('the picture gets most of the room: 55 % of the width and 60 % of the height', async () => {
  const box = await picture(page).boundingBox()
  expect(box?.width).toBeGreaterThanOrEqual(1280 * 0.55)
  expect(box?.height).toBeGreaterThanOrEqual(800 * 0.6)
})

test('zoomed in, what is in sight is made first; panning shows the rest, the same as the whole picture had it', async () => {
  const rows = (x: number, y: number) =>
    canvas().evaluate(
      (element: HTMLCanvasElement, at: number[]) => [
        ...(element.getContext('2d')?.getImageData(at[0], at[1], 40, 30).data ?? []),
      ],
      [x, y],
    )
  const [centre, corner] = [await rows(300, 165), await rows(10, 10)]
  await choose('Zoom', '1600 %')
  // Another exposure and back: pictures that are not there yet.
  await number('Exposure in stops').press('ArrowUp')
  await number('Exposure in stops').press('ArrowDown')
  await settled()
  expect(await rows(300, 165)).toEqual(centre)
  await page.waitForTimeout(900)
  expect(await rows(10, 10)).toEqual(corner)
  await page.keyboard.press('0')
})

describe('playing, by a clock that the test holds', () => {
  const frames = [1001, 1002, 1003, 1004, 1005, 1006]
  const play = async (milliseconds: number) => {
    await page.keyboard.press('Space')
    await page.getByText('playing 24 a second').waitFor()
    await page.clock.runFor(milliseconds)
    await page.keyboard.press('Space')
    await page.getByRole('button', { name: 'Playing' }).getByText('paused').waitFor()
  }
  // What a paused clock would do to the tests that follow has nothing to do with them.
  afterAll(() => page.clock.resume())

  test('shows every frame at the shot’s rate when their pictures were made before', async () => {
    await choose('Scale', 'half scale')
    for (const frame of frames) {
      await page.waitForFunction(
        ([selector, n]) => {
          const shown = document.querySelector<HTMLCanvasElement>(selector)
          return shown?.dataset.frame === String(n) && shown.width === 320
        },
        [pictureCanvas, frame] as const,
      )
      await page.keyboard.press('ArrowRight')
    }
    await page.keyboard.press('Home')
    await waitForPicture(page, 1001)
    await page.clock.install()
    await page.clock.pauseAt(Date.now() + 10_000)
    await play(500)
    await page.getByText(', none dropped').waitFor()
    expect(await sentence(page).textContent()).toMatch(/frame 100[67]/)
    await page.clock.resume()
    await choose('Scale', 'full scale')
    await page.keyboard.press('Home')
    await waitForPicture(page, 1001)
  })

  test('drops frames whose pictures are not there, and says how many', async () => {
    const other = await page.context().newPage()
    // No file after the first frame's arrives, however quick the machine is.
    await other.route(/\/frame\?.*\bframe=100[2-6]\b/, () => undefined)
    await other.goto(page.url())
    await waitForPicture(other, 1001)
    await other.clock.install()
    await other.clock.pauseAt(Date.now() + 10_000)
    await other.keyboard.press('Space')
    await other.clock.runFor(500)
    await other.keyboard.press('Space')
    await other.getByText(/, \d+ of \d+ dropped/).waitFor()
    await other.unrouteAll({ behavior: 'ignoreErrors' })
    await other.close()
  })
})

test('selecting in the light path opens the card of what was selected', async () => {
  await element(page, 'Bell shadow').click()
  await number('Shadowed / lit red').waitFor()
  const before = await pixel(330, 300)
  await number('Shadowed / lit red').click()
  await page.getByRole('textbox', { name: 'Shadowed / lit red' }).fill('0')
  await page.keyboard.press('Enter')
  await settled()
  const after = await pixel(330, 300)
  expect(after[0]).toBeLessThanOrEqual(before[0])
  await ofParameter(page, 'Shadowed / lit', 'Reset')
  await element(page, 'Diving bell').click()
})

test('hiding an element takes it out of the picture', async () => {
  const before = await pixel(330, 180)
  await card(page).getByRole('button', { name: 'Hide Diving bell' }).click()
  await settled()
  expect(await pixel(330, 180)).not.toEqual(before)
  await card(page).getByRole('button', { name: 'Show Diving bell' }).click()
  await settled()
  expect(await pixel(330, 180)).toEqual(before)
})

test('dragging the plot at its left end moves the veil of all channels', async () => {
  const box = await page.getByRole('img', { name: 'Element light in, light out' }).boundingBox()
  if (!box) throw new Error('There is no plot.')
  await page.mouse.move(box.x + 50, box.y + 80)
  await page.mouse.down()
  await page.mouse.move(box.x + 50, box.y + 60, { steps: 5 })
  await page.mouse.up()
  const veils = await Promise.all(
    ['red', 'green', 'blue'].map(async (c) => Number(await number(`Veil ${c}`).textContent())),
  )
  expect(veils[0]).toBeGreaterThan(0.01)
  expect(veils[1]).toBe(veils[0])
  await page.keyboard.press('Control+z')
  expect(await number('Veil red').textContent()).toBe('0.0000')
})

test('while a number is dragged the plot follows, and comes to rest at the newest value', async () => {
  const path = page.getByRole('img', { name: 'Element light in, light out' }).locator('.recharts-line-curve').last()
  /** Where the line begins, of the veil: the plot is 94 pixels high and reaches to 0.2. */
  const begins = async () => 100 - (94 * Number(await number('Veil red').textContent())) / 0.2
  const drawn = async () => Number(/^M[\d.]+,([\d.]+)/.exec((await path.getAttribute('d')) ?? '')?.[1])
  await until(drawn, (at) => Math.abs(at - 100) < 0.5, 5)
  const box = await page.getByRole('spinbutton', { name: 'Veil, all channels' }).boundingBox()
  if (!box) throw new Error('There is no veil.')
  await page.mouse.move(box.x + 10, box.y + 8)
  await page.mouse.down()
  for (let i = 1; i <= 20; i++) await page.mouse.move(box.x + 10 + 4 * i, box.y + 8)
  expect(Number(await number('Veil red').textContent())).toBeGreaterThan(0.005)
  await until(
    async () => Math.abs((await drawn()) - (await begins())),
    (off) => off < 0.5,
    5,
  )
  await page.mouse.up()
  await page.keyboard.press('Control+z')
  await until(drawn, (at) => Math.abs(at - 100) < 0.5, 5)
})

test('what cannot be a number is not taken', async () => {
  await number('Gain green').click()
  await page.getByRole('textbox', { name: 'Gain green' }).fill('bright')
  await page.keyboard.press('Enter')
  expect(await number('Gain green').textContent()).toBe('1.000')
  await number('Gain green').click()
  await page.getByRole('textbox', { name: 'Gain green' }).fill('99')
  await page.keyboard.press('Enter')
  expect(await number('Gain green').textContent()).toBe('8.000')
  await page.keyboard.press('Control+z')
})

test('edits made while the server is away are saved when it is back', async () => {
  await saving(page)
    .getByText(/^Saved/)
    .waitFor()
  const port = new URL(server.url).port
  await server.kill()
  await number('Veil red').press('ArrowUp')
  await number('Veil blue').press('ArrowUp')
  await saving(page)
    .getByText(/Not saved yet: the server does not answer/)
    .waitFor()
  server = await runServer(database, data.path, port)
  await saving(page)
    .getByText(/^Saved/)
    .waitFor()
  const { shot } = (await (await fetch(await addressOf(server, '/api/shots/quay-010'))).json()) as {
    shot: { treatments: { byId: { match: { parameters: { veil: number[] } } } } }
  }
  expect(shot.treatments.byId.match.parameters.veil).toEqual([0.0005, 0, 0.0005])
})

test('a delivery under way is seen after a reload and can be cancelled', async () => {
  // A server that leaves all work to workers elsewhere, of which there are none: it cannot end before it is cancelled.
  const port = new URL(server.url).port
  await server.stop()
  server = await runServer(database, data.path, port, '', '128', { ENKRASIS_WORK: 'elsewhere' })
  await page.reload()
  await waitForPicture(page, 1001)
  await page.getByRole('button', { name: 'Deliver' }).click()
  await card(page).getByRole('button', { name: 'Deliver' }).click()
  await deliveries(page).first().waitFor()
  await page.reload()
  await waitForPicture(page, 1001)
  await page.getByRole('button', { name: /^Work:/ }).click()
  const work = page.getByRole('dialog', { name: 'Work under way' })
  await work.getByText('quay-010 v001, 1001 to 1006').waitFor()
  await work.getByRole('button', { name: 'Cancel' }).click()
  await work.getByRole('listitem', { name: /, cancelled$/ }).waitFor()
  await work.press('Escape')
  await work.waitFor({ state: 'detached' })
})

test('a range outside the shot is refused with a sentence', async () => {
  await page.getByRole('button', { name: 'Deliver' }).click()
  await page.getByLabel('First frame').fill('900')
  await page.getByRole('alert').getByText("Frames 900 to 1006 are not inside the shot's range, 1001 to 1006.").waitFor()
})

test('a shot that does not exist says so', async () => {
  await page.goto(`${server.url}/shots/nowhere`)
  await page.getByText('There is no such shot. Open the list of shots and choose one.').waitFor()
})
