import type { Browser, Page } from 'playwright-core'
import type { Shot } from '../core/shot'
import { ask, DataFolder, newDatabase, runServer, type RunningServer } from '../server/test/running-server'
import { launch, screen, waitForPicture } from './driving/chromium'
import { deskAt, type Desk } from './driving/desk'
import { card, element, picture } from './driving/screen'

/** What a witness may be for beside light: how dark a shadow is, whether both sides stay together, whether one flickers. */

const data = new DataFolder()
let server: RunningServer
let browser: Browser
let page: Page
let desk: Desk
let id: string

beforeAll(async () => {
  server = await runServer(await newDatabase(), data.path)
  browser = await launch()
  page = await browser.newPage({ viewport: screen })
  desk = deskAt(page, () => server.url, data.path, 'quay-010')
  await page.goto(server.url)
  await page.getByRole('link', { name: 'quay-010' }).click()
  await waitForPicture(page)
  await element(page, 'Bell shadow').click()
  id = page.url().split('/').at(-1) ?? ''
})
afterAll(async () => {
  await browser.close()
  await server.stop()
  data.remove()
})

const shotNow = async () => {
  await desk.saved()
  return (await ask<{ shot: Shot }>(server, `/api/shots/${id}`)).body.shot
}
const witnessNow = async () => Object.values((await shotNow()).witnesses.byId)[0]
const evidence = () => page.getByRole('region', { name: 'Evidence' })
const purpose = async (name: string) => {
  await card(page).getByRole('combobox', { name: 'Purpose' }).click()
  await page.getByRole('option', { name, exact: true }).click()
}

/** Places of the frame, of 640 by 360, on the screen. */
async function onScreen(x: number, y: number): Promise<[number, number]> {
  const place = await picture(page).boundingBox()
  if (!place) throw new Error('no picture')
  return [place.x + (x / 640) * place.width, place.y + (y / 360) * place.height]
}

async function regionAt(x: number, y: number, [wide, high] = [12, 8]): Promise<void> {
  await page.keyboard.down('Shift')
  await page.mouse.move(...(await onScreen(x - wide, y - high)))
  await page.mouse.down()
  await page.mouse.move(...(await onScreen(x, y)))
  await page.mouse.move(...(await onScreen(x + wide, y + high)))
  await page.mouse.up()
  await page.keyboard.up('Shift')
  await desk.saved()
}

test('for shadow density the ground in the light is a third region, which is dragged on the picture', async () => {
  await regionAt(213, 320, [20, 14])
  await regionAt(462, 303)
  await page.getByRole('button', { name: 'More of sample 1' }).click()
  await page.getByRole('menuitem', { name: 'Ought to be matched by Bell shadow at 2' }).click()
  await card(page).getByRole('heading', { name: 'Witness 1' }).waitFor()
  await purpose('Shadow density')
  const { reference, lit } = await witnessNow()
  expect(lit).toMatchObject({ y: reference.y, width: reference.width, height: reference.height })
  const handle = page.getByRole('button', { name: 'Move the ground in the light' })
  const box = await handle.boundingBox()
  if (!box || !lit) throw new Error('no third region')
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
  await page.mouse.down()
  const [x, y] = await onScreen(lit.x - 128, lit.y)
  await page.mouse.move(x, y, { steps: 4 })
  await page.mouse.up()
  const moved = (await witnessNow()).lit
  expect(Math.abs((moved?.x ?? NaN) - lit.x + 128)).toBeLessThanOrEqual(1)
  expect(Math.abs((moved?.y ?? NaN) - lit.y)).toBeLessThanOrEqual(1)
  await page.getByRole('button', { name: 'Undo' }).click()
  expect((await witnessNow()).lit).toEqual(lit)
  await page.getByRole('button', { name: 'Redo' }).click()
  expect((await witnessNow()).lit).toEqual(moved)
})

test('from it the ratio follows by which both agree; used, they do, and one undo takes it back', async () => {
  await evidence().getByRole('button', { name: 'Witness 1: Drifts.' }).waitFor()
  const before = (await shotNow()).elements
  const proposal = card(page).getByRole('group', { name: 'Proposal for Bell shadow' })
  await proposal.getByRole('button', { name: 'Use the ratio' }).click()
  await desk.setNumber('Tolerance', '0.06')
  await evidence().getByRole('button', { name: 'Witness 1: Agrees.' }).waitFor()
  const after = (await shotNow()).elements
  expect(after).not.toEqual(before)
  for (let i = 0; i < 2; i++) await page.getByRole('button', { name: 'Undo' }).click()
  await evidence().getByRole('button', { name: 'Witness 1: Drifts.' }).waitFor()
  expect((await shotNow()).elements).toEqual(before)
})

test('for staying in place both sides follow from this frame on, and the slip is told across and down', async () => {
  await purpose('Staying in place')
  const { reference, adjusted } = await witnessNow()
  expect([reference.follows, adjusted.follows]).toEqual([1001, 1001])
  const drift = card(page).getByRole('group', { name: 'Drift on this frame' })
  await drift.getByText('How far the element slips on the plate, across and down').waitFor()
  await drift.getByText('0.00 px').nth(1).waitFor()
  await page.getByRole('button', { name: 'Undo' }).click()
  expect((await witnessNow()).reference.follows).toBeUndefined()
})

test('for flicker it is not counted on the first frame, and read against the frame before on the next', async () => {
  await element(page, 'Bell shadow').click()
  await evidence()
    .getByRole('button', { name: /^Witness 1/ })
    .click()
  await card(page).getByRole('button', { name: 'Remove this witness' }).click()
  await element(page, 'Diving bell').click()
  await regionAt(165, 320)
  await regionAt(320, 200)
  await page.getByRole('button', { name: 'More of sample 1' }).click()
  await page.getByRole('menuitem', { name: 'Ought to be matched by Diving bell at 2' }).click()
  await purpose('Flicker')
  await desk.goTo(1003)
  const drift = card(page).getByRole('group', { name: 'Drift on this frame' })
  await drift.getByText('Change from the frame before, beside the plate’s, red, green, blue').waitFor()
  await drift
    .getByText(/^[+−]?\d+\.\d %$/)
    .nth(2)
    .waitFor()
  await page.getByRole('button', { name: 'Read every frame' }).click()
  await page.getByText('Witnesses and checks, all frames read').waitFor()
  expect(await page.getByRole('button', { name: /^1 .* on frame 1001$/ }).count()).toBe(0)
})
