import { randomUUID } from 'node:crypto'
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Plane } from '../core/image/planes'
import { bent, straightener, type Lens } from '../core/motion/lens'
import type { Spot } from '../core/motion/placing'
import { lensOver } from '../core/shot'
import { bytesSource, readExr, writeExr } from '../formats/exr'
import { packing, unpacking } from '../server/media/exr-blocks'
import { ask, until } from '../server/test/running-server'
import { deskAt } from './driving/desk'
import { beginAtQuay } from './driving/quay'
import { waitForPicture } from './driving/chromium'
import { card, element, picture } from './driving/screen'

/** A lens map that came with the plate: its numbers are taken, so that what moves behind the lens is known. */

const quay = beginAtQuay()
/** Nothing is delivered here. */
const desk = () => deskAt(quay.page, () => quay.server.url, '', 'quay-010')
const lensNow = async () => lensOver(await quay.shotNow(), null)?.at(1001) ?? null

/** As the stand-in camera says that it is. */
function truth(): Lens {
  const media = join(String(process.env.ENKRASIS_TEST_DATA), 'media', 'quay-010', 'lens', 'quay-010_lens.json')
  const { focalPx, centrePx, k1, k2 } = JSON.parse(readFileSync(media, 'utf8')) as {
    readonly focalPx: number
    readonly centrePx: readonly [number, number]
    readonly k1: number
    readonly k2: number
  }
  return { centre: centrePx, unit: focalPx, squeeze: 1, k1, k2, k3: 0, p1: 0, p2: 0 }
}

const openGlass = () =>
  quay.page
    .getByRole('button', { name: /^Glass/ })
    .first()
    .click()

async function take(map: string | RegExp): Promise<void> {
  await card(quay.page).getByRole('combobox', { name: 'Map of the lens' }).click()
  await quay.page.getByRole('option', { name: map }).click()
  await card(quay.page).getByRole('button', { name: 'Take its numbers' }).click()
}

test('its numbers put every corner where the camera has it, in one step', async () => {
  await openGlass()
  await desk().addTreatment('straight lines')
  expect(await lensNow()).toBeNull()
  await take(/^Lens map/)
  await card(quay.page)
    .getByText(/^By these numbers every place lies within 0\.0\d\d px of where the map has it\./)
    .waitFor()
  const found = await lensNow()
  if (!found) throw new Error('no lens')
  const back = straightener(truth())
  for (const [x, y] of [
    [0.5, 0.5],
    [639.5, 0.5],
    [0.5, 359.5],
    [639.5, 359.5],
  ]) {
    const [u, v] = bent(found, back(x, y) as Spot)
    expect(Math.hypot(u - x, v - y)).toBeLessThan(0.05)
  }
  await quay.page.getByRole('button', { name: 'Undo' }).click()
  expect(await lensNow()).toBeNull()
})

test('of a picture that is no map it says so, and the lens stays as it is', async () => {
  await take(/^Clean plate/)
  await card(quay.page)
    .getByText(/No numbers of a lens bend as this map does|The map says nothing for most of the frame/)
    .waitFor()
  expect(await lensNow()).toBeNull()
})

/** Writes the shot's map anew, and has the shot read that instead, as another person's edit. */
async function otherMap(
  name: string,
  change: (plane: Plane, axis: number) => Float32Array,
  size: 'frame' | 'half' = 'frame',
): Promise<void> {
  const given = readFileSync(quay.data.file('lens/quay-010_redistort.exr'))
  const { planes, ...rest } = await readExr(bytesSource(given, 'the map'), { channels: ['R', 'G'], ...unpacking })
  const half = { x: 0, y: 0, width: 320, height: 180 }
  const windows = size === 'half' ? { dataWindow: half, displayWindow: half } : rest
  const map = {
    ...windows,
    planes: planes.map((plane, axis): Plane => ({ ...plane, type: 'float', samples: change(plane, axis) })),
  }
  writeFileSync(quay.data.file(`lens/${name}.exr`), await writeExr([map], { ...packing, compression: 'zip' }))
  await quay.shotNow()
  const { revision } = (await ask<{ revision: number }>(quay.server, '/api/shots/quay-010')).body
  const edit = { kind: 'set-source', source: 'lens', changes: { path: `lens/${name}.exr` } }
  const body = { id: randomUUID(), baseRevision: revision, tab: 'another', author: 'another', colour: 'sand', edit }
  expect((await ask(quay.server, '/api/shots/quay-010/edits', body)).status).toBe(200)
}
const floats = ({ samples }: Plane, value: (v: number, i: number) => number) =>
  Float32Array.from(samples as Float32Array, value)
const finding = (what: string | RegExp) => card(quay.page).getByRole('listitem').filter({ hasText: what })
const seen = async () => {
  await waitForPicture(quay.page)
  return picture(quay.page).locator('canvas').first().screenshot()
}

test('the card of a map that lies upside down says so, and one press has it the right way up', async () => {
  await element(quay.page, 'Diving bell').click()
  // Of so many digits that turning a share over and back gives the same share.
  const rounded = (v: number) => Math.round(v * 2 ** 14) / 2 ** 14
  const asCame = await seen()
  await otherMap('rounded', (plane) => floats(plane, rounded))
  const before = await until(seen, (picture) => !picture.equals(asCame))
  await otherMap('upwards', (plane, axis) => floats(plane, (v) => (axis === 1 ? 1 - rounded(v) : rounded(v))))
  await finding('It lies upside down: its green grows upwards').waitFor()
  expect((await seen()).equals(before)).toBe(false)
  await finding('It lies upside down').getByRole('button', { name: 'Take green as growing upwards' }).click()
  await finding('It lies upside down').waitFor({ state: 'detached' })
  await desk().saved()
  await until(async () => (await seen()).equals(before), Boolean)
  await quay.page.getByRole('button', { name: 'Undo' }).click()
  await finding('It lies upside down: its green grows upwards').waitFor()
})

test('of one with holes, and of one of another size, it says so; where numbers are taken too', async () => {
  await otherMap('holes', (plane) => floats(plane, (v, i) => (i % 640 < 60 && i < 640 * 50 ? NaN : v)))
  await finding('It names no place for 3000 pixels of the frame')
    .getByText(/^first at 0 0, the still\./)
    .waitFor()
  await openGlass()
  await take(/^Lens map/)
  await card(quay.page)
    .getByText(/px of where the map has it\. The map has holes: \d+ of \d+ places of the frame are not in it\.$/)
    .waitFor()
  await otherMap('half', (plane) => plane.samples.slice(0, 320 * 180) as Float32Array, 'half')
  const sentence = /^It is 320 x 180, the frame 640 x 360\. A map names a place for each pixel of the frame/
  await card(quay.page).getByRole('status').filter({ hasText: sentence }).waitFor()
  expect(await card(quay.page).getByRole('button', { name: 'Take its numbers' }).isDisabled()).toBe(true)
  await element(quay.page, 'Diving bell').click()
  await finding('It is 320 x 180, the frame 640 x 360').waitFor()
})
