import type { Browser, Page } from 'playwright-core'
import { placedMatrix, type Element, type PassInput, type Shot } from '../core/shot'
import { keyframesOf } from '../core/motion/curve'
import { ask, DataFolder, newDatabase, runServer, type RunningServer } from '../server/test/running-server'
import { launch, screen, waitForNewest, waitForPicture } from './driving/chromium'
import { card, element, picture, pictureCanvas, saving } from './driving/screen'

/** What a compositor's hands do between importing and matching, in a browser: place, time, keyframes, colour. */

const data = new DataFolder()
let server: RunningServer
let browser: Browser
let page: Page
let id: string

beforeAll(async () => {
  server = await runServer(await newDatabase(), data.path)
  browser = await launch()
  page = await browser.newPage({ viewport: screen })
  await page.goto(server.url)
  await page.getByRole('link', { name: 'quay-010' }).click()
  await waitForPicture(page)
  await element(page, 'Diving bell').waitFor()
  id = page.url().split('/').at(-1) ?? ''
})
afterAll(async () => {
  await browser.close()
  await server.stop()
  data.remove()
})

const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' })
const saved = () =>
  saving(page)
    .getByText(/^Saved/)
    .waitFor()
const shotNow = async () => {
  await saved()
  return (await ask<{ shot: Shot }>(server, `/api/shots/${id}`)).body.shot
}
const bellOf = (shot: Shot): Element => {
  const found = Object.values(shot.elements.byId).find(({ name }) => name === 'Diving bell')
  if (!found) throw new Error('no bell')
  return found
}
const numbers = async () => bellOf(await shotNow()).placing?.parameters ?? {}
const shown = () => page.locator(pictureCanvas).first().getAttribute('data-shown')
const undo = async () => {
  await button('Undo').click()
  await saved()
}
async function setNumber(name: string, value: string): Promise<void> {
  await card(page).getByRole('spinbutton', { name, exact: true }).click()
  await page.getByRole('textbox', { name, exact: true }).fill(value)
  await page.keyboard.press('Enter')
}
async function menuOf(name: string, item: string): Promise<void> {
  await card(page)
    .getByRole('spinbutton', { name: `${name}, more` })
    .click()
  await page.getByRole('menuitem', { name: item }).click()
}
async function goTo(frame: number): Promise<void> {
  await page.getByRole('slider', { name: 'Frame' }).focus()
  await page.keyboard.press('Home')
  for (let at = 1001; at < frame; at++) await page.keyboard.press('ArrowRight')
}

test('an element is placed in a box about what is seen of it, dragged on the picture, and put back by undo', async () => {
  await element(page, 'Diving bell').click()
  await button('Place: move, turn, scale').click()
  await button('Pivot').waitFor()
  const placed = bellOf(await shotNow())
  const box = placed.placing?.box ?? { x: 0, y: 0, width: 0, height: 0 }
  // The bell and its chain, of the 640 by 360 of the frame.
  expect(box.width).toBeGreaterThan(60)
  expect(box.width).toBeLessThan(240)
  const from = await button('Pivot').boundingBox()
  const place = await picture(page).boundingBox()
  if (!from || !place) throw new Error('nothing to drag')
  const before = await shown()
  const [x, y] = [from.x + from.width / 2 + 40, from.y + from.height / 2 + 24]
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.keyboard.down('Control')
  await page.mouse.move(x + 30, y + 5)
  await page.mouse.move(x + 60, y - 18)
  await page.mouse.up()
  await page.keyboard.up('Control')
  const zoom = place.width / 640
  const moved = await numbers()
  expect(moved.x[0]).toBeCloseTo(60 / zoom, -1)
  expect(moved.y[0]).toBeCloseTo(-18 / zoom, -1)
  expect(Math.abs(Number(moved.x[0]) - 60 / zoom)).toBeLessThan(2)
  expect(await shown()).not.toBe(before)
  await undo()
  expect((await numbers()).x).toEqual([0])
})

test('the arrow keys move a handle; a corner scales, the pivot moves nothing', async () => {
  const before = placedMatrix(await shotNow(), bellOf(await shotNow()).id, 1001)
  await button('Pivot').focus()
  await page.keyboard.press('Shift+ArrowLeft')
  const shot = await shotNow()
  placedMatrix(shot, bellOf(shot).id, 1001).forEach((value, i) => expect(value).toBeCloseTo(before[i], 6))
  expect(bellOf(shot).placing?.parameters.pivotX[0]).not.toBe(before[2])
  await button('Lower right').focus()
  await page.keyboard.press('Shift+ArrowRight')
  expect(Number((await numbers()).scale[0])).toBeGreaterThan(1)
  await undo()
  await undo()
})

test('keyframes of a position go on smoothly, and are moved in the curve view by the keyboard', async () => {
  await goTo(1001)
  await menuOf('Across', 'Set a keyframe of Across')
  await goTo(1004)
  await setNumber('Across', '30')
  await page.keyboard.press('j')
  const keyframe = button(/^Keyframe at 1004, Diving bell: across/)
  await keyframe.dispatchEvent('pointerdown', { button: 0, pointerId: 1, clientX: 0, clientY: 0 })
  await page.getByRole('group', { name: 'Curves of what is selected' }).dispatchEvent('pointerup', { pointerId: 1 })
  await page.getByRole('group', { name: 'Curves of what is selected' }).focus()
  await page.keyboard.press('ArrowRight')
  const [curve] = (await numbers()).x
  expect(keyframesOf(curve)).toMatchObject([
    { frame: 1001, value: 0, to: 'smooth' },
    { frame: 1005, value: 30, to: 'smooth' },
  ])
  await page.getByRole('combobox', { name: 'Goes on' }).click()
  await page.getByRole('option', { name: 'pops beyond and settles' }).click()
  expect(keyframesOf((await numbers()).x[0])[1].to).toBe('pop')
  await page.keyboard.press('j')
})

test('it is moved in time and trimmed by its bar in the tally', async () => {
  const timing = async () => {
    const { inputs } = bellOf(await shotNow())
    return (Object.values(inputs.byId).find(({ kind }) => kind === 'pass') as PassInput).timing
  }
  await button(/^There from 1001/)
    .first()
    .focus()
  await page.keyboard.press('ArrowRight')
  expect(await timing()).toMatchObject({ offset: -1 })
  await button('Begin of Diving bell').focus()
  await page.keyboard.press('ArrowRight')
  expect(await timing()).toMatchObject({ offset: -1, from: 1003 })
  await undo()
  await undo()
  expect(await timing()).toBeUndefined()
})

test('a curve is drawn by clicks, its point is moved by keys and taken away; the picture follows', async () => {
  const plain = await shown()
  await button('Add a treatment …').click()
  await page.getByRole('textbox', { name: 'What should it do?' }).fill('curve')
  await page.keyboard.press('Enter')
  const drawing = page.getByRole('group', { name: 'Curve of luma' })
  await drawing.scrollIntoViewIfNeeded()
  const bounds = await drawing.boundingBox()
  if (!bounds) throw new Error('no drawing')
  await page.mouse.click(bounds.x + bounds.width * 0.4, bounds.y + bounds.height * 0.4)
  const point = page.getByRole('button', { name: /^Point 1 of luma/ })
  await point.waitFor()
  await waitForNewest(page)
  const curves = async () => Object.values((await shotNow()).treatments.byId).find(({ kind }) => kind === 'curves')
  const [only] = Object.values((await curves())?.points?.byId ?? {})
  expect(Number(only.parameters.out[0])).toBeGreaterThan(Number(only.parameters.in[0]))
  expect(await shown()).not.toBe(plain)
  await point.focus()
  await page.keyboard.press('ArrowUp')
  const [raised] = Object.values((await curves())?.points?.byId ?? {})
  expect(Number(raised.parameters.out[0])).toBeCloseTo(Number(only.parameters.out[0]) + 0.005, 6)
  await point.focus()
  await page.keyboard.press('Delete')
  expect(Object.keys((await curves())?.points?.byId ?? {})).toHaveLength(0)
})

test('a treatment that is parked is left out of what is seen, said in the sentence, and not out of the document', async () => {
  await setNumber('Veil red', '0.05')
  const before = await shotNow()
  await waitForNewest(page)
  const plain = await shown()
  await card(page).getByRole('button', { name: 'Park veil and gain' }).click()
  await button('Take up what is parked').waitFor()
  await page.waitForFunction(
    ([selector, was]) => document.querySelector(selector)?.getAttribute('data-shown') !== was,
    [pictureCanvas, plain] as const,
  )
  expect(await shotNow()).toEqual(before)
  await button('Take up what is parked').click()
  await page.waitForFunction(
    ([selector, was]) => document.querySelector(selector)?.getAttribute('data-shown') === was,
    [pictureCanvas, plain] as const,
  )
})

test('noise made here comes in front of the selected element', async () => {
  await button('Add made').click()
  await page.getByRole('menuitem', { name: 'Noise' }).click()
  await element(page, 'Noise').waitFor()
  const shot = await shotNow()
  const order = Object.values(shot.elements.byId).sort((a, b) => (a.rank < b.rank ? -1 : 1))
  const at = order.findIndex(({ name }) => name === 'Diving bell')
  expect(order[at + 1].name).toBe('Noise')
})
