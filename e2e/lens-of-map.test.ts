import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { bent, straightener, type Lens } from '../core/motion/lens'
import type { Spot } from '../core/motion/placing'
import { lensOver } from '../core/shot'
import { deskAt } from './driving/desk'
import { beginAtQuay } from './driving/quay'
import { card } from './driving/screen'

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

async function take(map: string | RegExp): Promise<void> {
  await card(quay.page).getByRole('combobox', { name: 'Map of the lens' }).click()
  await quay.page.getByRole('option', { name: map }).click()
  await card(quay.page).getByRole('button', { name: 'Take its numbers' }).click()
}

test('its numbers put every corner where the camera has it, in one step', async () => {
  await quay.page
    .getByRole('button', { name: /^Glass/ })
    .first()
    .click()
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
