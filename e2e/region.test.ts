import type { Page } from 'playwright-core'
import { throughMatrix } from '../core/motion/mapping'
import { cornersOfRegion, placedMatrix, trackAt, type Track } from '../core/shot'
import { card, element, outlineRound, picture } from './driving/screen'
import { beginAtQuay } from './driving/quay'

/** A region of the plate is outlined, tracked as a whole, and an element is laid on it, in a browser; undone step by step. */

const quay = beginAtQuay()
let page: Page
beforeAll(() => {
  page = quay.page
})

const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' })
const { shotNow } = quay
const cornersNow = async (): Promise<readonly Track[]> => {
  const shot = await shotNow()
  const region = Object.values(shot.tracks.byId).find((one) => one.region && !one.region.by)?.region?.id
  return (region !== undefined && cornersOfRegion(shot, region)) || []
}

test('a box over the crates becomes a region, tracked in perspective on every frame as one step', async () => {
  await button(/^▸ Sources/).click()
  await button('Outline a region').click()
  const place = await picture(page).boundingBox()
  if (!place) throw new Error('There is no picture.')
  const zoom = place.width / 640
  const at = (x: number, y: number) => [place.x + x * zoom, place.y + y * zoom] as const
  await page.mouse.move(...at(20, 190))
  await page.mouse.down()
  await page.mouse.move(...at(60, 230))
  await page.mouse.move(...at(92, 280))
  await page.mouse.up()
  await card(page).getByText('Known on 1 of 6 frames').waitFor()
  await page.keyboard.press('Escape')
  await button('Both ways').click()
  await card(page).getByText('Known on all 6 frames.').waitFor({ timeout: 30_000 })
  const corners = await cornersNow()
  expect(corners.map(({ points }) => Object.keys(points).length)).toEqual([6, 6, 6, 6])
  // It is the camera that sways: all corners go nearly the same way.
  const ways = corners.map((one) => trackAt(one, 1006).map((value, axis) => value - trackAt(one, 1001)[axis]))
  for (const [x, y] of ways) {
    expect(Math.abs(x - ways[0][0])).toBeLessThan(0.6)
    expect(Math.abs(y - ways[0][1])).toBeLessThan(0.6)
  }
  await page.keyboard.press('Control+z')
  await card(page).getByText('Known on 1 of 6 frames').waitFor()
  await page.keyboard.press('Control+Shift+z')
  await card(page).getByText('Known on all 6 frames.').waitFor()
})

test('an element is pinned to it as a whole and laid on it: its corners lie on the region’s, on every frame', async () => {
  await element(page, 'Bell in wet stone').click()
  await button('Place: move, turn, scale').click()
  await page.getByRole('checkbox', { name: 'Region 1' }).check()
  await card(page)
    .getByText(/its far corners may slip by \d+\.\d+ px on frame 100\d/)
    .waitFor()
  await button('Lay it on region 1').click()
  const shot = await shotNow()
  const corners = await cornersNow()
  const laid = Object.values(shot.elements.byId).find(({ name }) => name === 'Bell in wet stone')
  const { x, y, width, height } = laid?.placing?.box ?? { x: 0, y: 0, width: 0, height: 0 }
  const box = [
    [x, y],
    [x + width, y],
    [x + width, y + height],
    [x, y + height],
  ] as const
  for (const frame of [1001, 1006])
    box.forEach(([bx, by], i) => {
      const matrix = placedMatrix(shot, laid?.id ?? '', frame)
      const [px, py] = throughMatrix(matrix as never, bx, by) as [number, number]
      const [tx, ty] = trackAt(corners[i], frame)
      expect(Math.hypot(px - tx, py - ty)).toBeLessThan(0.05)
    })
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+z')
  expect(Object.values((await shotNow()).elements.byId).some(({ placing }) => placing?.pin)).toBe(false)
})

test('the camera’s shake is measured by one press, and goes as the crates do', async () => {
  await button(/^▸ Sources|^▾ Sources/).click()
  await button('Measure the camera’s shake').click()
  await card(page).getByText('Known on all 6 frames.').waitFor({ timeout: 60_000 })
  await card(page)
    .getByText(/% of the points agree/)
    .waitFor({ state: 'detached' })
  await page.keyboard.press('ArrowRight')
  await card(page)
    .getByText(/\d+ % of the points agree/)
    .waitFor()
  const shot = await shotNow()
  const shake = Object.values(shot.tracks.byId).filter(({ region }) => region?.by === 'points')
  expect(shake.map(({ name }) => name)).toEqual([1, 2, 3, 4].map((n) => `Camera shake 1, corner ${n}`))
  const crates = await cornersNow()
  const went = (one: Track) => trackAt(one, 1006).map((value, axis) => value - trackAt(one, 1001)[axis])
  for (const one of shake)
    went(one).forEach((way, axis) => expect(Math.abs(way - went(crates[0])[axis])).toBeLessThan(0.6))
  await button('Rename').click()
  await page.keyboard.type('Sway')
  await page.keyboard.press('Enter')
  await page.getByRole('heading', { name: 'Sway' }).waitFor()
  expect(
    Object.values((await shotNow()).tracks.byId).filter(({ name }) => /^Sway, corner [1-4]$/.test(name)),
  ).toHaveLength(4)
  await page.keyboard.press('Control+z')
  // Adding it is one step, tracking it another.
  await page.keyboard.press('Control+z')
  await card(page).getByText('Known on 1 of 6 frames').waitFor()
  await page.keyboard.press('Control+Shift+z')
  await card(page).getByText('Known on all 6 frames.').waitFor()
  await button('Remove this camera shake').click()
  expect(Object.values((await shotNow()).tracks.byId).some(({ region }) => region?.by)).toBe(false)
})

test('what a matte covers is left out of it: chosen, it is tracked again without that, step by step undone', async () => {
  const region = page.getByRole('group', { name: 'Tracks' }).getByRole('button', { name: /^Region 1/ })
  await page.getByRole('region', { name: 'Sources' }).getByRole('button', { name: 'Close' }).click()
  await outlineRound(page, await quay.onScreen(), { x: 45, y: 215, across: 12, down: 14 })
  await card(page).getByText('Matte 1').waitFor()
  await page.keyboard.press('Escape')
  await button(/^▸ Sources|^▾ Sources/).click()
  await region.click()
  await page.getByRole('img', { name: 'Left out of the region' }).waitFor({ state: 'detached' })
  const before = await cornersNow()
  await page.getByRole('combobox', { name: 'Left out of it' }).click()
  await page.getByRole('option', { name: 'Matte 1' }).click()
  await page.getByRole('img', { name: 'Left out of the region' }).waitFor()
  await button('Both ways').click()
  await card(page).getByText('Known on all 6 frames.').waitFor({ timeout: 30_000 })
  const [after, shot] = [await cornersNow(), await shotNow()]
  const matte = Object.values(shot.mattes.byId).find(({ name }) => name === 'Matte 1')
  expect(after.map((one) => one.region?.leavesOut)).toEqual(Array(4).fill(matte?.id))
  // Most of it is left, so that it goes nearly the same way, and not to the last digit.
  after.forEach((one, i) => {
    const [x, y] = trackAt(one, 1006)
    const [bx, by] = trackAt(before[i], 1006)
    expect(Math.hypot(x - bx, y - by)).toBeLessThan(0.5)
    expect([x, y]).not.toEqual([bx, by])
  })
  await page
    .getByRole('group', { name: 'Mattes' })
    .getByRole('button', { name: /^Matte 1/ })
    .click()
  await card(page).getByText('Used by Region 1.').waitFor()
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+z')
  expect((await cornersNow()).map((one) => one.region?.leavesOut)).toEqual(Array(4).fill(undefined))
})

test('a region has a grid of squares on it, and a picture laid on it as it is keeps its shape', async () => {
  const region = page.getByRole('group', { name: 'Tracks' }).getByRole('button', { name: /^Region 1/ })
  await region.click()
  await card(page)
    .getByText(/perspective/)
    .first()
    .waitFor()
  await page.getByRole('checkbox', { name: 'Show a grid of squares on it' }).check()
  await page.getByRole('img', { name: 'Grid on the region' }).waitFor()
  expect((await cornersNow()).map((one) => one.region?.plane)).toEqual(Array(4).fill({ squares: 8 }))
  await page.getByRole('region', { name: 'Sources' }).getByRole('button', { name: 'Close' }).click()
  await element(page, 'Bell in wet stone').click()
  await button(/^Place: move, turn, scale|^▸ Place/).click()
  await page.getByRole('checkbox', { name: 'Region 1' }).check()
  await button('Lay it on region 1 as it is').click()
  const shot = await shotNow()
  const laid = Object.values(shot.elements.byId).find(({ name }) => name === 'Bell in wet stone')
  const { x, y, width, height } = laid?.placing?.box ?? { x: 0, y: 0, width: 0, height: 0 }
  const corners = await cornersNow()
  const [left, top] = throughMatrix(placedMatrix(shot, laid?.id ?? '', 1001) as never, x, y) as [number, number]
  const [right] = throughMatrix(placedMatrix(shot, laid?.id ?? '', 1001) as never, x + width, y) as [number, number]
  // It lies within the region, not on its corners: the picture is no square, the region counts as one.
  const [first, second] = [trackAt(corners[0], 1001), trackAt(corners[1], 1001)]
  expect(width).not.toBe(height)
  expect(Math.max(Math.abs(left - first[0]) + Math.abs(top - first[1]), Math.abs(right - second[0]))).toBeGreaterThan(1)
  await button(/^▸ Sources|^▾ Sources/).click()
})

test('removed, it is gone as a whole', async () => {
  await page
    .getByRole('group', { name: 'Tracks' })
    .getByRole('button', { name: /^Region 1/ })
    .click()
  await button('Remove this region').click()
  expect(await cornersNow()).toEqual([])
  await page.keyboard.press('Control+z')
  expect(await cornersNow()).toHaveLength(4)
})

test('a page that is reloaded while it tracks finds what was tracked meanwhile', async () => {
  await button('Measure the camera’s shake').click()
  await card(page)
    .getByText(/^Tracking:/)
    .waitFor()
  await page.reload()
  const shaken = async () =>
    Object.values((await shotNow()).tracks.byId)
      .filter(({ region }) => region?.by)
      .map(({ points }) => Object.keys(points).length)
  for (let i = 0; i < 200 && (await shaken()).join() !== '6,6,6,6'; i++) await page.waitForTimeout(100)
  expect(await shaken()).toEqual([6, 6, 6, 6])
  await button(/^▸ Sources|^▾ Sources/).click()
  await page
    .getByRole('group', { name: 'Tracks' })
    .getByRole('button', { name: /^Camera shake 1/ })
    .click()
  await card(page).getByText('Known on all 6 frames.').waitFor()
  // It can be taken back as what this tab did.
  await page.keyboard.press('Control+z')
  await card(page).getByText('Known on 1 of 6 frames').waitFor()
})
