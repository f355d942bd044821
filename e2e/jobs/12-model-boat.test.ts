import { cpSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Browser, Page } from 'playwright-core'
import { halfToFloat } from '../../core/image/half'
import type { Planes } from '../../core/image/planes'
import { bytesSource, readExr, writeExr } from '../../formats/exr'
import { deflate, unpacking } from '../../server/media/exr-blocks'
import { DataFolder, newDatabase, runServer, type RunningServer } from '../../server/test/running-server'
import { launch, screen, waitForPicture } from '../driving/chromium'
import { card, deliveries, element, ofParameter, saving, tallyAxis } from '../driving/screen'

/**
 * Job 12, as far as it reaches: a render pops up over the plate, overshoots, settles and turns a little, with a vignette over
 * everything. It cannot lie on a plane yet, nor be pinned to a solved point.
 */

const data = new DataFolder()
const media = join(data.path, 'media')
let server: RunningServer
let browser: Browser
let page: Page

async function makeMedia(): Promise<void> {
  mkdirSync(join(media, 'pop/cg'), { recursive: true })
  cpSync(join(data.shot, 'plate'), join(media, 'pop/plate'), { recursive: true })
  for (const name of readdirSync(join(data.shot, 'cg')).sort()) {
    const bytes = new Uint8Array(readFileSync(join(data.shot, 'cg', name)))
    const beauty = await readExr(bytesSource(bytes, name), { ...unpacking, part: 'beauty' })
    const standard = { framesPerSecond: { numerator: 24, denominator: 1 } }
    const written = await writeExr([{ name: 'beauty', ...beauty, standard }], { compression: 'zip', deflate })
    writeFileSync(join(media, 'pop/cg', name.replace('quay-010_bell', 'boat_v001')), written)
  }
  rmSync(data.shot, { recursive: true })
}

beforeAll(async () => {
  await makeMedia()
  server = await runServer(await newDatabase(), data.path)
  browser = await launch()
  page = await browser.newPage({ viewport: screen })
})
afterAll(async () => {
  await browser.close()
  await server.stop()
  data.remove()
})

const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' })
const saved = () =>
  saving(page)
    .getByText(/^Saved/)
    .waitFor()
async function goTo(frame: number): Promise<void> {
  await tallyAxis(page).focus()
  await page.keyboard.press('Home')
  for (let at = 1001; at < frame; at++) await page.keyboard.press('ArrowRight')
}
async function setNumber(name: string, value: string): Promise<void> {
  await card(page).getByRole('spinbutton', { name, exact: true }).click()
  await page.getByRole('textbox', { name, exact: true }).fill(value)
  await page.keyboard.press('Enter')
  await saved()
}
async function deliver(version: string): Promise<(frame: number) => Promise<Planes>> {
  await button('Deliver').click()
  await card(page).getByRole('button', { name: 'Deliver' }).click()
  await deliveries(page)
    .filter({ hasText: version })
    .getByText(/^done in/)
    .waitFor({ timeout: 60_000 })
  return async (frame) => {
    const path = join(data.path, `delivery/pop-010/${version}/pop-010_comp_${version}.${frame}.exr`)
    return readExr(bytesSource(new Uint8Array(readFileSync(path)), path), { ...unpacking, channels: ['R', 'G', 'B'] })
  }
}
const plateAt = async (frame: number) => {
  const name = readdirSync(join(media, 'pop/plate')).find((one) => one.includes(String(frame))) ?? ''
  const path = join(media, 'pop/plate', name)
  return readExr(bytesSource(new Uint8Array(readFileSync(path)), path), { ...unpacking, channels: ['R', 'G', 'B'] })
}
const bits = ({ planes }: Planes) => planes.map(({ samples }) => samples)
/** Rows in which the delivered picture is not the plate. */
function changedRows(out: Planes, plate: Planes): { top: number; bottom: number } {
  const { width, height } = out.dataWindow
  const light = ({ planes }: Planes, c: number, i: number) => {
    const { type, samples } = planes[c]
    return type === 'half' ? halfToFloat(samples[i]) : samples[i]
  }
  let [top, bottom] = [height, -1]
  for (let i = 0; i < width * height; i++)
    if ([0, 1, 2].some((c) => Math.abs(light(out, c, i) - light(plate, c, i)) > 0.02)) {
      top = Math.min(top, Math.floor(i / width))
      bottom = Math.floor(i / width)
    }
  return { top, bottom }
}
const tall = ({ top, bottom }: { top: number; bottom: number }) => bottom - top + 1

test('from files: plate and boat, and the boat is placed', async () => {
  await page.goto(`${server.url}/new`)
  await button('pop/').click()
  await button('Use everything in pop').click()
  await page.getByLabel('Name', { exact: true }).fill('pop-010')
  await button('Make the shot').click()
  await waitForPicture(page)
  await element(page, 'Boat').click()
  await button('Place: move, turn, scale').click()
  await button('Pivot').waitFor()
  await saved()
})

test('it pops up from nothing, goes beyond its size, and ends where it is keyed', async () => {
  const whole = await deliver('v001')
  const size = tall(changedRows(await whole(1005), await plateAt(1005)))
  await element(page, 'Boat').click()
  await goTo(1001)
  await ofParameter(page, 'Scale', 'Set a keyframe')
  await goTo(1005)
  await ofParameter(page, 'Scale', 'Set a keyframe')
  await goTo(1001)
  await setNumber('Scale', '0')
  await page.keyboard.press('j')
  const curves = page.getByRole('group', { name: 'Curves of what is selected' })
  await button(/^Keyframe at 1001, Boat: scale/).dispatchEvent('pointerdown', { pointerId: 1 })
  await curves.dispatchEvent('pointerup', { pointerId: 1 })
  await page.getByRole('combobox', { name: 'Goes on' }).click()
  await page.getByRole('option', { name: 'pops beyond and settles' }).click()
  await saved()
  const out = await deliver('v002')
  // Where there is nothing of it, the plate is delivered bit for bit.
  expect(bits(await out(1001))).toEqual(bits(await plateAt(1001)))
  // A pop of four frames is beyond its end after one of them, and level with it when it is keyed.
  const beyond = tall(changedRows(await out(1002), await plateAt(1002)))
  const end = tall(changedRows(await out(1005), await plateAt(1005)))
  expect(beyond).toBeGreaterThan(end)
  expect(Math.abs(end - size)).toBeLessThanOrEqual(2)
})

test('a vignette over everything takes light from the corners and leaves the middle', async () => {
  await button(/^Finish/).click()
  await button('Add a treatment …').click()
  await page.getByRole('textbox', { name: 'What should it do?' }).fill('dark corners')
  await page.keyboard.press('Enter')
  await setNumber('Amount', '0.5')
  const out = await deliver('v003')
  const [dark, plate] = [await out(1001), await plateAt(1001)]
  const { width, height } = plate.dataWindow
  const light = (of: Planes, x: number, y: number) => {
    const { type, samples } = of.planes[1]
    const value = samples[y * width + x]
    return type === 'half' ? halfToFloat(value) : value
  }
  expect(light(dark, 0, 0) / light(plate, 0, 0)).toBeCloseTo(0.5, 1)
  const [x, y] = [width >> 1, height >> 1]
  expect(light(dark, x, y)).toBe(light(plate, x, y))
})
