import { deskAt } from './driving/desk'
import { beginAtQuay } from './driving/quay'
import { waitForPicture } from './driving/chromium'
import { card } from './driving/screen'

/** A colour fringe in the glass: measured on the plate, typed, and taken back. */

const quay = beginAtQuay()
/** Nothing is delivered here. */
const desk = () => deskAt(quay.page, () => quay.server.url, '', 'quay-010')
const fringeNow = async () =>
  Object.values((await quay.shotNow()).treatments.byId).find(({ kind }) => kind === 'fringe')?.parameters

test('the plate’s is measured in one step: this camera makes none, and that is what is found', async () => {
  await quay.page
    .getByRole('button', { name: /^Glass/ })
    .first()
    .click()
  await quay.page.getByRole('button', { name: 'Add a treatment …' }).click()
  await quay.page.getByRole('textbox', { name: 'What should it do?' }).fill('chromatic')
  await quay.page.keyboard.press('Enter')
  await card(quay.page).getByRole('button', { name: 'Measure the plate’s' }).click()
  await card(quay.page)
    .getByText(/at the corners: red .* px, blue .* px farther out than green, by \d+ places/)
    .waitFor()
  const found = await fringeNow()
  // A tenth of a pixel at the corners of 640 by 360.
  for (const name of ['red', 'blue']) expect(Math.abs(Number(found?.[name][0])) * 3.67).toBeLessThan(0.15)
  await quay.page.getByRole('button', { name: 'Undo' }).click()
  expect(await fringeNow()).toMatchObject({ red: [0], blue: [0] })
})

test('typed, it is in the document; undone, it is as it was', async () => {
  await desk().setNumber('Red', '0.4')
  expect(await fringeNow()).toMatchObject({ red: [0.4], blue: [0] })
  await waitForPicture(quay.page)
  await quay.page.getByRole('button', { name: 'Undo' }).click()
  expect(await fringeNow()).toMatchObject({ red: [0], blue: [0] })
})
