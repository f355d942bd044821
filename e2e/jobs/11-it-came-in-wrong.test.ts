import { cpSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Browser, Page } from 'playwright-core'
import { floatToHalf, halfToFloat } from '../../core/image/half'
import type { Planes } from '../../core/image/planes'
import { bytesSource, readExr, writeExr } from '../../formats/exr'
import { allOf, type Shot } from '../../core/shot'
import { deflate, unpacking } from '../../server/media/exr-blocks'
import { ask, DataFolder, newDatabase, runServer, type RunningServer } from '../../server/test/running-server'
import { launch, screen, waitForNewest, waitForPicture } from '../driving/chromium'
import { card, deliveries, saving, source } from '../driving/screen'

/**
 * Job 11: a render came in wrong. Its light was written through a display's curve, it runs at another rate than the plate,
 * and the plane that caught its shadow ends in the frame. The check finds all three; the curve is chosen in the wedge, the rate by one press.
 * Floating feet (contact slip) are measured by a witness that somebody sets, and not found by themselves yet.
 */

const data = new DataFolder()
const media = join(data.path, 'media')
let server: RunningServer
let browser: Browser
let page: Page
let id: string

const isRgb = (name: string) => ['R', 'G', 'B'].includes(name)
/** IEC 61966-2-1, from light to code. */
const code = (v: number) => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055)
const changed = (planes: Planes, change: (value: number, name: string, row: number) => number): Planes => ({
  ...planes,
  planes: planes.planes.map((plane) => ({
    ...plane,
    type: 'half' as const,
    samples: Uint16Array.from(plane.samples, (sample, i) =>
      floatToHalf(
        change(
          plane.type === 'half' ? halfToFloat(sample) : sample,
          plane.name,
          Math.floor(i / planes.dataWindow.width),
        ),
      ),
    ),
  })),
})
/** The shadow is caught only so many rows below the upper end of its window. */
const edge = 30

async function makeMedia(): Promise<void> {
  mkdirSync(join(media, 'late/cg'), { recursive: true })
  cpSync(join(data.shot, 'plate'), join(media, 'late/plate'), { recursive: true })
  for (const name of readdirSync(join(data.shot, 'cg')).sort()) {
    const bytes = new Uint8Array(readFileSync(join(data.shot, 'cg', name)))
    const read = (part: string) => readExr(bytesSource(bytes, name), { ...unpacking, part })
    const beauty = changed(await read('beauty'), (value, channel) =>
      isRgb(channel) ? code(Math.max(0, value)) : value,
    )
    const shadow = changed(await read('shadow'), (_value, _channel, row) => (row >= edge ? 0.4 : 0))
    const standard = { framesPerSecond: { numerator: 25, denominator: 1 } }
    const parts = [
      { name: 'beauty', ...beauty, standard },
      { name: 'shadow', ...shadow, standard },
    ]
    const written = await writeExr(parts, { compression: 'zip', deflate })
    writeFileSync(join(media, 'late/cg', name.replace('quay-010_bell', 'bell_v002')), written)
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
const finding = (words: RegExp) => card(page).getByRole('listitem').filter({ hasText: words })
const shotNow = async () => {
  await saving(page)
    .getByText(/^Saved/)
    .waitFor()
  return (await ask<{ shot: Shot }>(server, `/api/shots/${id}`)).body.shot
}

test('the shot is made from the files', async () => {
  await page.goto(`${server.url}/new`)
  await button('late/').click()
  await button('Use everything in late').click()
  await page.getByLabel('Name', { exact: true }).fill('late-010')
  await page.getByLabel('Frames a second').fill('24')
  await button('Make the shot').click()
  await waitForPicture(page)
  id = page.url().split('/').at(-1) ?? ''
})

test('the check finds rate, curve and the cut plane by itself; the wedge and one press put the first two right', async () => {
  await button(/^▸ Sources/).click()
  await source(page, 'Bell').click()
  const rate = finding(/It runs at 25 frames a second, the shot at 24/)
  // A dark render's codes may be a display's or a log curve's: that they are no light is plain.
  const curve = finding(/It looks (display-encoded|log), and is read as scene-linear/)
  await rate.waitFor()
  await curve.waitFor()
  await finding(/It ends along a straight line inside the frame/).waitFor()
  const wrong = await page.locator('canvas').first().getAttribute('data-shown')
  await button('Wedge …').click()
  await page.getByRole('dialog').getByRole('button', { name: /sRGB/ }).click()
  await curve.waitFor({ state: 'detached' })
  await rate.getByRole('button', { name: 'Take it frame for frame at 24' }).click()
  await rate.waitFor({ state: 'detached' })
  await waitForNewest(page)
  expect(await page.locator('canvas').first().getAttribute('data-shown')).not.toBe(wrong)
  const bell = allOf((await shotNow()).sources).find(({ name }) => name === 'Bell')
  expect(bell).toMatchObject({ claims: { encoding: 'srgb' }, rate: { numerator: 24, denominator: 1 } })
})

test('what is delivered holds the light that was rendered', async () => {
  await button('Deliver').click()
  await page.getByLabel('Last frame').fill('1001')
  await card(page).getByRole('button', { name: 'Deliver' }).click()
  await deliveries(page)
    .getByText(/^done in/)
    .waitFor({ timeout: 40_000 })
  const read = async (path: string, channels: string[], part?: string) =>
    readExr(bytesSource(new Uint8Array(readFileSync(path)), path), { ...unpacking, channels, part })
  const out = await read(join(data.path, 'delivery/late-010/v001/late-010_comp_v001.1001.exr'), ['R', 'G', 'B'])
  const clean = new DataFolder()
  const [name] = readdirSync(join(clean.shot, 'cg')).sort()
  const bell = await read(join(clean.shot, 'cg', name), ['R', 'G', 'B', 'A'], 'beauty')
  clean.remove()
  const at = (planes: Planes, channel: number, x: number, y: number) => {
    const { dataWindow } = planes
    const { type, samples } = planes.planes[channel]
    const [column, row] = [x - dataWindow.x, y - dataWindow.y]
    if (column < 0 || row < 0 || column >= dataWindow.width || row >= dataWindow.height) return 0
    const value = samples[row * dataWindow.width + column]
    return type === 'half' ? halfToFloat(value) : value
  }
  let covered = 0
  const { width, height } = (await shotNow()).frameSize
  for (let y = 0; y < height; y += 3)
    for (let x = 0; x < width; x += 3) {
      if (at(bell, 3, x, y) < 0.9999) continue
      covered++
      for (let channel = 0; channel < 3; channel++) {
        const wanted = Math.max(0, at(bell, channel, x, y))
        // Two roundings to half floats, of the code and of the light.
        expect(Math.abs(at(out, channel, x, y) - wanted)).toBeLessThan(0.0005 + wanted * 0.004)
      }
    }
  expect(covered).toBeGreaterThan(200)
})
