import type { Browser, Page } from 'playwright-core'
import { addressOf, DataFolder, newDatabase, runServer, type RunningServer } from '../server/test/running-server'
import { launch, screen, waitForNewest, waitForPicture } from './driving/chromium'
import { controlClick, element, letGo, pictureCanvas, readingRow, sentence } from './driving/screen'

/** Ways of looking, comparing and measuring, by keys and words. */

const data = new DataFolder()
let server: RunningServer
let browser: Browser
let page: Page

beforeAll(async () => {
  server = await runServer(await newDatabase(), data.path)
  browser = await launch()
  page = await (await browser.newContext({ viewport: screen })).newPage()
  await page.goto(await addressOf(server, '/shots/quay-010'))
  await waitForPicture(page)
  await element(page, 'Diving bell').click()
})
afterAll(async () => {
  await browser.close()
  await server.stop()
  data.remove()
})

const canvases = () => page.locator(pictureCanvas)
const pixel = (x: number, y: number, layer = 0) =>
  canvases()
    .nth(layer)
    .evaluate(
      (canvas: HTMLCanvasElement, [px, py]) => [...(canvas.getContext('2d')?.getImageData(px, py, 1, 1).data ?? [])],
      [x, y],
    )
const shown = () => canvases().first().getAttribute('data-shown')
const word = (name: string) => page.getByRole('button', { name, exact: true })
const choose = async (name: string, choice: string) => {
  await word(name).click()
  await page.getByRole('menuitem', { name: choice, exact: true }).click()
  await page.locator('[role=menu]').waitFor({ state: 'detached' })
}
/** Where a pixel of the frame lies on the screen. */
async function at(x: number, y: number): Promise<[number, number]> {
  const box = await canvases().first().boundingBox()
  if (!box) throw new Error('There is no picture.')
  return [box.x + ((x + 0.5) / 640) * box.width, box.y + ((y + 0.5) / 360) * box.height]
}

test.each([
  ['d', 'dark end cranked', 'Crank'],
  ['h', 'bright end cranked', 'Crank'],
  ['v', 'colour cranked', 'Crank'],
  ['1', 'red only', 'Channel'],
  ['6', 'hue', 'Channel'],
  ['7', 'saturation', 'Channel'],
  ['w', 'Diving bell untreated', 'What is shown'],
  ['o', 'The plate', 'What is shown'],
])('while %s is held the picture is seen: %s', async (key, words, name) => {
  const before = await shown()
  const said = await word(name).textContent()
  await page.keyboard.down(key)
  await waitForNewest(page)
  expect(await word(name).textContent()).toBe(words)
  if (key !== 'w') expect(await shown()).not.toBe(before)
  await letGo(page, key)
  await waitForNewest(page)
  expect(await word(name).textContent()).toBe(said)
  expect(await shown()).toBe(before)
})

test('the crank lifts what the usual picture hides', async () => {
  const before = await pixel(100, 330)
  await page.keyboard.down('d')
  await waitForNewest(page)
  expect((await pixel(100, 330))[1]).toBeGreaterThan(before[1] + 40)
  await letGo(page, 'd')
  await waitForNewest(page)
})

test('a key that is tapped stays until it is tapped again', async () => {
  const before = await shown()
  await page.keyboard.press('3')
  await waitForNewest(page)
  await page.waitForTimeout(300)
  expect(await word('Channel').textContent()).toBe('blue only')
  await page.keyboard.press('3')
  await waitForNewest(page)
  expect(await word('Channel').textContent()).toBe('all channels')
  expect(await shown()).toBe(before)
})

test('split along a line: the other on its right, the picture on its left, at the same place', async () => {
  await page.keyboard.press('x')
  await page.waitForFunction((selector) => {
    const layers = document.querySelectorAll<HTMLCanvasElement>(selector)
    return layers.length === 2 && layers[1].dataset.shown !== undefined
  }, pictureCanvas)
  const clip = await canvases()
    .nth(1)
    .evaluate((canvas) => getComputedStyle(canvas).clipPath)
  // The line goes up through the middle; the other is to its right, as far as the picture goes and farther.
  const corners = [...clip.matchAll(/(-?[\d.]+)px (-?[\d.]+)px/g)].map(([, x]) => Number(x))
  const box = await canvases().first().boundingBox()
  expect(Math.min(...corners)).toBeCloseTo((box?.width ?? 0) / 2, 0)
  expect(Math.max(...corners)).toBeGreaterThan(box?.width ?? Infinity)
  // Over the bell the two differ; beside it the plate is the same in both.
  expect(await pixel(330, 180, 0)).not.toEqual(await pixel(330, 180, 1))
  expect(await pixel(30, 20, 0)).toEqual(await pixel(30, 20, 1))
  const end = await page.getByRole('button', { name: 'End of the split' }).boundingBox()
  if (!end) throw new Error('The line has no end.')
  await page.mouse.move(end.x + 6, end.y + 6)
  await page.mouse.down()
  await page.mouse.move(end.x + 60, end.y - 40, { steps: 4 })
  await page.mouse.up()
  expect(
    await canvases()
      .nth(1)
      .evaluate((canvas) => getComputedStyle(canvas).clipPath),
  ).not.toBe(clip)
  // Drawn anew with the tool for it, which is put away by itself; then an end is moved by the keyboard.
  await page.keyboard.press('r')
  await page.mouse.move(...(await at(100, 300)))
  await page.mouse.down()
  await page.mouse.move(...(await at(500, 60)), { steps: 4 })
  await page.mouse.up()
  const start = page.getByRole('button', { name: 'Start of the split' })
  const [x, y] = await at(100, 300)
  const before = await start.boundingBox()
  expect(Math.abs((before?.x ?? 0) + 6 - x)).toBeLessThan(2)
  expect(Math.abs((before?.y ?? 0) + 6 - y)).toBeLessThan(2)
  await start.press('Shift+ArrowRight')
  expect((await start.boundingBox())?.x).toBeGreaterThan(before?.x ?? Infinity)
  await controlClick(page, ...(await at(100, 330)))
  await page
    .getByRole('group', { name: 'Sample 1', exact: true })
    .getByRole('button', { name: 'More of sample 1' })
    .click()
  await page.getByRole('menuitem', { name: 'Remove' }).click()
  await page.keyboard.press('x')
})

test('the difference from the plate is black where nothing was added', async () => {
  await page.keyboard.press('f')
  await waitForNewest(page)
  expect((await pixel(30, 20)).slice(0, 3)).toEqual([0, 0, 0])
  expect(Math.max(...(await pixel(330, 180)).slice(0, 3))).toBeGreaterThan(20)
  await page.keyboard.press('f')
  await waitForNewest(page)
})

test('a try is kept and compared with what came after', async () => {
  await page.keyboard.press('t')
  await page.getByRole('spinbutton', { name: 'Gain red' }).press('ArrowUp')
  await page.getByRole('spinbutton', { name: 'Gain red' }).press('ArrowUp')
  await waitForNewest(page)
  const after = await pixel(330, 180)
  await choose('The other', 'try 1')
  await page.keyboard.down('o')
  await waitForNewest(page)
  expect(await word('What is shown').textContent()).toBe('Try 1')
  await letGo(page, 'o')
  await waitForNewest(page)
  expect(await pixel(330, 180)).toEqual(after)
})

test('a try outlasts a reload, and is used: what it replaces is kept', async () => {
  await page.getByText(/^Saved/).waitFor()
  await page.reload()
  await waitForPicture(page, 1001)
  const gain = page.getByRole('spinbutton', { name: 'Gain red' })
  const changed = await gain.textContent()
  await choose('The other', 'try 1')
  await word('Use the try').click()
  await waitForNewest(page)
  expect(await gain.textContent()).not.toBe(changed)
  await choose('The other', 'try 2')
  await word('Use the try').click()
  expect(await gain.textContent()).toBe(changed)
  await word('Remove the try').click()
  await word('The other').click()
  expect(await page.getByRole('menuitem').allTextContents()).not.toContain('try 2')
  await page.keyboard.press('Escape')
  await choose('The other', 'try 1')
  await word('Use the try').click()
  await waitForNewest(page)
})

test('a treatment is added; while its button is held the picture is seen without it', async () => {
  const before = await pixel(330, 180)
  await page.getByRole('button', { name: 'Add a treatment …' }).click()
  await page.getByRole('textbox', { name: 'What should it do?' }).fill('less colour')
  await page.getByRole('button', { name: 'Saturation less colour, more colour, paler' }).click()
  await page.getByRole('spinbutton', { name: 'Saturation', exact: true }).click()
  await page.getByRole('textbox', { name: 'Saturation', exact: true }).fill('0')
  await page.keyboard.press('Enter')
  await waitForNewest(page)
  const treated = await pixel(330, 180)
  expect(treated).not.toEqual(before)
  const without = word('Without saturation')
  await without.dispatchEvent('pointerdown', { pointerId: 1 })
  await waitForNewest(page)
  expect(await word('What is shown').textContent()).toBe('Diving bell without saturation')
  expect(await pixel(330, 180)).toEqual(before)
  await without.dispatchEvent('pointerup', { pointerId: 1 })
  await waitForNewest(page)
  expect(await pixel(330, 180)).toEqual(treated)
  await word('Remove saturation').click()
  await waitForNewest(page)
  expect(await pixel(330, 180)).toEqual(before)
})

test('the inspection board shows every way at once, and a click looks that way', async () => {
  await page.keyboard.press('i')
  await page.waitForFunction(
    () => document.querySelectorAll('[aria-label="Inspection board"] canvas[data-key]').length === 10,
  )
  await page.getByRole('group', { name: 'Inspection board' }).getByRole('button', { name: 'blue' }).click()
  expect(await word('Channel').textContent()).toBe('blue only')
  await choose('Channel', 'all channels')
  await waitForNewest(page)
})

test('a region is dragged out with Shift and read: least, most, mean and spread; stops between two', async () => {
  await page.keyboard.down('Shift')
  await page.mouse.move(...(await at(20, 20)))
  await page.mouse.down()
  await page.mouse.move(...(await at(59, 39)), { steps: 4 })
  await page.mouse.up()
  await page.keyboard.up('Shift')
  await page
    .getByRole('group', { name: 'Region 1' })
    .getByText(/Region 1, (39|40|41) × (19|20|21) at/)
    .waitFor()
  await page.getByRole('group', { name: 'Region 1' }).getByText('spread').first().waitFor()
  await controlClick(page, ...(await at(100, 330)))
  await page.getByRole('group', { name: 'Stops from 1 to 2' }).getByText('Stops from 1 to 2').waitFor()
  const stops = Number(
    (await page.getByRole('group', { name: 'Stops from 1 to 2' }).locator('span').nth(2).textContent()) ?? 'x',
  )
  expect(Number.isFinite(stops)).toBe(true)
})

test('values are printed as light, as the plate’s code values, and as the screen shows them', async () => {
  const read = async () =>
    Number(await readingRow(page, 'Sample 2', 'composite').locator('> span').first().textContent())
  await word('Units').click()
  expect(await word('Units').textContent()).toContain('code values')
  await word('Units').click()
  const onScreen = await read()
  expect(Number.isInteger(onScreen)).toBe(true)
  expect(Math.abs(onScreen - (await pixel(100, 330))[0])).toBeLessThanOrEqual(1)
  await word('Units').click()
  const removers = page.getByRole('button', { name: 'Remove', exact: true })
  for (let left = await removers.count(); left > 0; left--) await removers.first().click()
  await removers.waitFor({ state: 'detached' })
})

test.each(['waveform', 'parade', 'histogram', 'vectorscope'])('a %s is drawn under the picture', async (kind) => {
  await choose('Scope', `a ${kind} under it`)
  await page.waitForFunction(
    (wanted) =>
      document
        .querySelector<HTMLCanvasElement>('[role=img][aria-label=Scope] canvas')
        ?.dataset.drawn?.startsWith(wanted),
    kind,
  )
  const ink = await page
    .getByRole('img', { name: 'Scope' })
    .locator('canvas')
    .evaluate((canvas: HTMLCanvasElement) => {
      const bytes = canvas.getContext('2d')?.getImageData(0, 0, canvas.width, canvas.height).data ?? []
      let drawn = 0
      for (let i = 3; i < bytes.length; i += 4) if (bytes[i] > 0) drawn++
      return drawn
    })
  expect(ink).toBeGreaterThan(500)
})

test('the paired loupe shows picture and other, enlarged', async () => {
  await page.mouse.move(...(await at(330, 180)))
  await page.keyboard.down('l')
  await page.mouse.move(...(await at(331, 180)))
  await page.getByRole('group', { name: 'Loupe' }).getByText('picture').waitFor()
  expect(await page.getByRole('group', { name: 'Loupe' }).locator('canvas').count()).toBe(2)
  await letGo(page, 'l')
  await page.getByRole('group', { name: 'Loupe' }).waitFor({ state: 'detached' })
})

test('keys are found by what they do', async () => {
  await page.keyboard.press('Shift+?')
  await page.getByLabel('What should it do?').fill('dark end')
  const overlay = page.getByRole('dialog', { name: 'Shortcuts and gestures' })
  await overlay.getByText('Look: crank the dark end').waitFor()
  expect(await overlay.getByText(/^Look:/).count()).toBe(1)
  await page.getByLabel('What should it do?').fill('nothing like this')
  await overlay.getByText('Nothing does that. Try another word.').waitFor()
  await page.keyboard.press('Escape')
  await overlay.waitFor({ state: 'detached' })
})

test('the range that is played is set by keys and said', async () => {
  await page.keyboard.press('Home')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Shift+Home')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Shift+End')
  await sentence(page).getByText('of 1002 to 1004').waitFor()
  await page.keyboard.press('\\')
  await sentence(page).getByText('of 1002 to 1004').waitFor({ state: 'detached' })
})
