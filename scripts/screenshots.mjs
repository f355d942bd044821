/** npm run screenshots: refreshes docs/screenshots from the running demo (`npm run demo` first), with its blacks matched. */

import { readFileSync } from 'node:fs'
import { chromium } from 'playwright-core'

const { url } = JSON.parse(readFileSync('.data/running.json', 'utf8'))
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--no-first-run', '--disable-background-networking'],
})
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
const picture = (frame) =>
  page.waitForFunction(
    (n) => document.querySelector('[aria-label="Picture"] > canvas')?.dataset.frame === String(n),
    frame,
  )
const source = (name) =>
  page.getByRole('region', { name: 'Sources' }).getByRole('button', { name: new RegExp(`^${name}`) })
const element = (name) =>
  page.getByRole('group', { name: 'Elements, far to near' }).getByRole('button', { name: new RegExp(`^${name}`) })
const take = (name) => page.screenshot({ path: `docs/screenshots/${name}.png` })
const type = async (label, value) => {
  const number = page.getByRole('spinbutton', { name: label, exact: true })
  if ((await number.getAttribute('aria-valuenow')) === String(value)) return
  await number.click()
  await page.getByRole('textbox', { name: label, exact: true }).fill(String(value))
  await page.keyboard.press('Enter')
}

await page.goto(url)
await page.waitForTimeout(1500)
await take('shot-list')

await page.goto(`${url}/new`)
await page.getByRole('button', { name: 'quay-010/' }).click()
await page.getByRole('button', { name: 'Use everything in quay-010' }).click()
await page.getByRole('button', { name: 'Make the shot' }).waitFor()
await page.waitForTimeout(2500)
await take('new-shot')

await page.goto(url)
await page.getByRole('link', { name: 'quay-010', exact: true }).click()
await picture(1001)
await page.getByRole('spinbutton', { name: 'Veil red' }).waitFor()
for (const name of ['Veil', 'Gain']) {
  await page.getByRole('spinbutton', { name: `${name}, all channels` }).click()
  const reset = page.getByRole('menuitem', { name: `Reset ${name}` })
  if ((await reset.getAttribute('aria-disabled')) === null) await reset.click()
  else await page.keyboard.press('Escape')
}
// The whole shot matched by ball and chart, used, and read on every frame; taken back afterwards.
await page.getByRole('button', { name: 'Match', exact: true }).click()
await page.getByRole('button', { name: /^Match all/ }).click()
await page.getByRole('button', { name: 'Use all' }).click({ timeout: 120_000 })
await page.waitForTimeout(1000)
await page.getByRole('button', { name: 'Read every frame' }).click()
await page.getByText('Witnesses and checks, all frames read').waitFor({ timeout: 300_000 })
await page.getByRole('slider', { name: 'Frame' }).focus()
await page.keyboard.press('Home')
for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowRight')
await picture(1005)
await page.mouse.move(5, 400)
await page.waitForTimeout(3000)
await take('matching')
await page.getByRole('button', { name: 'Undo' }).click()
await page.getByRole('button', { name: 'Close', exact: true }).click()
await page.waitForTimeout(500)
for (const [label, value] of [
  ['Veil red', 0.0215],
  ['Veil green', 0.024],
  ['Veil blue', 0.0292],
  ['Gain red', 1.28],
  ['Gain green', 1.11],
  ['Gain blue', 0.96],
])
  await type(label, value)
await page.keyboard.press('Home')
for (let i = 0; i < 35; i++) await page.keyboard.press('ArrowRight')
await picture(1036)
const box = await page.locator('[aria-label="Picture"] > canvas').first().boundingBox()
const at = (x, y) => [box.x + (x / 1280) * box.width, box.y + (y / 720) * box.height]
// Of an earlier run.
const more = page.getByRole('button', { name: /^More of sample/ })
while ((await more.count()) > 0) {
  await more.first().click()
  await page.getByRole('menuitem', { name: 'Remove' }).click()
}
if ((await page.getByRole('button', { name: /^Marker / }).count()) === 0) await page.keyboard.press('k')
await page.keyboard.down('Control')
await page.mouse.click(...at(545, 545))
await page.mouse.click(...at(690, 540))
await page.keyboard.up('Control')
await page.mouse.move(...at(700, 380))
await page.waitForTimeout(5000)
await page.setViewportSize({ width: 1920, height: 1080 })
await page.keyboard.press('j')
await page.waitForTimeout(2500)
await take('shot-screen-wide')
await page.keyboard.press('j')
await page.setViewportSize({ width: 1280, height: 800 })
await page.waitForTimeout(1500)
await take('shot-screen')
await page.getByRole('button', { name: 'Deliver' }).click()
await page.getByRole('button', { name: 'Add an output' }).click()
await page.getByLabel('Last frame').fill('1004')
const deliveries = page.getByRole('region', { name: 'Card' })
await deliveries.getByRole('button', { name: 'Deliver' }).click()
// While it is under way, with something to show.
await deliveries.getByText(/^[1-9]\d* of \d+ after/).waitFor()
await page.getByRole('button', { name: /^Work:/ }).click()
await take('delivery')
await page.keyboard.press('Escape')
await deliveries.getByRole('button', { name: 'Close' }).click()

await page.getByRole('button', { name: /Sources/ }).click()
await page
  .getByRole('status', { name: 'Verdict on the sources' })
  .getByText(/agree|to look at/)
  .waitFor()
await source('Bell render').click()
await page.waitForTimeout(800)
await take('source-card')
await source('Quay plate').click()
await page.getByRole('button', { name: 'Wedge …' }).click()
await page
  .getByRole('button', { name: /scene-linear/ })
  .first()
  .waitFor()
await page.waitForTimeout(5000)
await take('wedge')
await page.getByRole('button', { name: 'Leave as it is' }).click()
// A wrong claim, so that there is something to find; it is put right by its own button.
await source('Bell render').click()
await page.getByRole('combobox', { name: 'Alpha' }).click()
await page.getByRole('option', { name: 'straight' }).click()
await page.getByRole('button', { name: 'Claims check …' }).click()
await page.getByText('What does not fit').waitFor()
await take('claims-check')
await page
  .getByRole('dialog', { name: /^Claims check/ })
  .getByRole('button', { name: 'Read its alpha as premultiplied' })
  .click()
await page.getByText('Nothing was found that does not fit.').waitFor()
// The button is gone, and the focus finds its way back into the dialog.
await page.waitForTimeout(300)
await page.keyboard.press('Escape')
await page.getByRole('button', { name: 'Import …' }).click()
for (const folder of ['quay-010/', 'cg/']) {
  await page.getByRole('button', { name: folder }).click()
  await page.waitForTimeout(700)
}
await page.getByRole('dialog', { name: 'Import a source' }).getByText('quay-010_bell.####.exr').click()
await page.waitForTimeout(1500)
await take('import-sources')
await page.keyboard.press('Escape')
await page.getByRole('button', { name: /Sources/ }).click()
await element('Diving bell').click()

await page.getByRole('button', { name: 'History' }).click()
await page.getByRole('listitem', { name: 'Revision 1', exact: true }).getByRole('button', { name: 'Look' }).click()
await page.getByRole('list', { name: 'What changed since' }).waitFor()
await page.getByRole('listitem', { name: 'Revision 1', exact: true }).scrollIntoViewIfNeeded()
await page.waitForTimeout(1500)
await take('history')
await page.getByRole('button', { name: 'Stop looking' }).click()
await element('Diving bell').click()
await page.keyboard.press('s')
await page.keyboard.press('x')
await page.waitForTimeout(3000)
await take('comparing')
await page.keyboard.press('x')
for (let i = 0; i < 4; i++) await page.keyboard.press('s')
await page.keyboard.press('i')
await page.waitForTimeout(4000)
await take('inspection-board')
await page.keyboard.press('i')
// The bell on a way of its own, with its curves; taken back afterwards.
await element('Diving bell').click()
await page.getByRole('button', { name: 'Place: move, turn, scale' }).click()
await page.getByRole('button', { name: 'Pivot', exact: true }).waitFor()
const frame = page.getByRole('slider', { name: 'Frame', exact: true })
const goTo = async (tens) => {
  await frame.focus()
  await page.keyboard.press('Home')
  for (let i = 0; i < tens; i++) await page.keyboard.press('Shift+ArrowRight')
}
const keyframe = async (name) => {
  await page.getByRole('spinbutton', { name: `${name}, more` }).click()
  await page.getByRole('menuitem', { name: `Set a keyframe of ${name}` }).click()
}
const set = async (name, value) => {
  await page.getByRole('spinbutton', { name, exact: true }).click()
  await page.getByRole('textbox', { name, exact: true }).fill(value)
  await page.keyboard.press('Enter')
}
await goTo(0)
await keyframe('Across')
await keyframe('Rotation')
await goTo(2)
await set('Across', '160')
await set('Rotation', '9')
await goTo(4)
await set('Across', '-60')
await set('Rotation', '-3')
await goTo(1)
await page.keyboard.press('j')
await page.waitForTimeout(4000)
await take('placing')
await page.keyboard.press('j')
for (let i = 0; i < 7; i++) {
  await page.getByRole('button', { name: 'Undo' }).click()
  await page.waitForTimeout(300)
}
// Three witnesses of the bell, read on every frame; taken back afterwards.
const region = async (x, y) => {
  const place = await page.getByRole('group', { name: 'Picture', exact: true }).boundingBox()
  const at = (across, down) => [
    place.x + ((x + across) / 1280) * place.width,
    place.y + ((y + down) / 720) * place.height,
  ]
  await page.keyboard.down('Shift')
  await page.mouse.move(...at(-14, -12))
  await page.mouse.down()
  await page.mouse.move(...at(0, 0))
  await page.mouse.move(...at(14, 12))
  await page.mouse.up()
  await page.keyboard.up('Shift')
  await page.waitForTimeout(600)
}
const evidence = page.getByRole('region', { name: 'Evidence' })
const witness = async (reference, adjusted, purpose) => {
  await element('Diving bell').click()
  await region(...reference)
  await region(...adjusted)
  await more.first().click()
  await page.getByRole('menuitem', { name: /^Ought to be matched by Diving bell/ }).click()
  if (purpose) {
    await page.getByRole('combobox', { name: 'Purpose' }).click()
    await page.getByRole('option', { name: purpose }).click()
  }
  await page.waitForTimeout(800)
}
await page.keyboard.press('Escape')
await goTo(0)
while ((await more.count()) > 0) {
  await more.first().click()
  await page.getByRole('menuitem', { name: 'Remove' }).click()
  await page.waitForTimeout(400)
}
// The lamp's head, tracked over the shot.
await page.keyboard.press('Shift+T')
const picturePlace = await page.getByRole('group', { name: 'Picture', exact: true }).boundingBox()
const lamp = [picturePlace.x + (262 / 1280) * picturePlace.width, picturePlace.y + (78 / 720) * picturePlace.height]
await page.mouse.click(...lamp)
await page.keyboard.press('Escape')
await page.getByRole('button', { name: 'Both ways' }).click()
await page.getByText('Known on all 48 frames.').waitFor({ timeout: 30_000 })
await page.mouse.move(...lamp)
for (let i = 0; i < 2; i++) {
  await page.mouse.wheel(0, -240)
  await page.waitForTimeout(100)
}
await goTo(1)
await page.waitForTimeout(4000)
await take('tracking')
await page.getByRole('button', { name: 'Remove this track' }).click()
await page.keyboard.press('0')
await goTo(0)
await witness([548, 520], [612, 512])
await witness([100, 470], [770, 440], 'Middle light')
await witness([905, 190], [640, 300], 'Middle light')
await page.getByRole('button', { name: 'Read every frame' }).click()
await page.getByText('Witnesses and checks, all frames read').waitFor({ timeout: 180_000 })
await evidence.getByRole('button', { name: /^Witness 1/ }).click()
await page.mouse.move(5, 400)
await page.waitForTimeout(2500)
await take('witnesses')
for (let i = 1; i <= 3; i++) {
  await evidence.getByRole('button', { name: new RegExp(`^Witness ${i}`) }).click()
  await page.getByRole('button', { name: 'Remove this witness' }).click()
  await page.waitForTimeout(500)
}
// The lens from a photographed grid, and the whole picture steadied by the lamp's track.
await page.getByRole('button', { name: /^. Sources/ }).click()
await page.getByRole('button', { name: 'Import …' }).click()
for (const folder of ['quay-010/', 'lens/']) {
  await page.getByRole('button', { name: folder }).click()
  await page.waitForTimeout(700)
}
await page.getByRole('dialog', { name: 'Import a source' }).getByText('quay-010_grid.exr').click()
await page.getByRole('dialog', { name: 'Import a source' }).getByRole('button', { name: 'Import', exact: true }).click()
await page.waitForTimeout(1500)
await page.getByRole('button', { name: /^. Sources/ }).click()
const shotWide = async (name, does) => {
  await page
    .getByRole('button', { name: new RegExp(`^${name}`) })
    .first()
    .click()
  await page.getByRole('button', { name: 'Add a treatment …' }).click()
  await page.getByRole('textbox', { name: 'What should it do?' }).fill(does)
  await page.keyboard.press('Enter')
  await page.waitForTimeout(500)
}
await shotWide('Glass', 'straight lines')
await page.getByRole('combobox', { name: 'Lines on' }).click()
await page.getByRole('option', { name: /grid/ }).click()
await page.getByRole('button', { name: 'Find lines' }).click()
await page.getByText(/^\d+ lines on this picture/).waitFor()
await page.getByRole('button', { name: 'Measure the lens' }).click()
await page.getByText(/^\d+ lines bow by/).waitFor()
await page.waitForTimeout(1000)
await take('lens')
await page.getByRole('button', { name: 'What is shown' }).click()
await page.getByRole('menuitem', { name: 'The composite' }).click()
// The bollard, outlined place by place; its edge is soft, and the bell is held out by it.
await page
  .getByRole('button', { name: /^Diving bell/ })
  .first()
  .click()
await page.keyboard.press('u')
const bollard = [
  ...[
    [0.411, 0.661],
    [0.465, 0.685],
    [0.47, 0.731],
    [0.458, 0.764],
    [0.467, 0.789],
    [0.45, 0.841],
  ],
  ...[
    [0.456, 0.934],
    [0.479, 0.96],
    [0.371, 0.955],
    [0.392, 0.93],
    [0.395, 0.847],
    [0.376, 0.82],
    [0.388, 0.768],
    [0.378, 0.706],
  ],
]
const place = await page.getByRole('group', { name: 'Picture', exact: true }).boundingBox()
for (const [x, y] of bollard) await page.mouse.click(place.x + x * place.width, place.y + y * place.height)
await page.keyboard.press('Enter')
await page.getByRole('button', { name: 'Pull to the edge' }).click()
await page.getByRole('button', { name: 'Accept' }).click()
await type('Outer', 6)
await page.waitForTimeout(1500)
await take('mattes')
// The barrel on the quay taken out: outlined, and filled from the wall beside it.
await element('Quay').click()
await page.keyboard.press('u')
const barrel = [
  [0.151, 0.56],
  [0.222, 0.56],
  [0.226, 0.765],
  [0.152, 0.775],
]
for (const [x, y] of barrel) {
  await page.keyboard.down('Shift')
  await page.mouse.click(place.x + x * place.width, place.y + y * place.height)
  await page.keyboard.up('Shift')
}
await page.keyboard.press('Enter')
await page.keyboard.press('Escape')
await type('Outer', 4)
await element('Quay').click()
await page.getByRole('button', { name: 'Add a treatment …' }).click()
await page.getByRole('textbox', { name: 'What should it do?' }).fill('clone')
await page.keyboard.press('Enter')
await type('Across', 125)
await page.waitForTimeout(1500)
await take('repair')
await browser.close()
