import type { Page } from 'playwright-core'
import { beginAtQuay } from './driving/quay'
import { card, drag, element, outlineRound, source } from './driving/screen'

/** Sources are made on the screen, seen as not made before, and used once they are; a place of the plate is filled from one. */

const quay = beginAtQuay()
let page: Page
beforeAll(() => {
  page = quay.page
})
const { shotNow, onScreen } = quay
const button = (name: string | RegExp) => page.getByRole('button', { name, exact: true })
const drawer = () => page.getByRole('region', { name: 'Sources' })
const standing = () => page.getByLabel('How the making stands')

async function makeFrom(item: RegExp): Promise<void> {
  await button(/^▸ Sources/).click()
  await drawer().getByRole('button', { name: 'Make …' }).click()
  await page.getByRole('menuitem', { name: item }).click()
}

test('a soft matte takes an outline: without one the menu says so', async () => {
  await button(/^▸ Sources/).click()
  await drawer().getByRole('button', { name: 'Make …' }).click()
  await expect(page.getByRole('menuitem', { name: /soft matte/ }).getAttribute('aria-disabled')).resolves.toBe('true')
  await page.getByText('takes a matte, drawn roughly round the figure').waitFor()
  await page.keyboard.press('Escape')
  await drawer().getByRole('button', { name: 'Close' }).click()
})

test('a clean plate is made of all frames, and its card says of how many', async () => {
  await makeFrom(/clean plate/)
  await standing().getByText('Not made yet.').waitFor()
  await button('Make it').click()
  await standing().getByText('Joined from 6 frames.').waitFor({ timeout: 50_000 })
  const shot = await shotNow()
  const made = Object.values(shot.sources.byId).find((one) => one.made)
  expect(made).toMatchObject({
    name: 'Clean plate 2',
    frames: null,
    made: { kind: 'clean-plate', from: 1001, to: 1006 },
  })
})

test('its recipe is changed in place, and that is undone like any edit', async () => {
  await card(page).getByRole('spinbutton', { name: 'Step, frames' }).click()
  await page.getByRole('textbox', { name: 'Step, frames' }).fill('2')
  await page.keyboard.press('Enter')
  const made = async () => Object.values((await shotNow()).sources.byId).find((one) => one.made)?.made
  expect(await made()).toMatchObject({ step: 2 })
  await button('Make it again').click()
  await standing().getByText('Joined from 3 frames.').waitFor({ timeout: 50_000 })
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+z')
  expect(await made()).toMatchObject({ step: 1 })
})

test('a place of the plate is filled from it, and nothing is wanting', async () => {
  const at = await onScreen()
  await outlineRound(page, at, { x: 120, y: 230, across: 30, down: 24 })
  await card(page).getByText('Matte 1').waitFor()
  await page.keyboard.press('Escape')
  await element(page, 'Quay').click()
  await button('Add a treatment …').click()
  await page.getByRole('textbox', { name: 'What should it do?' }).fill('clean plate')
  await page.keyboard.press('Enter')
  await page.getByRole('combobox', { name: 'Filled from' }).click()
  await page.getByRole('option', { name: 'Clean plate 2' }).click()
  const shot = await shotNow()
  const patch = Object.values(shot.treatments.byId).find(({ kind }) => kind === 'patch')
  expect(shot.sources.byId[patch?.sources?.filling ?? ''].name).toBe('Clean plate 2')
  await card(page).getByText('Grain not matched: that of the place it is filled from.').waitFor()
  // A held frame begins with the one that is looked at, and both are one step back.
  await page.getByRole('combobox', { name: 'When' }).click()
  await page.getByRole('option', { name: 'one frame, held' }).click()
  await card(page).getByText('Grain not matched: that of frame 1001, the same on every frame.').waitFor()
  await expect(page.getByText(/shows nothing at frame/).count()).resolves.toBe(0)
  await page.keyboard.press('Control+z')
  await card(page).getByText('Grain not matched: that of the place it is filled from.').waitFor()
  await expect(page.getByText(/is not made yet/).count()).resolves.toBe(0)
})

test('where it is filled from is dragged on the picture, as one step', async () => {
  const handle = page.getByRole('button', { name: 'Where the patch is filled from' })
  const place = await handle.boundingBox()
  if (!place) throw new Error('There is no handle.')
  const [x, y] = [place.x + place.width / 2, place.y + place.height / 2]
  await drag(page, [x, y], [x + 40, y - 10], [x + 80, y - 20])
  const offset = async () => {
    const patch = Object.values((await shotNow()).treatments.byId).find(({ kind }) => kind === 'patch')
    return [patch?.parameters.across, patch?.parameters.down].map((curves) => Number(curves?.[0]))
  }
  const [across, down] = await offset()
  expect(across).toBeGreaterThan(20)
  expect(down / across).toBeCloseTo(-0.25, 1)
  await page.keyboard.press('Control+z')
  expect(await offset()).toEqual([0, 0])
})

test('what is not made yet is said where it is used; the picture stays', async () => {
  await makeFrom(/soft matte/)
  await standing().getByText('Not made yet.').waitFor()
  await card(page).getByRole('button', { name: 'Close' }).click()
  await element(page, 'Quay').click()
  await page.getByRole('combobox', { name: 'Filled from' }).click()
  await page.getByRole('option', { name: 'Soft matte' }).click()
  await page
    .getByText(/^Soft matte is not made yet at frame 1001/)
    .first()
    .waitFor()
  await page.keyboard.press('Control+z')
  await button(/^▸ Sources/).click()
  await source(page, 'Soft matte').click()
  await drawer().getByRole('button', { name: 'Close' }).click()
  await button('Make it').click()
  await standing()
    .getByText(/% of the frame was unsure/)
    .waitFor({ timeout: 50_000 })
})
