import { randomUUID } from 'node:crypto'
import type { Browser, Page } from 'playwright-core'
import type { Shot } from '../core/shot'
import { checkNames } from '../core/witnesses'
import { ask, DataFolder, newDatabase, runServer, type RunningServer } from '../server/test/running-server'
import { launch, screen, waitForPicture } from './driving/chromium'
import { deskAt, type Desk } from './driving/desk'
import { card, element } from './driving/screen'

/** The whole shot matched by ball and chart: looked at, used as one step, compared with what was before, taken back. */

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
const gainOf = (shot: Shot) => shot.treatments.byId.match.parameters.gain as readonly number[]
/** An edit of another tab. */
async function sent(own: string, edit: object): Promise<void> {
  const { revision } = (await ask<{ revision: number }>(server, `/api/shots/${id}`)).body
  const { status, body } = await ask(server, `/api/shots/${id}/edits`, {
    id: own,
    baseRevision: revision,
    tab: 'other',
    edit,
  })
  if (status !== 200) throw new Error(JSON.stringify(body))
}
const using = () => page.getByRole('group', { name: 'Use what was found' })

test('what was shot for reference is named; matching changes nothing by itself', async () => {
  await page.getByRole('button', { name: 'Match', exact: true }).click()
  await page.getByRole('group', { name: 'Shot for reference' }).getByText('Colour chart').waitFor()
  const before = await shotNow()
  await page.getByRole('button', { name: 'Match all' }).click()
  await using().waitFor()
  const bell = page.getByRole('group', { name: 'Found for Diving bell' })
  for (const name of ['Softness, px', 'Veil', 'Gain']) await bell.getByRole('group', { name, exact: true }).waitFor()
  await page
    .getByText(/Not sure, from Grey ball and Colour chart. Shoot for more frames, or something as tall as the element/)
    .waitFor()
  expect(await shotNow()).toEqual(before)
})

test('what is sure is used in one step beside a try, and its witnesses agree on the photographs', async () => {
  await using().getByRole('button', { name: 'Use what is sure' }).click()
  await using().getByText('Used. What was before is kept as a try.').waitFor()
  const shot = await shotNow()
  expect(gainOf(shot)[0]).toBeGreaterThan(1.2)
  expect(shot.elements.byId.shadow.blend.parameters.ratio).toEqual([0.4, 0.4, 0.4])
  expect(Object.values(shot.tries.byId).map(({ name }) => name)).toEqual(['before matching'])
  await page.getByRole('button', { name: 'Read every frame' }).click()
  await page.getByText('Witnesses and checks, all frames read').waitFor()
  const rows = page.getByRole('list', { name: 'Verdicts over the frames' }).getByRole('listitem')
  // The bell alone stands over the plate, and nothing of it is keyed: every other check has one row.
  expect(await rows.count()).toBe(Object.keys(shot.witnesses.byId).length + checkNames.length - 1)
  // None of them drifts: the object is the same on both sides.
  expect(await rows.filter({ hasText: 'drift' }).count()).toBe(0)
  const evidence = page.getByRole('region', { name: 'Evidence' })
  await evidence.getByRole('button', { name: /^Witness Colour chart 1: (Agrees|Not judged)/ }).waitFor()
})

test('matched, no other exposure, white or saturation is proposed; used, one is added and taken back', async () => {
  await page.getByRole('button', { name: 'Close', exact: true }).click()
  const evidence = page.getByRole('region', { name: 'Evidence' })
  await evidence.getByRole('button', { name: /^Witness Colour chart 1: / }).click()
  await card(page).getByRole('button', { name: 'Exposure, colour, curves …' }).click()
  const numbers = card(page).getByRole('group', { name: 'One number for Diving bell' })
  const found = async (label: string, pattern: RegExp) => {
    const text = await numbers.getByRole('group', { name: label }).getByText(pattern).textContent()
    return Number(pattern.exec(text ?? '')?.[1])
  }
  expect(Math.abs(await found('Exposure', /^([+-]?\d\.\d\d) stops$/))).toBeLessThan(0.1)
  expect(Math.abs((await found('As lit by', /^(\d+) K$/)) - 6500)).toBeLessThan(500)
  expect(Math.abs((await found('Saturation', /^(\d\.\d{3}) ×$/)) - 1)).toBeLessThan(0.1)
  expect(await found('Tint', /^(\d\.\d{3}) ×$/)).toBeLessThanOrEqual(1)
  expect(Math.abs((await found('Plate lit by', /^(\d+) K$/)) - 6500)).toBeLessThan(500)
  expect(await found('Curves', /^from (\d+)$/)).toBeGreaterThanOrEqual(6)
  const before = await shotNow()
  await numbers.getByRole('button', { name: 'Use the saturation' }).click()
  const added = Object.values((await shotNow()).treatments.byId).filter(({ kind }) => kind === 'saturation')
  expect(added).toHaveLength(1)
  await page.getByRole('button', { name: 'Undo' }).click()
  expect(await shotNow()).toEqual(before)
  // The plate's own, instead of the element's.
  await numbers.getByRole('button', { name: 'Use the white balance of the plate' }).click()
  const balanced = await shotNow()
  const [balance] = Object.values(balanced.treatments.byId).filter(({ kind }) => kind === 'white-balance')
  const [use] = Object.values(balanced.uses.byId).filter(({ treatment }) => treatment === balance.id)
  expect(use.owner).toEqual({ kind: 'element', id: before.plate })
  await page.getByRole('button', { name: 'Undo' }).click()
  expect(await shotNow()).toEqual(before)
  // A tint comes with the plate's colours, curves with their points, each in one edit.
  for (const [name, kind] of [
    ['tint', 'tint'],
    ['curves', 'curves'],
  ]) {
    await numbers.getByRole('button', { name: `Use the ${name}` }).click()
    const [own] = Object.values((await shotNow()).treatments.byId).filter((one) => one.kind === kind)
    expect(Object.keys(own.points?.byId ?? {}).length).toBeGreaterThan(kind === 'curves' ? 8 : 0)
    await page.getByRole('button', { name: 'Undo' }).click()
    expect(await shotNow()).toEqual(before)
  }
})

test('asked for, a gamma is found together with veil and gain; all three are used in one step and taken back', async () => {
  const before = await shotNow()
  const both = card(page).getByRole('button', { name: 'Use both' })
  await both.waitFor()
  await card(page).getByLabel('Gamma as well').check()
  await card(page).getByRole('button', { name: 'Use all three' }).click()
  const { gamma, gain } = (await shotNow()).treatments.byId.match.parameters as Record<string, number[]>
  // Ball and chart were rendered as light goes: no gamma is needed.
  for (const value of gamma) expect(Math.abs(value - 1)).toBeLessThan(0.15)
  expect(gamma).not.toEqual([1, 1, 1])
  expect(gain).not.toEqual(before.treatments.byId.match.parameters.gain)
  await page.getByRole('button', { name: 'Undo' }).click()
  expect(await shotNow()).toEqual(before)
  await card(page).getByLabel('Gamma as well').uncheck()
  await both.waitFor()
})

test('black that steps on one frame is found by its check, whose click goes there and shows the element', async () => {
  const { treatments } = await shotNow()
  const veil = treatments.byId.match.parameters.veil as readonly number[]
  const at = { owner: { kind: 'treatment', id: 'match' }, parameter: 'veil' }
  const curves = veil.map((value, channel) => {
    const [sound, lifted] = [value, value + 0.006].map((one) => ({ value: one, to: 'level' }))
    return { at: { ...at, channel }, keyframes: { 1001: sound, 1004: lifted, 1005: sound } }
  })
  await sent('black-steps', { kind: 'set-keyframes', curves })
  await page.getByRole('button', { name: 'Read every frame' }).click()
  await page.getByText('Witnesses and checks, all frames read').waitFor()
  const rows = page.getByRole('list', { name: 'Verdicts over the frames' })
  await rows.getByRole('listitem', { name: 'Black of Diving bell, 1 drift, worst 1004' }).waitFor()
  // The photographs are read with what is set on their frames: those witnesses drift there as well.
  const isFirst = (label: RegExp) => rows.getByRole('listitem').first().and(page.getByLabel(label)).waitFor()
  const isLast = (label: RegExp) => rows.getByRole('listitem').last().and(page.getByLabel(label)).waitFor()
  // The keyframes that make it step are named as well.
  await isLast(/^Keyframes of Diving bell, 1 drift, worst 1004$/)
  await page.getByRole('button', { name: 'Worst first' }).click()
  await isFirst(/1 drift/)
  await isLast(/^Repeated frames of Diving bell$/)
  await page.getByRole('button', { name: 'In their places' }).click()
  await element(page, 'Quay').click()
  await rows.getByRole('button', { name: 'Black of Diving bell drifts on 1004' }).click()
  await card(page).getByRole('heading', { name: 'Diving bell' }).waitFor()
  await page.getByText('frame 1004').waitFor()
  await sent('no-black-steps', { kind: 'undo', edit: 'black-steps' })
  await page.getByRole('button', { name: 'Match', exact: true }).click()
})

test('the rest can be used too; used again, nothing is left to do', async () => {
  await using().getByRole('button', { name: 'Use all' }).click()
  const shot = await shotNow()
  expect(shot.elements.byId.shadow.blend.parameters.ratio).not.toEqual([0.4, 0.4, 0.4])
  await using().getByRole('button', { name: 'Use what is sure' }).click()
  await using().getByText('Everything of it is used or set already.').waitFor()
})

test('it is taken back as one step', async () => {
  for (let i = 0; i < 2; i++) {
    await page.getByRole('button', { name: 'Undo' }).click()
    await desk.saved()
  }
  const shot = await shotNow()
  expect(gainOf(shot)).toEqual([1, 1, 1])
  expect(shot.witnesses.byId).toEqual({})
  expect(shot.tries.byId).toEqual({})
})

test('a ball that is told of by hand is known, and removed again', async () => {
  const shown = page.getByRole('group', { name: 'Shot for reference' })
  await shown.getByRole('button', { name: 'Remove reference object Grey ball' }).click()
  await shown.getByText('Grey ball', { exact: true }).waitFor({ state: 'detached' })
  await shown.getByRole('button', { name: 'Add a ball or chart' }).click()
  await shown.getByLabel('Name').fill('Ball')
  for (const [label, option] of [
    ['Photographed', 'Grey ball, photographed'],
    ['Its render', 'Grey ball, rendered'],
    ['In place of the render', 'Bell render'],
  ]) {
    await shown.getByLabel(label, { exact: true }).click()
    await page.getByRole('option', { name: option, exact: true }).click()
  }
  await shown.getByRole('button', { name: 'Add', exact: true }).click()
  await shown.getByText('Ball', { exact: true }).waitFor()
  const objects = Object.values((await shotNow()).referenceObjects.byId)
  expect(objects.find(({ name }) => name === 'Ball')).toMatchObject({
    photographed: 'ball-plate',
    rendered: 'ball-render',
    insteadOf: 'bell',
  })
  await page.getByRole('button', { name: 'Close', exact: true }).click()
  await element(page, 'Diving bell').click()
  await card(page).getByRole('heading', { name: 'Diving bell' }).waitFor()
})

test('witnesses are suggested with reason and expected error; accepted, its side is dragged, and all is taken back', async () => {
  const before = await shotNow()
  await page.getByRole('button', { name: 'Match', exact: true }).click()
  await page.getByRole('button', { name: 'Suggest witnesses' }).click()
  const suggested = page.getByRole('group', { name: 'Suggested for Diving bell' })
  await suggested
    .getByText(/^Sharpness of an edge, ± 0\.\d\d px$/)
    .first()
    .waitFor()
  await suggested.getByRole('button', { name: 'Dismiss Edge 2' }).click()
  await suggested.getByRole('button', { name: 'Dismiss Edge 2' }).waitFor({ state: 'detached' })
  expect(await shotNow()).toEqual(before)
  await suggested.getByRole('button', { name: 'Accept Edge 1' }).click()
  const [added] = Object.values((await shotNow()).witnesses.byId).filter(
    ({ id: one }) => !(one in before.witnesses.byId),
  )
  expect(added).toMatchObject({ purpose: 'sharpness', element: 'bell', name: 'Edge 1' })
  const handle = page.getByRole('button', { name: 'Move the plate’s side' })
  const place = await handle.boundingBox()
  if (!place) throw new Error('no handle')
  const [x, y] = [place.x + place.width / 2, place.y + place.height / 2]
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x + 20, y + 10, { steps: 4 })
  await page.mouse.move(x + 40, y + 20, { steps: 4 })
  await page.mouse.up()
  const moved = (await shotNow()).witnesses.byId[added.id].reference
  expect(moved.x).toBeGreaterThan(added.reference.x + 20)
  expect(moved.width).toBe(added.reference.width)
  expect(moved.follows).toBe(added.reference.follows)
  for (let i = 0; i < 2; i++) {
    await page.getByRole('button', { name: 'Undo' }).click()
    await desk.saved()
  }
  expect(Object.keys((await shotNow()).witnesses.byId)).toEqual(Object.keys(before.witnesses.byId))
})

test('where nothing was shot for reference the gain is that of another shot, which is named', async () => {
  const copy = (await ask<{ id: string }>(server, `/api/shots/${id}/copies`, { name: 'quay-011' })).body.id
  const at = { owner: { kind: 'treatment', id: 'match' }, parameter: 'gain' }
  const set = await ask(server, `/api/shots/${copy}/edits`, {
    ...{ id: 'gain-there', baseRevision: 1, tab: 'other' },
    edit: { kind: 'set-channels', at, frame: 1001, values: [1.25, 1.1, 0.95] },
  })
  expect(set.status).toBe(200)
  // In another tab.
  for (const object of Object.keys((await shotNow()).referenceObjects.byId))
    await sent(`no-${object}`, { kind: 'remove-reference-object', referenceObject: object })
  await page.getByRole('button', { name: 'Match', exact: true }).click()
  const all = page.getByRole('button', { name: /^Match all/ })
  const bell = page.getByRole('group', { name: 'Found for Diving bell' })
  await all.click()
  await bell.getByText('Gain: left as it is, since no ball or chart was shot in its place').waitFor()
  await page.getByLabel('Gain from another shot').click()
  await page.getByRole('option', { name: 'quay-011' }).click()
  await all.click()
  const row = bell.getByRole('group', { name: 'Gain', exact: true })
  await row.getByText('Not sure, from Diving bell in quay-011. Shoot a grey ball and a chart in its place.').waitFor()
  await using().getByRole('button', { name: 'Use all' }).click()
  expect(gainOf(await shotNow())).toEqual([1.25, 1.1, 0.95])
  await page.getByRole('button', { name: 'Undo' }).click()
  expect(gainOf(await shotNow())).toEqual([1, 1, 1])
  const gone = await ask<{ message: string }>(server, `/api/shots/${id}/matching`, { gainFrom: randomUUID() })
  expect([gone.status, gone.body.message]).toEqual([
    404,
    'There is no such shot. Open the list of shots and choose one.',
  ])
})
