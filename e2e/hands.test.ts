import { renameSync } from 'node:fs'
import { join } from 'node:path'
import type { Browser, Page } from 'playwright-core'
import { allOf, usesOf, type Shot } from '../core/shot'
import { ask, DataFolder, newDatabase, runServer, type RunningServer } from '../server/test/running-server'
import { launch, screen, waitForNewest, waitForPicture } from './driving/chromium'
import {
  card,
  controlClick,
  element,
  letGo,
  picture,
  pictureCanvas,
  readingRow,
  saving,
  source,
} from './driving/screen'

/** What can be taken hold of on the light path, in a browser: glass, sensor, samples, markers, tries, shared and pinned cards. */

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
const light = (name: string) =>
  page.getByRole('navigation', { name: 'Light path' }).getByRole('button', { name: new RegExp(`^${name}`) })
/** Everything is saved. */
const saved = () =>
  saving(page)
    .getByText(/^Saved/)
    .waitFor()
const shotNow = async () => {
  await saved()
  return (await ask<{ shot: Shot }>(server, `/api/shots/${id}`)).body.shot
}
const shown = () => page.locator(pictureCanvas).first().getAttribute('data-shown')
/** Undone until the document is what it was: one step for each of `steps`. */
async function undoTo(before: Shot, steps: number): Promise<void> {
  for (let i = 0; i < steps; i++) {
    await button('Undo').click()
    await saved()
  }
  expect(await shotNow()).toEqual(before)
}

test('glass and sensor are entries with cards, and take what belongs to them', async () => {
  const before = await shotNow()
  const plain = await shown()
  await light('Glass').click()
  await button('Add a treatment …').click()
  const list = page.getByRole('list', { name: 'Treatments' })
  expect(await list.getByRole('button', { name: /^Grain/ }).count()).toBe(0)
  await page.getByRole('textbox', { name: 'What should it do?' }).fill('softer')
  await page.keyboard.press('Enter')
  await card(page).getByRole('spinbutton', { name: 'Across', exact: true }).click()
  await page.getByRole('textbox', { name: 'Across', exact: true }).fill('2')
  await page.keyboard.press('Enter')
  await waitForNewest(page)
  expect(await shown()).not.toBe(plain)
  expect(await light('Glass').innerText()).toContain('soften')
  // An element can be kept out of it.
  await element(page, 'Bell in wet stone').click()
  await button('Keep the glass off it').click()
  expect(allOf((await shotNow()).elements).find(({ ownGlass }) => ownGlass)?.name).toBe('Bell in wet stone')
  await light('Sensor').click()
  await button('Add a treatment …').click()
  await page.getByRole('textbox', { name: 'What should it do?' }).fill('noise')
  await page.keyboard.press('Enter')
  expect(usesOf(await shotNow(), { kind: 'sensor' })).toHaveLength(1)
  await undoTo(before, 4)
})

test('a sample has a name, follows an element, and is a thing of the document', async () => {
  await element(page, 'Diving bell').click()
  const before = await shotNow()
  const place = await picture(page).boundingBox()
  if (!place) throw new Error('There is no picture.')
  await controlClick(page, place.x + place.width * 0.5, place.y + place.height * 0.45)
  const group = page.getByRole('group', { name: 'Sample 1', exact: true })
  await group.waitFor()
  await button('More of sample 1').click()
  await page.getByRole('menuitem', { name: 'Rename' }).click()
  await page.getByRole('textbox', { name: 'Name of 1' }).fill('brass')
  await page.keyboard.press('Enter')
  await page.getByRole('group', { name: 'Sample brass', exact: true }).waitFor()
  await button('More of sample brass').click()
  await page.getByRole('menuitem', { name: 'Follow Diving bell' }).click()
  const where = async () =>
    (await page.getByRole('group', { name: 'Sample brass', exact: true }).innerText()).match(/, (\d+) (\d+), follows/)
  const first = await where()
  await page.mouse.move(5, 5)
  await page.keyboard.press('End')
  await page.waitForFunction(
    (text) => !document.querySelector('[aria-label="Sample brass"]')?.textContent?.includes(text),
    `${first?.[1]} ${first?.[2]}`,
  )
  // The bell comes down: what is followed lies lower than before.
  expect(Number((await where())?.[2])).toBeGreaterThan(Number(first?.[2]))
  await page.keyboard.press('Home')
  await readingRow(page, 'Sample brass', 'composite').waitFor()
  // A line leads from the picture to the enlarged pixels.
  expect(await page.locator('svg line').count()).toBeGreaterThanOrEqual(2)
  await page.reload()
  await waitForPicture(page)
  await page.getByRole('group', { name: 'Sample brass', exact: true }).waitFor()
  await undoTo(before, 3)
})

test('a marker is put on a frame, gone to, renamed and taken away', async () => {
  const before = await shotNow()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('k')
  await page.getByRole('button', { name: 'Marker Marker 1, frame 1003' }).dblclick()
  await page.getByRole('textbox', { name: 'Name of Marker 1' }).fill('Lands')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Home')
  await page.keyboard.press('PageDown')
  expect(await page.getByRole('slider', { name: 'Frame', exact: true }).getAttribute('aria-valuenow')).toBe('1003')
  expect(allOf((await shotNow()).markers)).toMatchObject([{ name: 'Lands', frame: 1003 }])
  await page.keyboard.press('k')
  expect(allOf((await shotNow()).markers)).toEqual([])
  await page.keyboard.press('Home')
  await undoTo(before, 3)
})

test('a note is drawn on a frame, seen on that frame only, and taken away', async () => {
  const before = await shotNow()
  await page.keyboard.press('q')
  const box = await picture(page).boundingBox()
  if (!box) throw new Error('There is no picture.')
  await page.mouse.move(box.x + 200, box.y + 120)
  await page.mouse.down()
  for (let i = 1; i <= 8; i++) await page.mouse.move(box.x + 200 + 12 * i, box.y + 120 + 6 * (i % 3))
  await page.mouse.up()
  await page.keyboard.press('Escape')
  const drawing = page.getByRole('img', { name: 'Drawn on frame 1001: Marker 1' })
  await drawing.waitFor()
  const [marker] = allOf((await shotNow()).markers)
  expect(allOf(marker.strokes ?? { byId: {} })[0].points.length).toBeGreaterThanOrEqual(12)
  await page.keyboard.press('ArrowRight')
  await drawing.waitFor({ state: 'hidden' })
  await page.keyboard.press('Home')
  await button('Marker Marker 1, frame 1001').click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Take the drawing away' }).click()
  expect(allOf((await shotNow()).markers)).toEqual([{ id: marker.id, name: 'Marker 1', frame: 1001 }])
  await undoTo(before, 2)
})

test('tries of a treatment are stepped through while looking', async () => {
  await element(page, 'Diving bell').click()
  const before = await shotNow()
  const first = await shown()
  await button('Keep these settings of veil and gain as a try').click()
  const veil = page.getByRole('spinbutton', { name: 'Veil red', exact: true })
  await veil.click()
  await page.getByRole('textbox', { name: 'Veil red', exact: true }).fill('0.2')
  await page.keyboard.press('Enter')
  await waitForNewest(page)
  await page.keyboard.press('n')
  await waitForNewest(page)
  expect(await shown()).toBe(first)
  await page.keyboard.press('n')
  await waitForNewest(page)
  expect(await veil.getAttribute('aria-valuenow')).toBe('0.2')
  await page.getByRole('group', { name: 'Tries of veil and gain' }).getByText('try 2 of 2').waitFor()
  await undoTo(before, 4)
})

test('settings are shared with another element; a card is pinned; channels are changed together', async () => {
  const before = await shotNow()
  await element(page, 'Bell in wet stone').click()
  await button('Add a treatment …').click()
  await page.getByRole('button', { name: 'Veil and gain of Diving bell' }).click()
  await card(page).getByText('Shared: a change here changes it in 2 places.').first().waitFor()
  await button('Pin').click()
  await element(page, 'Diving bell').click()
  const pinned = page.getByRole('region', { name: 'Pinned card' })
  await pinned.getByRole('button', { name: 'Rename Bell in wet stone' }).waitFor()
  const own = () => page.getByRole('spinbutton', { name: /^Gain (red|green|blue)$/ })
  const values = async () =>
    await own().evaluateAll((all) => all.map((one) => Number(one.getAttribute('aria-valuenow'))))
  const [red, green, blue] = await values()
  await page.getByRole('spinbutton', { name: 'Gain, all channels' }).first().click()
  await page.getByRole('menuitem', { name: 'Change the channels of Gain together' }).click()
  await page.locator('[role=menu]').waitFor({ state: 'detached' })
  await own().first().focus()
  await page.keyboard.press('Shift+ArrowUp')
  const after = await values()
  ;[red, green, blue].forEach((value, i) => expect(after[i]).toBeCloseTo(value + 0.05, 6))
  // What is shared changes in both cards.
  expect(after.slice(3)).toEqual(after.slice(0, 3))
  await button('Make veil and gain its own').first().click()
  await own().first().focus()
  await page.keyboard.press('Shift+ArrowUp')
  const apart = await values()
  expect(apart.slice(3)).toEqual(after.slice(3))
  expect(apart[0]).toBeCloseTo(after[0] + 0.05, 6)
  await pinned.getByRole('button', { name: 'Let go' }).click()
  await pinned.waitFor({ state: 'detached' })
  await undoTo(before, 4)
})

test('a treatment is copied as text and pasted onto all that is selected', async () => {
  const before = await shotNow()
  await element(page, 'Diving bell').click()
  await button('Copy veil and gain').click()
  await element(page, 'Bell shadow').click()
  await element(page, 'Bell contact').click({ modifiers: ['Control'] })
  await page.keyboard.press('Control+v')
  await card(page).getByRole('button', { name: 'Veil and gain', exact: true }).waitFor()
  const after = await shotNow()
  expect(Object.keys(after.uses.byId)).toHaveLength(Object.keys(before.uses.byId).length + 2)
  await undoTo(before, 1)
})

test('the pass that an element is made of is changed in its place', async () => {
  await element(page, 'Diving bell').click()
  const before = await shotNow()
  const first = await shown()
  await card(page).getByRole('combobox', { name: 'Pass' }).click()
  await page.getByRole('option', { name: /, emission$/ }).click()
  await waitForNewest(page)
  expect(await shown()).not.toBe(first)
  await undoTo(before, 1)
  await waitForNewest(page)
  expect(await shown()).toBe(first)
})

test('several are seen alone together, tagged, keyed, and found again by their tag', async () => {
  const before = await shotNow()
  await element(page, 'Bell shadow').click()
  await element(page, 'Diving bell').click({ modifiers: ['Control'] })
  const composite = await shown()
  await page.keyboard.down('e')
  await waitForNewest(page)
  expect(await shown()).not.toBe(composite)
  await page.getByText('2 elements alone').waitFor()
  await letGo(page, 'e')
  await page.getByRole('textbox', { name: 'Add a tag to all' }).fill('brass')
  await page.keyboard.press('Enter')
  await button('Keyframe opacity here').click()
  await button('Remove keyframes here').waitFor()
  await page.getByRole('textbox', { name: 'Find elements by name or tag' }).fill('bras')
  const lines = page.getByRole('group', { name: 'Elements, far to near' }).locator('button[aria-pressed]')
  expect(await lines.count()).toBe(2)
  await page.getByRole('textbox', { name: 'Find elements by name or tag' }).fill('')
  await undoTo(before, 2)
})

test('the plate lies over the picture like a ghost while its key is held; an area is made and no more', async () => {
  const plain = await shown()
  await page.keyboard.down('g')
  await waitForNewest(page)
  expect(await shown()).not.toBe(plain)
  await page.getByRole('spinbutton', { name: 'Strength of the plate over it, in per cent' }).waitFor()
  await letGo(page, 'g')
  await waitForNewest(page)
  expect(await shown()).toBe(plain)
  await page.keyboard.press('a')
  const place = await picture(page).boundingBox()
  if (!place) throw new Error('There is no picture.')
  await page.mouse.move(place.x + 100, place.y + 100)
  await page.mouse.down()
  await page.mouse.move(place.x + 200, place.y + 160, { steps: 3 })
  await page.mouse.up()
  await page.keyboard.press('d')
  await waitForNewest(page)
  const alphaAt = (x: number, y: number) =>
    page
      .locator(pictureCanvas)
      .first()
      .evaluate(
        (canvas: HTMLCanvasElement, at) => canvas.getContext('2d')?.getImageData(at[0], at[1], 1, 1).data[3],
        [x, y],
      )
  const frameWidth = (await shotNow()).frameSize.width
  const scale = frameWidth / place.width
  expect(await alphaAt(Math.round(150 * scale), Math.round(130 * scale))).toBe(255)
  expect(await alphaAt(2, 2)).toBe(0)
  await button('Make the whole picture').click()
  await waitForNewest(page)
  expect(await alphaAt(2, 2)).toBe(255)
  await page.keyboard.press('d')
})

test('a source for comparing only is what the picture is compared with, and in nothing else', async () => {
  const before = await shotNow()
  await page
    .getByRole('button', { name: /Sources/ })
    .first()
    .click()
  await source(page, 'Bollard').click()
  await button('Use it for comparing only').click()
  await waitForNewest(page)
  await page
    .getByText(/which is for comparing only: it is in no picture and no delivery/)
    .first()
    .waitFor()
  await page.keyboard.down('o')
  await waitForNewest(page)
  await page
    .getByRole('group', { name: 'View sentence' })
    .getByText(/^Bollard/)
    .first()
    .waitFor()
  await letGo(page, 'o')
  await undoTo(before, 1)
})

test('light path and card fold to their edge, and lie over the picture while C is held', async () => {
  const wide = async () => (await picture(page).boundingBox())?.width ?? 0
  const before = await wide()
  await button('Fold the light path').click()
  await button('Fold the card').click()
  expect(await wide()).toBeGreaterThan(before + 100)
  expect(await element(page, 'Diving bell').count()).toBe(0)
  await page.keyboard.down('c')
  await element(page, 'Diving bell').click()
  await card(page).getByRole('combobox', { name: 'Blend' }).waitFor()
  await letGo(page, 'c')
  await element(page, 'Diving bell').waitFor({ state: 'detached' })
  await button('Unfold the light path').click()
  await button('Unfold the card').click()
  expect(await wide()).toBe(before)
})

test('a long name is cut, and moves nothing', async () => {
  const before = await shotNow()
  const path = page.getByRole('navigation', { name: 'Light path' })
  const wide = (await path.boundingBox())?.width
  await element(page, 'Bell contact').dblclick()
  await page
    .getByRole('textbox', { name: 'Name of Bell contact' })
    .fill('Bell contact with the wet stones of the quay, second pass')
  await page.keyboard.press('Enter')
  await element(page, 'Bell contact with the wet').click()
  expect((await path.boundingBox())?.width).toBe(wide)
  expect((await path.boundingBox())?.x).toBe(0)
  expect(await path.evaluate((nav) => nav.scrollWidth - nav.clientWidth)).toBe(0)
  await undoTo(before, 1)
})

test('on a wide screen an open tally leaves the evidence beside the picture', async () => {
  await page.setViewportSize({ width: 1920, height: 1080 })
  const evidence = page.getByRole('region', { name: 'Evidence' })
  const under = async () => {
    const [shownAt, told] = [await picture(page).boundingBox(), await evidence.boundingBox()]
    return (told?.y ?? 0) >= (shownAt?.y ?? 0) + (shownAt?.height ?? 0) - 1
  }
  expect(await under()).toBe(true)
  await button('More room for the tally').click()
  await page.waitForTimeout(300)
  expect(await under()).toBe(false)
  const { width = 0, height = 0 } = (await picture(page).boundingBox()) ?? {}
  expect([Math.round(width), Math.round(height)]).toEqual([1187, 668])
  await page.keyboard.press('j')
  await page.setViewportSize(screen)
})

test('wherever the keyboard is can be seen', async () => {
  await page.locator('body').click({ position: { x: 300, y: 10 } })
  const seen = new Set<string>()
  for (let i = 0; i < 60; i++) {
    await page.keyboard.press('Tab')
    const { name, visible } = await page.evaluate(() => {
      const at = document.activeElement
      if (!at || at === document.body) return { name: '', visible: true }
      // A field has its caret, a choice its line; the picture draws its mark over itself.
      const isField = at.tagName === 'INPUT' || at.getAttribute('role') === 'combobox'
      const over = getComputedStyle(at, '::after')
      const visible =
        isField ||
        getComputedStyle(at).outlineStyle !== 'none' ||
        (over.content !== 'none' && over.borderStyle !== 'none')
      return { name: `${at.tagName} ${at.getAttribute('aria-label') ?? at.textContent}`, visible }
    })
    seen.add(name)
    if (!visible) throw new Error(`Nothing shows that the keyboard is at ${name}.`)
  }
  expect(seen.size).toBeGreaterThan(40)
})

test('a person’s name and colour stand beside their changes', async () => {
  const before = await shotNow()
  await button('Your name').click()
  await page.getByRole('textbox', { name: 'Your name' }).fill('Ines')
  await page.getByRole('group', { name: 'Your colour' }).getByRole('button', { name: 'moss' }).click()
  await page.keyboard.press('Escape')
  await button('Hide Bell contact').first().click()
  await saved()
  const { body } = await ask<{ author: string | null; colour: string | null }[]>(server, `/api/shots/${id}/revisions`)
  expect(body[0]).toMatchObject({ author: 'Ines', colour: 'moss' })
  await undoTo(before, 1)
})

test('media that were moved are found again, all at once', async () => {
  const before = await shotNow()
  const media = join(data.path, 'media')
  renameSync(join(data.shot, 'cg'), join(media, 'cg-moved'))
  renameSync(join(data.shot, 'matte'), join(media, 'matte-moved'))
  await page.reload()
  await page
    .getByRole('button', { name: /Sources/ })
    .first()
    .click()
  await page.getByRole('button', { name: /^Files of \d sources are not there/ }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByText('Whether these are the same files as before cannot be told').first().waitFor()
  await dialog.getByRole('button', { name: /^Use them for \d sources$/ }).click()
  await waitForPicture(page)
  const paths = allOf((await shotNow()).sources).map(({ path }) => path)
  expect(paths.filter((path) => path.includes('-moved')).length).toBeGreaterThanOrEqual(2)
  renameSync(join(media, 'cg-moved'), join(data.shot, 'cg'))
  renameSync(join(media, 'matte-moved'), join(data.shot, 'matte'))
  await undoTo(before, 1)
})
