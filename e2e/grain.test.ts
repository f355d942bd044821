import { waitForPicture } from './driving/chromium'
import { deskAt } from './driving/desk'
import { beginAtQuay } from './driving/quay'
import { card } from './driving/screen'

/** The plate's grain is measured where it is added, drawn beside what is set, and taken back. */

const quay = beginAtQuay()
/** Nothing is delivered here. */
const desk = () => deskAt(quay.page, () => quay.server.url, '', 'quay-010')
const grainNow = async () =>
  Object.values((await quay.shotNow()).treatments.byId)
    .filter(({ kind }) => kind === 'grain')
    .at(-1)?.parameters as Readonly<Record<'shot' | 'read', readonly number[]>> | undefined

test('what is measured is the camera’s, in one step, and drawn', async () => {
  const { page } = quay
  await page
    .getByRole('button', { name: /^Sensor/ })
    .first()
    .click()
  const before = await grainNow()
  if (!before) await desk().addTreatment('grain')
  const bare = await grainNow()
  await card(page).getByRole('button', { name: 'Measure the plate’s' }).click()
  await card(page)
    .getByText(/^On 3 pairs of frames: \d+ of \d+ places are flat\./)
    .waitFor()
  const found = await grainNow()
  // Of the stand-in camera's recording, in thousandths: 0.38, 0.3, 0.75 for each unit of light; 3.3, 2.8, 5.4 in the dark.
  const deviation = (of: NonNullable<typeof found>, c: number, light: number) =>
    Math.sqrt(1000 * of.shot[c] * light + of.read[c] ** 2)
  const camera = { shot: [0.38, 0.3, 0.75], read: [3.317, 2.828, 5.385] }
  for (const c of [0, 1, 2])
    for (const light of [0.04, 0.1, 0.16])
      expect(Math.abs(deviation(found ?? camera, c, light) / deviation(camera, c, light) - 1)).toBeLessThan(0.05)
  expect(found).not.toEqual(bare)
  const plot = card(page).getByRole('img', { name: 'Grain at each level of light' })
  await plot.waitFor()
  expect(await plot.locator('circle').count()).toBeGreaterThan(5)
  await page.getByRole('button', { name: 'Undo' }).click()
  expect(await grainNow()).toEqual(bare)
})

test('a number that is typed moves the line, and what was measured stays', async () => {
  const { page } = quay
  const path = () => card(page).locator('.recharts-line-curve').first().getAttribute('d')
  const before = await path()
  const points = await card(page).getByRole('img', { name: 'Grain at each level of light' }).locator('circle').count()
  await card(page).getByRole('spinbutton', { name: 'Read red' }).click()
  await page.keyboard.type('9')
  await page.keyboard.press('Enter')
  await desk().saved()
  await waitForPicture(page)
  expect(await path()).not.toBe(before)
  expect(await card(page).getByRole('img', { name: 'Grain at each level of light' }).locator('circle').count()).toBe(
    points,
  )
})
