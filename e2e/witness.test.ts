import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Browser, Page } from 'playwright-core'
import { halfToFloat } from '../core/image/half'
import type { Sample, Shot } from '../core/shot'
import type { ShotReadings } from '../core/witnesses'
import { bytesSource, readExr } from '../formats/exr'
import { unpacking } from '../server/media/exr-blocks'
import { ask, DataFolder, newDatabase, runServer, type RunningServer } from '../server/test/running-server'
import { launch, screen, waitForPicture } from './driving/chromium'
import { deskAt, type Desk } from './driving/desk'
import { card, controlClick, element, picture } from './driving/screen'

/** A pair that ought to agree: made of two samples, read, judged; veil and gain proposed from it, used, and taken back. */

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
  await element(page, 'Diving bell').click()
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
const veilNow = async () => {
  const { treatments, uses, elements } = await shotNow()
  const bell = Object.values(elements.byId).find(({ name }) => name === 'Diving bell')
  const use = Object.values(uses.byId).find(
    ({ owner, treatment }) =>
      owner.kind === 'element' && owner.id === bell?.id && treatments.byId[treatment].kind === 'veil-and-gain',
  )
  return treatments.byId[use?.treatment ?? ''].parameters.veil as readonly number[]
}
const evidence = () => page.getByRole('region', { name: 'Evidence' })
/** A place of the frame, of 640 by 360, as a share of it. */
async function sampleAt(x: number, y: number): Promise<void> {
  const place = await picture(page).boundingBox()
  if (!place) throw new Error('no picture')
  await controlClick(page, place.x + x * place.width, place.y + y * place.height)
  await desk.saved()
}

/** A region of 24 by 20 pixels of the small frame about a place. */
async function regionAt(x: number, y: number): Promise<void> {
  const place = await picture(page).boundingBox()
  if (!place) throw new Error('no picture')
  const at = (across: number, down: number) =>
    [place.x + (x + across / 640) * place.width, place.y + (y + down / 360) * place.height] as const
  await page.keyboard.down('Shift')
  await page.mouse.move(...at(-12, -10))
  await page.mouse.down()
  await page.mouse.move(...at(0, 0))
  await page.mouse.move(...at(12, 10))
  await page.mouse.up()
  await page.keyboard.up('Shift')
  await desk.saved()
}

/** The middle of the darkest region of that size which is covered, as shares of the frame, on frame 1001. */
async function darkest(folder: string, part?: string): Promise<[number, number]> {
  const path = join(folder, readdirSync(folder).find((name) => name.includes('1001')) ?? '')
  const file = await readExr(bytesSource(new Uint8Array(readFileSync(path)), path), { ...unpacking, part })
  const { x: left, y: top, width, height } = file.dataWindow
  const plane = (name: string) => file.planes.find((one) => one.name === name)?.samples
  const [green, alpha] = [plane('G'), plane('A')]
  if (!green) throw new Error('no light')
  const value = (samples: NonNullable<typeof green>, x: number, y: number) =>
    halfToFloat(samples[(y - top) * width + x - left])
  let found: [number, number] = [0, 0]
  let least = Infinity
  for (let y = Math.max(0, top) + 12; y < Math.min(360, top + height) - 12; y += 4)
    for (let x = Math.max(0, left) + 14; x < Math.min(640, left + width) - 14; x += 4) {
      let [sum, covered] = [0, true]
      for (let j = -12; j <= 12 && covered; j++)
        for (let i = -14; i <= 14; i++) {
          sum += value(green, x + i, y + j)
          covered &&= !alpha || value(alpha, x + i, y + j) > 0.999
        }
      if (covered && sum < least) [found, least] = [[x / 640, y / 360], sum]
    }
  return found
}

/** Of the plate on frame 1001, red, green, blue. */
async function meanOf({ x, y, width, height }: Sample): Promise<number[]> {
  const folder = join(data.shot, 'plate')
  const path = join(folder, readdirSync(folder).find((name) => name.includes('1001')) ?? '')
  const { dataWindow, planes } = await readExr(bytesSource(new Uint8Array(readFileSync(path)), path), unpacking)
  return ['R', 'G', 'B'].map((channel) => {
    const samples = planes.find(({ name }) => name === channel)?.samples
    if (!samples) throw new Error('no light')
    let sum = 0
    for (let j = y - dataWindow.y; j < y - dataWindow.y + height; j++)
      for (let i = x - dataWindow.x; i < x - dataWindow.x + width; i++)
        sum += halfToFloat(samples[j * dataWindow.width + i])
    return sum / (width * height)
  })
}

test('two samples become a witness in one step; it is read and drifts, since the bell is too black', async () => {
  await regionAt(...(await darkest(join(data.shot, 'plate'))))
  await regionAt(...(await darkest(join(data.shot, 'cg'), 'beauty')))
  await page.getByRole('button', { name: 'More of sample 1' }).click()
  await page.getByRole('menuitem', { name: 'Ought to be matched by Diving bell at 2' }).click()
  await evidence().getByRole('button', { name: 'Witness 1: Drifts.' }).waitFor()
  const shot = await shotNow()
  const [witness] = Object.values(shot.witnesses.byId)
  expect(witness).toMatchObject({ name: '1', purpose: 'black' })
  expect(Object.keys(shot.samples.byId)).toHaveLength(0)
  await card(page).getByRole('heading', { name: 'Witness 1' }).waitFor()
})

test('from a dark pair the veil is proposed, with what would make it surer; used, the witness agrees', async () => {
  const proposal = card(page).getByRole('group', { name: 'Proposal for Diving bell' })
  await proposal.getByText('add a pair in the light').waitFor()
  const before = await veilNow()
  await proposal.getByRole('button', { name: 'Use the veil' }).click()
  await evidence().getByRole('button', { name: 'Witness 1: Agrees.' }).waitFor()
  const after = await veilNow()
  expect(after.every((value, c) => value > before[c])).toBe(true)
  // What was there is kept as a try, and one undo takes all of it back.
  const kept = Object.values((await shotNow()).treatments.byId).flatMap(({ tries }) => Object.values(tries?.byId ?? {}))
  expect(kept.map(({ name }) => name)).toContain('before the proposal')
  await page.getByRole('button', { name: 'Undo' }).click()
  await evidence().getByRole('button', { name: 'Witness 1: Drifts.' }).waitFor()
  expect(await veilNow()).toEqual(before)
})

test('a pair in the dark tells no exposure, white or saturation, and that is said', async () => {
  await card(page).getByRole('button', { name: 'Exposure, colour, curves …' }).click()
  const numbers = card(page).getByRole('group', { name: 'One number for Diving bell' })
  await numbers.getByText('needs a witness in the light').nth(2).waitFor()
  await card(page).getByRole('button', { name: 'Hide exposure, colour, curves' }).click()
  await numbers.waitFor({ state: 'detached' })
})

test('read on every frame as work, the row tells where it drifts; after a change it is read again, and only that', async () => {
  const row = page.getByRole('list', { name: 'Verdicts over the frames' }).getByRole('listitem')
  await page.getByRole('button', { name: 'Read every frame' }).click()
  await page.getByText('Witnesses and checks, all frames read').waitFor()
  await row.and(page.getByLabel(/^1, [1-6] drift, worst 100[1-6]$/)).waitFor()
  const first = (await ask<ShotReadings>(server, `/api/shots/${id}/readings`)).body
  expect([first.progress.witnesses, Object.keys(first.frames)]).toEqual([
    { done: 6, total: 6 },
    ['1001', '1002', '1003', '1004', '1005', '1006'],
  ])
  // The tolerance is no part of a reading.
  await desk.setNumber('Tolerance', '0.4')
  await row.and(page.getByLabel(/^1$/)).waitFor()
  await page.getByText('Witnesses and checks, all frames read').waitFor()
  await page.getByRole('button', { name: 'Undo' }).click()
  await row.and(page.getByLabel(/^1, [1-6] drift/)).waitFor()
  // An element that the witness does not see may change as it likes.
  await element(page, 'Bollard').click()
  await desk.setNumber('Opacity', '0.5')
  // The checks see the whole picture, the witness does not.
  await page.getByText('Witnesses and checks: 6 frames are wanting').waitFor()
  expect(await page.getByRole('button', { name: /^1 stale on/ }).count()).toBe(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await page.getByText('Witnesses and checks, all frames read').waitFor()
  await element(page, 'Diving bell').click()
  await desk.setNumber('Opacity', '0.9')
  await page.getByRole('button', { name: 'Read every frame' }).waitFor()
  await page.getByRole('button', { name: 'Undo' }).click()
  await page.getByText('Witnesses and checks, all frames read').waitFor()
  await evidence()
    .getByRole('button', { name: /^Witness 1/ })
    .click()
})

test('from all frames together keyframes are proposed where no one veil holds; used, it is one step beside a try', async () => {
  const before = await veilNow()
  const proposal = card(page).getByRole('group', { name: 'Proposal for Diving bell over the shot' })
  await proposal.getByText('From 6 frames together').waitFor()
  // The bell swings away from under the region, which follows nothing yet.
  await proposal.getByText(/^No one veil holds for all of them: \d keyframes follow it, with one gain\.$/).waitFor()
  await proposal.getByRole('button', { name: 'Use for the shot' }).click()
  await evidence().getByRole('button', { name: 'Witness 1: Agrees.' }).waitFor()
  const after: readonly unknown[] = await veilNow()
  expect(after.every((curve) => typeof curve === 'object')).toBe(true)
  await page.getByRole('button', { name: 'Undo' }).click()
  await evidence().getByRole('button', { name: 'Witness 1: Drifts.' }).waitFor()
  expect(await veilNow()).toEqual(before)
  await page.getByText('Witnesses and checks, all frames read').waitFor()
})

test('the element’s side follows the element, and stays where it is seen when it is let go', async () => {
  const moves = card(page).getByRole('group', { name: 'What moves' })
  const drawn = (await shotNow()).witnesses.byId
  const [{ id: own, adjusted }] = Object.values(drawn)
  await desk.goTo(1001)
  await evidence()
    .getByRole('button', { name: /^Witness 1/ })
    .click()
  const side = moves.getByRole('combobox', { name: 'Element’s side' })
  await side.click()
  await page.getByRole('option', { name: 'follows the element' }).click()
  await side.getByText('follows the element (1001)').waitFor()
  expect((await shotNow()).witnesses.byId[own].adjusted).toEqual({ ...adjusted, follows: 1001 })
  await desk.goTo(1006)
  // The bell has come down by then.
  await page.waitForTimeout(1500)
  await side.click()
  await page.getByRole('option', { name: 'stays where it is' }).click()
  const letGo = (await shotNow()).witnesses.byId[own].adjusted
  expect(letGo.follows).toBeUndefined()
  expect(letGo.y).toBeGreaterThan(adjusted.y)
  for (let i = 0; i < 2; i++) {
    await page.getByRole('button', { name: 'Undo' }).click()
    await desk.saved()
  }
  expect((await shotNow()).witnesses.byId[own].adjusted).toEqual(adjusted)
  await desk.goTo(1001)
})

test('a tolerance of its own counts; another tab hears of it', async () => {
  const other = await browser.newPage({ viewport: screen })
  await other.goto(page.url())
  await waitForPicture(other)
  await other.getByRole('region', { name: 'Evidence' }).getByRole('button', { name: 'Witness 1: Drifts.' }).waitFor()
  await desk.setNumber('Tolerance', '0.5')
  await evidence().getByRole('button', { name: 'Witness 1: Agrees.' }).waitFor()
  await other.getByRole('region', { name: 'Evidence' }).getByRole('button', { name: 'Witness 1: Agrees.' }).waitFor()
  await other.close()
})

test('on ground that the element does not cover it is not judged, with the reason; removed, it is gone', async () => {
  await element(page, 'Diving bell').click()
  await sampleAt(0.1, 0.8)
  await sampleAt(0.9, 0.9)
  await page.getByRole('button', { name: 'More of sample 1' }).click()
  await page.getByRole('menuitem', { name: /at 2$/ }).click()
  await evidence().getByRole('button', { name: 'Witness 2: Not judged yet: the element is not there.' }).waitFor()
  // Its making taken back, the card is the element's again; made again, it stands in the evidence.
  await page.getByRole('button', { name: 'Undo' }).click()
  await card(page).getByRole('heading', { name: 'Diving bell' }).waitFor()
  await page.getByRole('button', { name: 'Redo' }).click()
  await evidence()
    .getByRole('button', { name: /^Witness 2/ })
    .click()
  await card(page).getByRole('button', { name: 'Remove this witness' }).click()
  await evidence()
    .getByRole('button', { name: /^Witness 2/ })
    .waitFor({ state: 'detached' })
  await card(page).getByRole('heading', { name: 'Diving bell' }).waitFor()
})

test('a shadow takes its ratio from the plate’s own, by two samples on the same ground', async () => {
  await element(page, 'Bell shadow').click()
  const before = await shotNow()
  await card(page).getByRole('button', { name: 'By the plate’s own shadow …' }).click()
  await card(page).getByText('Keep two samples first').waitFor()
  const [light, dark] = [
    [0.75, 0.7],
    [0.25, 0.85],
  ] as const
  await regionAt(...light)
  await regionAt(...dark)
  const choose = async (label: string, name: string) => {
    await card(page).getByRole('combobox', { name: label }).click()
    await page.getByRole('option', { name, exact: true }).click()
  }
  const samples = Object.values((await shotNow()).samples.byId)
  const [lit, shadowed] = await Promise.all(samples.map((one) => meanOf(one)))
  await choose('Ground in the light', samples[0].name)
  await choose('The same ground in shadow', samples[1].name)
  await card(page).getByRole('button', { name: 'Use the ratio' }).click()
  const found = Object.values((await shotNow()).elements.byId).find(({ name }) => name === 'Bell shadow')
  const veil = found?.blend.parameters.veil as readonly number[]
  const ratio = found?.blend.parameters.ratio as readonly number[]
  for (let c = 0; c < 3; c++) expect(ratio[c]).toBeCloseTo(Math.min(1, (shadowed[c] - veil[c]) / (lit[c] - veil[c])), 3)
  for (let i = 0; i < 3; i++) {
    await page.getByRole('button', { name: 'Undo' }).click()
    await desk.saved()
  }
  expect((await shotNow()).elements).toEqual(before.elements)
})
