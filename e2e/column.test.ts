import type { Page } from 'playwright-core'
import { waitForNewest } from './driving/chromium'
import { card, element, saving } from './driving/screen'
import { beginAtQuay } from './driving/quay'

/** The light column: elements moved, named, chosen several at once, grouped, copied, removed; each one step of undo. */

const quay = beginAtQuay()
let page: Page
beforeAll(() => {
  page = quay.page
})

const names = async () =>
  (
    await page.getByRole('group', { name: 'Elements, far to near' }).locator('button[aria-pressed]').allInnerTexts()
  ).map((text) => text.split('\n')[0])
const first = ['Quay', 'Bell shadow', 'Bell contact', 'Bell in wet stone', 'Diving bell', 'Bollard and rope']
const undo = async () => {
  await page.keyboard.press('Control+z')
  await page.waitForFunction(
    (count) => document.querySelectorAll('[aria-label="Elements, far to near"] button[aria-pressed]').length === count,
    first.length,
  )
  expect(await names()).toEqual(first)
}

test('an element is moved by the keyboard, and by dragging its grip; each is one step back', async () => {
  expect(await names()).toEqual(first)
  await element(page, 'Diving bell').click()
  await page.keyboard.press('Alt+ArrowDown')
  expect(await names()).toEqual([...first.slice(0, 4), 'Bollard and rope', 'Diving bell'])
  await undo()
  const grip = page.getByRole('button', { name: 'Move Bell shadow' })
  await grip.focus()
  await page.keyboard.press('Space')
  await page.waitForTimeout(200)
  await page.keyboard.press('ArrowDown')
  await page.waitForTimeout(400)
  await page.keyboard.press('Space')
  await page.waitForTimeout(400)
  expect(await names()).toEqual(['Quay', 'Bell contact', 'Bell shadow', ...first.slice(3)])
  // The key that lets go does not play the shot.
  expect(await page.getByRole('button', { name: 'Play', exact: true }).count()).toBe(1)
  await undo()
  const [from, to] = [await grip.boundingBox(), await element(page, 'Bollard and rope').boundingBox()]
  if (!from || !to) throw new Error('There are no lines.')
  await page.mouse.move(from.x + 4, from.y + 10)
  await page.mouse.down()
  await page.mouse.move(from.x + 4, from.y + 30, { steps: 4 })
  await page.mouse.move(from.x + 4, to.y + 14, { steps: 8 })
  await page.waitForTimeout(300)
  await page.mouse.up()
  await page.waitForTimeout(400)
  expect((await names()).at(-1)).toBe('Bell shadow')
  await undo()
})

test('an element is renamed in its place; Escape leaves the name', async () => {
  await element(page, 'Diving bell').dblclick()
  await page.getByRole('textbox', { name: 'Name of Diving bell' }).fill('Brass bell')
  await page.keyboard.press('Enter')
  await element(page, 'Brass bell').waitFor()
  await element(page, 'Brass bell').dblclick()
  await page.getByRole('textbox', { name: 'Name of Brass bell' }).fill('Other')
  await page.keyboard.press('Escape')
  await element(page, 'Brass bell').waitFor()
  await undo()
})

test('several are chosen, grouped, duplicated and removed', async () => {
  await element(page, 'Bell contact').click()
  await page.keyboard.down('Shift')
  await element(page, 'Diving bell').click()
  await page.keyboard.up('Shift')
  await card(page).getByText('3 elements are selected.').waitFor()
  await page.keyboard.press('Control+d')
  await page.waitForFunction(
    () => document.querySelectorAll('[aria-label="Elements, far to near"] button[aria-pressed]').length === 9,
  )
  await undo()
  await element(page, 'Bell in wet stone').click()
  await page.keyboard.down('Control')
  await element(page, 'Diving bell').click()
  await page.keyboard.up('Control')
  await page.keyboard.press('Control+g')
  await element(page, 'Group').waitFor()
  expect(await names()).toEqual([...first.slice(0, 3), 'Group', 'Bell in wet stone', 'Diving bell', 'Bollard and rope'])
  await page.keyboard.press('Delete')
  await page.waitForFunction(
    () => document.querySelectorAll('[aria-label="Elements, far to near"] button[aria-pressed]').length === 4,
  )
  await page.keyboard.press('Control+z')
  await element(page, 'Group').waitFor()
  await undo()
})

test('a number of several elements is set on all of them at once', async () => {
  await element(page, 'Bell shadow').click()
  await page.keyboard.down('Control')
  await element(page, 'Diving bell').click()
  await page.keyboard.up('Control')
  await page.getByRole('spinbutton', { name: 'Opacity', exact: true }).click()
  await page.getByRole('textbox', { name: 'Opacity' }).fill('0.5')
  await page.keyboard.press('Enter')
  for (const name of ['Bell shadow', 'Diving bell', 'Bell contact']) {
    await element(page, name).click()
    const value = await page.getByRole('spinbutton', { name: 'Opacity', exact: true }).textContent()
    expect(value).toBe(name === 'Bell contact' ? '1.000' : '0.500')
  }
  await undo()
})

test('copied elements are text, and are pasted in front of the selected one', async () => {
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await element(page, 'Diving bell').click()
  await page.keyboard.press('Control+c')
  await page.waitForTimeout(300)
  const text = await page.evaluate(() => navigator.clipboard.readText())
  expect((JSON.parse(text) as { kind: string }).kind).toBe('enkrasis-elements')
  await element(page, 'Bell shadow').click()
  await page.keyboard.press('Control+v')
  await page.waitForFunction(
    () => document.querySelectorAll('[aria-label="Elements, far to near"] button[aria-pressed]').length === 7,
  )
  expect((await names()).slice(0, 4)).toEqual(['Quay', 'Bell shadow', 'Diving bell', 'Bell contact'])
  await undo()
  await page.evaluate(() => navigator.clipboard.writeText('only words'))
  await page.keyboard.press('Control+v')
  await page.getByText('What is on the clipboard cannot be pasted as elements').waitFor()
  await page.getByRole('button', { name: 'Close' }).click()
})

test('a blend is changed on the card; a note and tags are kept, and none of them is in the picture', async () => {
  await element(page, 'Diving bell').click()
  const shown = () => page.locator('[aria-label="Picture"] > canvas').first().getAttribute('data-shown')
  await waitForNewest(page)
  const before = await shown()
  await page.getByRole('combobox', { name: 'Blend' }).click()
  await page.getByRole('option', { name: 'Multiply' }).click()
  await waitForNewest(page)
  expect(await shown()).not.toBe(before)
  await undo()
  await waitForNewest(page)
  await page.getByRole('button', { name: /Note and tags/ }).click()
  await page.getByRole('textbox', { name: 'Tags, with commas' }).fill('metal, wet')
  await page.getByRole('button', { name: 'moss' }).click()
  await element(page, 'Diving bell').getByText('metal, wet').waitFor()
  await saving(page)
    .getByText(/^Saved/)
    .waitFor()
  expect(await shown()).toBe(before)
  // The picture leads back to its element.
  const box = await page.locator('[aria-label="Picture"] > canvas').first().boundingBox()
  if (!box) throw new Error('There is no picture.')
  await element(page, 'Quay').click()
  await page.mouse.click(box.x + (330 / 640) * box.width, box.y + (180 / 360) * box.height)
  await card(page).getByRole('button', { name: 'Rename Diving bell' }).waitFor()
})
