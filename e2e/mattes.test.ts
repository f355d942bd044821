import type { Page } from 'playwright-core'
import { outlineAt, seenOutline, trackAt, type DrawnMatte, type Shape, type Shot, type Track } from '../core/shot'
import { ask } from '../server/test/running-server'
import { screen, waitForPicture } from './driving/chromium'
import { card, drag, element, outlineRound } from './driving/screen'
import { beginAtQuay } from './driving/quay'

/** A matte is drawn, changed on frames, put on a track, and an element is held out by it; in a browser, beside another tab. */

const quay = beginAtQuay()
let page: Page
beforeAll(() => {
  page = quay.page
})

const { shotNow, onScreen } = quay
async function drawn(): Promise<{ shot: Shot; matte: DrawnMatte; shape: Shape }> {
  const shot = await shotNow()
  const matte = Object.values(shot.mattes.byId).find(({ kind }) => kind === 'drawn') as DrawnMatte
  const shapes = Object.values(matte.shapes.byId)
  return { shot, matte, shape: shapes[0] }
}
const handle = (name: string) => page.getByRole('button', { name, exact: true })

test('one stroke round something becomes a matte with few points, within a pixel of the stroke', async () => {
  const at = await onScreen()
  await outlineRound(page, at, { x: 330, y: 190, across: 60, down: 40 })
  await card(page).getByText('Matte 1').waitFor()
  const { shape } = await drawn()
  const outline = outlineAt(shape, 1001)
  expect(outline.length).toBeLessThan(12)
  for (const { x, y } of outline) {
    const away = Math.hypot((x - 330) / 60, (y - 190) / 40)
    expect(Math.abs(away - 1) * 40).toBeLessThan(1.5)
  }
})

test('a point dragged on another frame makes a keyframe there; undo takes it away', async () => {
  await page.getByRole('slider', { name: 'Frame', exact: true }).focus()
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Escape')
  const at = await onScreen()
  const { shape } = await drawn()
  const [first] = outlineAt(shape, 1006)
  const box = await handle('Point 1 of Shape 1').boundingBox()
  if (!box) throw new Error('The point is not there.')
  const to = at(first.x + 24, first.y)
  await drag(page, [box.x + box.width / 2, box.y + box.height / 2], [to[0] - 9, to[1]], to)
  const moved = (await drawn()).shape
  expect(Object.keys(moved.keyframes)).toEqual(['1001', '1006'])
  expect(outlineAt(moved, 1006)[0].x - first.x).toBeCloseTo(24, 0)
  expect(outlineAt(moved, 1001)[0].x).toBeCloseTo(first.x, 6)
  // Half-way in between.
  expect(outlineAt(moved, 1003)[0].x - first.x).toBeGreaterThan(6)
  await page.keyboard.press('Control+z')
  expect(Object.keys((await drawn()).shape.keyframes)).toEqual(['1001'])
  await page.keyboard.press('Control+Shift+z')
  expect(Object.keys((await drawn()).shape.keyframes)).toEqual(['1001', '1006'])
})

test('of a broken point one handle is moved by itself, of a smooth one the other stays in line', async () => {
  const first = async () => outlineAt((await drawn()).shape, 1006)[0]
  const pull = async (dx: number, dy: number) => {
    const box = await handle('Handle after point 1').boundingBox()
    if (!box) throw new Error('The handle is not there.')
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2]
    await drag(page, [x, y], [x + dx / 2, y + dy / 2], [x + dx, y + dy])
  }
  const before = await first()
  await handle('Point 1 of Shape 1').click()
  await handle('Broken').click()
  expect(await first()).toEqual(before)
  await pull(14, 18)
  const broken = await first()
  expect(broken.before).toEqual(before.before)
  expect(broken.after).not.toEqual(before.after)
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+z')
  await pull(14, 18)
  expect((await first()).before).not.toEqual(before.before)
  await page.keyboard.press('Control+z')
  expect(await first()).toEqual(before)
  await page.keyboard.press('Escape')
})

test('a press on the line puts a point there; Delete takes chosen points away again', async () => {
  const at = await onScreen()
  const { shape, matte, shot } = await drawn()
  const outline = seenOutline({ shot, matte, shape, frame: 1006 })
  const [a, b] = [outline[1], outline[2]]
  // The middle of a cubic.
  const x = (a.x + 3 * (a.x + a.after[0]) + 3 * (b.x + b.before[0]) + b.x) / 8
  const y = (a.y + 3 * (a.y + a.after[1]) + 3 * (b.y + b.before[1]) + b.y) / 8
  await page.keyboard.press('u')
  await page.mouse.click(...at(x, y))
  const count = Object.keys(shape.points.byId).length
  await handle(`Point ${count + 1} of Shape 1`).waitFor()
  expect(Object.keys((await drawn()).shape.points.byId)).toHaveLength(count + 1)
  await page.keyboard.press('Escape')
  await page.keyboard.press('Delete')
  await handle(`Point ${count + 1} of Shape 1`).waitFor({ state: 'detached' })
  expect(Object.keys((await drawn()).shape.points.byId)).toHaveLength(count)
})

test('points chosen in a frame are moved together, on all keyframes', async () => {
  const at = await onScreen()
  await card(page).getByRole('combobox', { name: 'Moving points changes' }).click()
  await page.getByRole('option', { name: 'all keyframes' }).click()
  const before = (await drawn()).shape
  await page.keyboard.press('Shift+U')
  await drag(page, at(240, 130), at(400, 200), at(460, 250))
  await drag(page, at(330, 190), at(335, 190), at(340, 196))
  const { shape } = await drawn()
  for (const frame of [1001, 1006])
    outlineAt(shape, frame).forEach(({ x, y }, i) => {
      expect(x - outlineAt(before, frame)[i].x).toBeCloseTo(10, 0)
      expect(y - outlineAt(before, frame)[i].y).toBeCloseTo(6, 0)
    })
  await page.keyboard.press('Escape')
})

test('beside another tab that moves another point, both moves stay; the undo of one leaves the other', async () => {
  const other = await quay.browser.newPage({ viewport: screen })
  await other.goto(page.url())
  await waitForPicture(other)
  const { shape, matte, shot } = await drawn()
  const ids = Object.values(shape.points.byId)
    .sort((a, b) => (a.rank < b.rank ? -1 : 1))
    .map(({ id }) => id)
  const id = page.url().split('/').at(-1) ?? ''
  const { body } = await ask<{ revision: number }>(quay.server, `/api/shots/${id}`)
  const place = { ...shape.keyframes[1001][ids[2]], x: 300, y: 260 }
  await ask(quay.server, `/api/shots/${id}/edits`, {
    id: '11111111-2222-4333-8444-555555555555',
    baseRevision: body.revision,
    edit: { kind: 'set-shape-places', matte: matte.id, shape: shape.id, frames: { 1001: { [ids[2]]: place } } },
    tab: 'another',
  })
  const was = seenOutline({ shot, matte, shape, frame: 1006 })[0]
  const at = await onScreen()
  await card(page).getByRole('combobox', { name: 'Moving points changes' }).click()
  await page.getByRole('option', { name: 'this frame', exact: true }).click()
  await page.mouse.click(...at(was.x, was.y))
  await drag(page, at(was.x, was.y), at(was.x + 4, was.y), at(was.x + 8, was.y))
  const both = (await drawn()).shape
  expect(both.keyframes[1001][ids[2]]).toMatchObject({ x: 300, y: 260 })
  expect(both.keyframes[1006][ids[0]].x - shape.keyframes[1006][ids[0]].x).toBeCloseTo(8, 0)
  await page.keyboard.press('Control+z')
  const one = (await drawn()).shape
  expect(one.keyframes[1001][ids[2]]).toMatchObject({ x: 300, y: 260 })
  expect(one.keyframes[1006][ids[0]].x).toBeCloseTo(shape.keyframes[1006][ids[0]].x, 6)
  await other.close()
})

test('an element is held out by it, as a person finds it: by what it should do', async () => {
  await element(page, 'Diving bell').click()
  await page.getByRole('button', { name: 'Add a treatment …' }).click()
  await page.getByRole('textbox', { name: 'What should it do?' }).fill('in front')
  await page.keyboard.press('Enter')
  await handle('Open Matte 1').waitFor()
  const shot = await shotNow()
  const use = Object.values(shot.uses.byId).find(({ treatment }) => shot.treatments.byId[treatment].kind === 'holdout')
  expect(use?.limit?.matte).toEqual({ kind: 'matte', matte: Object.keys(shot.mattes.byId)[0] })
  await handle('Open Matte 1').click()
  await card(page).getByText('Used by Diving bell.').waitFor()
})

test('a stroke of the brush makes a painted matte; erased strokes and undo are steps of their own', async () => {
  await element(page, 'Diving bell').click()
  await page.keyboard.press('Alt+u')
  const at = await onScreen()
  await drag(page, at(100, 100), at(140, 110), at(200, 100))
  await card(page).getByText('1 stroke. Undo takes the last one away.').waitFor()
  await page.getByRole('combobox', { name: 'The brush' }).click()
  await page.getByRole('option', { name: 'erases' }).click()
  await drag(page, at(150, 90), at(150, 130))
  await card(page)
    .getByText(/^2 strokes/)
    .waitFor()
  const painted = Object.values((await shotNow()).mattes.byId).find(({ kind }) => kind === 'painted')
  const strokes = painted?.kind === 'painted' ? Object.values(painted.strokes.byId) : []
  expect(strokes.map(({ how }) => how).sort()).toEqual(['add', 'subtract'])
  const added = strokes.find(({ how }) => how === 'add')
  expect(added?.points[0]).toBeCloseTo(100, 0)
  expect(added?.points.at(-2)).toBeCloseTo(200, 0)
  await page.keyboard.press('Control+z')
  await card(page)
    .getByText(/^1 stroke\./)
    .waitFor()
  await page.keyboard.press('Escape')
})

test('a matte of a channel is of the one that is chosen; a keyed one of the plate’s brightness is seen alone', async () => {
  await page.getByRole('button', { name: /^▸ Sources/ }).click()
  await page.getByRole('button', { name: 'Made of …' }).click()
  await page.getByRole('menuitem', { name: 'A channel of Bollard and rope matte' }).click()
  await card(page).getByRole('combobox', { name: 'The channel' }).click()
  await page.getByRole('option', { name: 'Bollard and rope matte, Y' }).click()
  const channel = Object.values((await shotNow()).mattes.byId).find(({ kind }) => kind === 'channel')
  expect(channel).toMatchObject({ source: 'front', part: null, channel: 'Y' })
  await page.getByRole('button', { name: /^▸ Sources/ }).click()
  await page.getByRole('button', { name: 'Made of …' }).click()
  await page.getByRole('menuitem', { name: 'The brightness of the plate' }).click()
  await card(page).getByText('Key 1').waitFor()
  await card(page).getByRole('checkbox', { name: 'See it alone' }).check()
  await page.getByRole('group', { name: 'View sentence' }).getByText('The matte alone').waitFor()
  await card(page).getByRole('checkbox', { name: 'See it alone' }).uncheck()
})

test('an outline is carried along the picture’s edge over all frames, as a proposal with few keyframes', async () => {
  const at = await onScreen()
  await page.getByRole('slider', { name: 'Frame', exact: true }).focus()
  await page.keyboard.press('Home')
  await element(page, 'Diving bell').click()
  await page.keyboard.press('u')
  const bollard = [
    ...[
      [0.411, 0.661],
      [0.465, 0.685],
      [0.47, 0.731],
      [0.458, 0.764],
      [0.467, 0.789],
      [0.45, 0.841],
      [0.456, 0.934],
    ],
    ...[
      [0.479, 0.96],
      [0.371, 0.955],
      [0.392, 0.93],
      [0.395, 0.847],
      [0.376, 0.82],
      [0.388, 0.768],
      [0.378, 0.706],
    ],
  ]
  for (const [x, y] of bollard) await page.mouse.click(...at(640 * x, 360 * y))
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Carry along' }).click()
  const said = card(page).getByText(/^Carried along 6 frames, by (one keyframe|\d keyframes)\./)
  await said.waitFor({ timeout: 30_000 })
  const shapeNow = async () => {
    const drawnOnes = Object.values((await shotNow()).mattes.byId).filter((one) => one.kind === 'drawn')
    return Object.values((drawnOnes.at(-1) as DrawnMatte).shapes.byId)[0]
  }
  // Seen, not done.
  expect(Object.keys((await shapeNow()).keyframes)).toEqual(['1001'])
  await page.getByRole('button', { name: 'Accept' }).click()
  const frames = Object.keys((await shapeNow()).keyframes).map(Number)
  expect([frames[0], frames.at(-1)]).toEqual([1001, 1006])
  await page.keyboard.press('Control+z')
  expect(Object.keys((await shapeNow()).keyframes)).toEqual(['1001'])
})

test('held still on a track, an outline is drawn as if it stood, and lies where that has gone', async () => {
  await page.keyboard.press('Escape')
  const frames = page.getByRole('slider', { name: 'Frame', exact: true })
  await frames.focus()
  await page.keyboard.press('Home')
  const at = await onScreen()
  await page.keyboard.press('Shift+T')
  await page.mouse.click(...at(131, 39))
  await page.keyboard.press('Escape')
  await card(page).getByRole('heading', { name: 'Track 1' }).waitFor()
  await page.getByRole('button', { name: 'Both ways' }).click()
  await card(page).getByText('Known on all 6 frames.').waitFor({ timeout: 30_000 })
  await card(page).getByRole('checkbox', { name: 'Hold the picture still on it' }).check()
  await page.getByText('held still on Track 1').waitFor()
  await frames.focus()
  await page.keyboard.press('End')
  const track = Object.values((await shotNow()).tracks.byId).find(({ name }) => name === 'Track 1') as Track
  const [from, to] = [1001, 1006].map((time) => trackAt(track, time))
  expect(Math.hypot(to[0] - from[0], to[1] - from[1])).toBeGreaterThan(0.3)
  await element(page, 'Diving bell').click()
  await page.keyboard.press('u')
  const pressed: readonly (readonly [number, number])[] = [
    [200, 100],
    [280, 110],
    [230, 170],
  ]
  for (const [x, y] of pressed) await page.mouse.click(...at(x, y))
  await page.keyboard.press('Enter')
  await card(page)
    .getByRole('heading', { name: /^Matte / })
    .waitFor()
  const shot = await shotNow()
  const matte = Object.values(shot.mattes.byId).findLast(({ kind }) => kind === 'drawn') as DrawnMatte
  const [shape] = Object.values(matte.shapes.byId)
  const outline = seenOutline({ shot, matte, shape, frame: 1006 })
  outline.forEach(({ x, y }, i) => {
    expect(Math.abs(x - pressed[i][0] - (to[0] - from[0]))).toBeLessThan(0.6)
    expect(Math.abs(y - pressed[i][1] - (to[1] - from[1]))).toBeLessThan(0.6)
  })
  await page.keyboard.press('Escape')
  await page.keyboard.press('z')
  await page.getByText('held still on Track 1').waitFor({ state: 'detached' })
})

test('where elements pass is looked for on every frame, and told of the outline', async () => {
  await card(page).getByRole('checkbox', { name: 'Where elements pass' }).check()
  await card(page)
    .getByText(/^(Elements come to|No element comes near) Shape 1/)
    .waitFor({ timeout: 60_000 })
  await page.getByRole('img', { name: 'Where elements pass' }).waitFor()
  await card(page).getByRole('checkbox', { name: 'Where elements pass' }).uncheck()
  await page.getByRole('img', { name: 'Where elements pass' }).waitFor({ state: 'detached' })
})
