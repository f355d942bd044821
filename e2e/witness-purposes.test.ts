import { deskAt } from './driving/desk'
import { beginAtQuay } from './driving/quay'
import { card, drag, element } from './driving/screen'

/** What a witness may be for beside light: how dark a shadow is, whether both sides stay together, whether one flickers. */

const quay = beginAtQuay()
/** Nothing is delivered here. */
const desk = () => deskAt(quay.page, () => quay.server.url, '', 'quay-010')
const { shotNow } = quay
const witnessNow = async () => Object.values((await shotNow()).witnesses.byId)[0]
const evidence = () => quay.page.getByRole('region', { name: 'Evidence' })
const purpose = async (name: string) => {
  await card(quay.page).getByRole('combobox', { name: 'Purpose' }).click()
  await quay.page.getByRole('option', { name, exact: true }).click()
}

async function regionAt(x: number, y: number, [wide, high] = [12, 8]): Promise<void> {
  const at = await quay.onScreen()
  await quay.page.keyboard.down('Shift')
  await drag(quay.page, at(x - wide, y - high), at(x, y), at(x + wide, y + high))
  await quay.page.keyboard.up('Shift')
  await desk().saved()
}

test('for shadow density the ground in the light is a third region, which is dragged on the picture', async () => {
  await element(quay.page, 'Bell shadow').click()
  await regionAt(213, 320, [20, 14])
  await regionAt(462, 303)
  await quay.page.getByRole('button', { name: 'More of sample 1' }).click()
  await quay.page.getByRole('menuitem', { name: 'Ought to be matched by Bell shadow at 2' }).click()
  await card(quay.page).getByRole('heading', { name: 'Witness 1' }).waitFor()
  await purpose('Shadow density')
  const { reference, lit } = await witnessNow()
  expect(lit).toMatchObject({ y: reference.y, width: reference.width, height: reference.height })
  const handle = quay.page.getByRole('button', { name: 'Move the ground in the light' })
  const box = await handle.boundingBox()
  if (!box || !lit) throw new Error('no third region')
  await quay.page.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
  await quay.page.mouse.down()
  await quay.page.mouse.move(...(await quay.onScreen())(lit.x - 128, lit.y), { steps: 4 })
  await quay.page.mouse.up()
  const moved = (await witnessNow()).lit
  expect(Math.abs((moved?.x ?? NaN) - lit.x + 128)).toBeLessThanOrEqual(1)
  expect(Math.abs((moved?.y ?? NaN) - lit.y)).toBeLessThanOrEqual(1)
  await quay.page.getByRole('button', { name: 'Undo' }).click()
  expect((await witnessNow()).lit).toEqual(lit)
  await quay.page.getByRole('button', { name: 'Redo' }).click()
  expect((await witnessNow()).lit).toEqual(moved)
})

test('for staying in place both sides follow from this frame on, and the slip is told across and down', async () => {
  await purpose('Staying in place')
  const { reference, adjusted } = await witnessNow()
  expect([reference.follows, adjusted.follows]).toEqual([1001, 1001])
  const drift = card(quay.page).getByRole('group', { name: 'Drift on this frame' })
  await drift.getByText('How far the element slips on the plate, across and down').waitFor()
  await drift.getByText('0.00 px').nth(1).waitFor()
  await quay.page.getByRole('button', { name: 'Undo' }).click()
  expect((await witnessNow()).reference.follows).toBeUndefined()
})

test('for flicker it is not counted on the first frame, and read against the frame before on the next', async () => {
  await element(quay.page, 'Bell shadow').click()
  await evidence()
    .getByRole('button', { name: /^Witness 1/ })
    .click()
  await card(quay.page).getByRole('button', { name: 'Remove this witness' }).click()
  await element(quay.page, 'Diving bell').click()
  await regionAt(165, 320)
  await regionAt(320, 200)
  await quay.page.getByRole('button', { name: 'More of sample 1' }).click()
  await quay.page.getByRole('menuitem', { name: 'Ought to be matched by Diving bell at 2' }).click()
  await purpose('Flicker')
  await desk().goTo(1003)
  const drift = card(quay.page).getByRole('group', { name: 'Drift on this frame' })
  await drift.getByText('Change from the frame before, beside the plate’s, red, green, blue').waitFor()
  await drift
    .getByText(/^[+−]?\d+\.\d %$/)
    .nth(2)
    .waitFor()
  await quay.page.getByRole('button', { name: 'Read every frame' }).click()
  await quay.page.getByText('Witnesses and checks, all frames read').waitFor()
  expect(await quay.page.getByRole('button', { name: /^1 .* on frame 1001$/ }).count()).toBe(0)
})

test('for grain what the sensor adds to the element is read beside the plate’s own: nothing, until it adds some', async () => {
  await card(quay.page).getByRole('button', { name: 'Remove this witness' }).click()
  await element(quay.page, 'Diving bell').click()
  await regionAt(34, 36, [22, 20])
  await regionAt(320, 200, [20, 14])
  await quay.page.getByRole('button', { name: 'More of sample 1' }).click()
  await quay.page.getByRole('menuitem', { name: 'Ought to be matched by Diving bell at 2' }).click()
  await purpose('Grain')
  const drift = card(quay.page).getByRole('group', { name: 'Drift on this frame' })
  await drift.getByText('How much stronger the grain is than the plate’s, red, green, blue').waitFor()
  await drift.getByText('−100.0 %').nth(2).waitFor()
  await drift.getByText('Drifts.').waitFor()
  await quay.page.getByRole('button', { name: /^Sensor/ }).click()
  await desk().addTreatment('grain')
  await desk().setNumber('Read red', '2')
  await evidence()
    .getByRole('button', { name: /^Witness 1/ })
    .click()
  await drift.getByText('−100.0 %').nth(2).waitFor({ state: 'detached' })
  expect(await drift.getByText('−100.0 %').count()).toBe(2)
})
