import { cpSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Browser, Page } from 'playwright-core'
import type { Planes } from '../../core/image/planes'
import { bytesSource, readExr, writeExr } from '../../formats/exr'
import { deflate, unpacking } from '../../server/media/exr-blocks'
import { DataFolder, newDatabase, runServer, type RunningServer } from '../../server/test/running-server'
import { launch, screen } from '../driving/chromium'
import { bitsOf, deskAt, lightAt, pictureOf, type Desk } from '../driving/desk'
import { element, ofParameter } from '../driving/screen'

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

const folder = join(media, 'pop/plate')
const plateAt = (frame: number) => pictureOf(folder, frame)
let desk: Desk
beforeAll(() => {
  desk = deskAt(page, () => server.url, data.path, 'pop-010')
})
/** Rows in which the delivered picture is not the plate. */
function changedRows(out: Planes, plate: Planes): { top: number; bottom: number } {
  const { width, height } = out.dataWindow
  let [top, bottom] = [height, -1]
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if ([0, 1, 2].some((c) => Math.abs(lightAt(out, c, x, y) - lightAt(plate, c, x, y)) > 0.02)) {
        top = Math.min(top, y)
        bottom = y
      }
  return { top, bottom }
}
const tall = ({ top, bottom }: { top: number; bottom: number }) => bottom - top + 1

test('from files: plate and boat, and the boat is placed', async () => {
  await desk.newShot('pop', 'pop-010')
  await element(page, 'Boat').click()
  await desk.button('Place: move, turn, scale').click()
  await desk.button('Pivot').waitFor()
  await desk.saved()
})

test('it pops up from nothing, goes beyond its size, and ends where it is keyed', async () => {
  const whole = await desk.deliver('v001')
  const size = tall(changedRows(await whole(1005), await plateAt(1005)))
  await element(page, 'Boat').click()
  await desk.goTo(1001)
  await ofParameter(page, 'Scale', 'Set a keyframe')
  await desk.goTo(1005)
  await ofParameter(page, 'Scale', 'Set a keyframe')
  await desk.goTo(1001)
  await desk.setNumber('Scale', '0')
  await page.keyboard.press('j')
  const curves = page.getByRole('group', { name: 'Curves of what is selected' })
  await desk.button(/^Keyframe at 1001, Boat: scale/).dispatchEvent('pointerdown', { pointerId: 1 })
  await curves.dispatchEvent('pointerup', { pointerId: 1 })
  await page.getByRole('combobox', { name: 'Goes on' }).click()
  await page.getByRole('option', { name: 'pops beyond and settles' }).click()
  await desk.saved()
  const out = await desk.deliver('v002')
  // Where there is nothing of it, the plate is delivered bit for bit.
  expect(bitsOf(await out(1001))).toEqual(bitsOf(await plateAt(1001)))
  // A pop of four frames is beyond its end after one of them, and level with it when it is keyed.
  const beyond = tall(changedRows(await out(1002), await plateAt(1002)))
  const end = tall(changedRows(await out(1005), await plateAt(1005)))
  expect(beyond).toBeGreaterThan(end)
  expect(Math.abs(end - size)).toBeLessThanOrEqual(2)
})

test('a vignette over everything takes light from the corners and leaves the middle', async () => {
  await desk.button(/^Finish/).click()
  await desk.addTreatment('dark corners')
  await desk.setNumber('Amount', '0.5')
  const out = await desk.deliver('v003')
  const [dark, plate] = [await out(1001), await plateAt(1001)]
  const { width, height } = plate.dataWindow
  expect(lightAt(dark, 1, 0, 0) / lightAt(plate, 1, 0, 0)).toBeCloseTo(0.5, 1)
  const [x, y] = [width >> 1, height >> 1]
  expect(lightAt(dark, 1, x, y)).toBe(lightAt(plate, 1, x, y))
})
