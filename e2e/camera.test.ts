import { execFile } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import type { Browser, Page } from 'playwright-core'
import { allOf, cornersOfRegion, planeGrid, type Shot } from '../core/shot'
import { ask, newDatabase, runServer, type RunningServer } from '../server/test/running-server'
import { launch, screen, waitForPicture } from './driving/chromium'
import { card, saving } from './driving/screen'

/** The demo shot whose camera moves: tracks and planes from its camera file, and the camera that a plane tells, in a browser. */

const folder = mkdtempSync(join(tmpdir(), 'enkrasis-camera-'))
let server: RunningServer
let browser: Browser
let page: Page
beforeAll(async () => {
  const standIn = ['standin', '--shot', 'quay-020', '--size', '192x108', '--frames', '4', '--out', folder]
  await promisify(execFile)('node', ['bin/enkrasis.mjs', ...standIn])
  server = await runServer(await newDatabase(), folder)
  browser = await launch()
  page = await (await browser.newContext({ viewport: screen })).newPage()
  await page.goto(server.url)
  await page.getByRole('link', { name: 'quay-020', exact: true }).click()
  await waitForPicture(page)
}, 120_000)
afterAll(async () => {
  await browser.close()
  await server.stop()
  rmSync(folder, { recursive: true, force: true })
})

const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' })
const shotNow = async () => {
  await saving(page)
    .getByText(/^Saved/)
    .waitFor()
  return (await ask<{ shot: Shot }>(server, `/api/shots/${page.url().split('/').at(-1) ?? ''}`)).body.shot
}

test('points of the camera file lie on the picture; chosen, they become tracks, and a plane', async () => {
  await button(/^▸ Sources/).click()
  await button(/^Shot camera/).click()
  await card(page).getByText('60 points of the scene').waitFor()
  const points = page.getByRole('button', { name: /^point \d+$/ })
  await points.first().waitFor()
  expect(await points.count()).toBeGreaterThan(30)
  const plane = button('Make a plane through them')
  expect(await plane.isDisabled()).toBe(true)
  const chosen: string[] = []
  // Those at the right of the picture are not below the drawer.
  for (const one of await points.all()) {
    const box = await one.boundingBox()
    if (!box || box.x < 420 || chosen.length === 3) continue
    await one.click()
    chosen.push((await one.getAttribute('aria-label')) ?? '')
  }
  await card(page).getByText('3 chosen. A plane needs three, not in a line.').waitFor()
  await button('Make 3 tracks').click()
  const { tracks } = await shotNow()
  expect(
    allOf(tracks)
      .map(({ name }) => name)
      .sort(),
  ).toEqual(chosen.map((name) => `P${name.slice(1)}`).sort())
  for (const { points: seen } of allOf(tracks)) expect(Object.keys(seen)).toHaveLength(4)
  expect(new Set(allOf(tracks).map(({ rank }) => rank)).size).toBe(3)
  await card(page)
    .getByText(/^Choose them on the picture/)
    .waitFor()
})

test('a track and three others become a plane, in one step', async () => {
  for (const one of await page.getByRole('button', { name: /^point \d+$/ }).all()) {
    const box = await one.boundingBox()
    // Any fourth one, far from the drawer.
    if (!box || box.x < 420) continue
    const name = `P${((await one.getAttribute('aria-label')) ?? '').slice(1)}`
    if (allOf((await shotNow()).tracks).some((track) => track.name === name)) continue
    await one.click()
    break
  }
  await button('Make it a track').click()
  const names = allOf((await shotNow()).tracks).map(({ name }) => name)
  expect(names).toHaveLength(4)
  await page
    .getByRole('group', { name: 'Tracks' })
    .getByRole('button', { name: new RegExp(`^${names[0]} ?1001`) })
    .first()
    .click()
  const make = button('Make a plane of the four')
  expect(await make.isDisabled()).toBe(true)
  await card(page).getByRole('combobox', { name: 'A plane with three others' }).click()
  for (const name of names.slice(1)) await page.getByRole('option', { name, exact: true }).click()
  await page.keyboard.press('Escape')
  await make.click()
  await page.waitForTimeout(300)
  // Four points of a scene need not be a convex figure in the picture: then it says so.
  const refused = await card(page).getByText('No frame knows all four, or three of them lie in a line.').count()
  const made = allOf((await shotNow()).tracks).filter(({ region }) => region)
  expect(made).toHaveLength(refused > 0 ? 0 : 4)
  if (refused === 0) await page.keyboard.press('Control+z')
  expect(allOf((await shotNow()).tracks).filter(({ region }) => region)).toHaveLength(0)
  await page.keyboard.press('Control+z')
  await button(/^Shot camera/).click()
})

test('a plane of the file becomes one here, with its grid on the stones; undone and done again in one step', async () => {
  await button('Make it a plane').first().click()
  const stones = async () => allOf((await shotNow()).tracks).filter(({ name }) => name.startsWith('Stones'))
  expect(await stones()).toHaveLength(4)
  await page.keyboard.press('Control+z')
  expect(await stones()).toHaveLength(0)
  await page.keyboard.press('Control+Shift+z')
  await button(/^Stones/).click()
  await card(page).getByText('Known on all 4 frames.').waitFor()
  await card(page)
    .getByText(/, as the camera sees it$/)
    .waitFor()
  await page.getByRole('checkbox', { name: 'Show a grid of squares on it' }).check()
  const shot = await shotNow()
  const [corner] = await stones()
  const grid = planeGrid(shot, cornersOfRegion(shot, corner.region?.id ?? '') ?? [], 1004)
  // Eight squares across a square: nine lines each way.
  expect(grid).toHaveLength(18)
  // What the camera sees follows the camera, and is not looked for on the plate.
  await button('Track on').click()
  await page.waitForTimeout(500)
  expect((await stones())[0].points).toEqual(corner.points)
})

test('the camera that the plane tells is written as a file; with a focal length that cannot be told, it says so', async () => {
  const [download] = await Promise.all([page.waitForEvent('download'), button('Write the camera of Stones').click()])
  const text = readFileSync(await download.path(), 'utf8')
  expect(download.suggestedFilename()).toBe('quay-020_camera.gltf')
  const { cameras } = JSON.parse(text) as { cameras: { perspective: { yfov: number } }[] }
  // The lens zooms by 0.6 % over the shot; the file has one focal length.
  const focal = 54 / Math.tan(cameras[0].perspective.yfov / 2)
  expect(Math.abs(focal / (1.094 * 192) - 1)).toBeLessThan(0.03)
  await card(page)
    .getByText(
      /^Written for all 4 frames: focal length 2\d\d px, to .*; corners off by 0\.\d\d px\. The plane is the floor/,
    )
    .waitFor()
  // The crate is so small and so straight ahead that its perspective tells nothing.
  await button(/^Shot camera/).click()
  await button('Make it a plane').nth(1).click()
  await button(/^Crate/).click()
  await button('Write the camera of Crate').click()
  await card(page)
    .getByRole('alert')
    .getByText('The perspective of Crate does not tell the focal length. Type it.')
    .waitFor()
  await page.getByRole('spinbutton', { name: 'Focal length, pixels' }).click()
  await page.keyboard.type('210')
  await page.keyboard.press('Enter')
  const [second] = await Promise.all([page.waitForEvent('download'), button('Write the camera of Crate').click()])
  expect(second.suggestedFilename()).toBe('quay-020_camera.gltf')
})

test('a camera file that is damaged says so on its card; the rest works', async () => {
  const path = join(folder, 'media/quay-020/camera/quay-020_camera.gltf')
  const before = readFileSync(path)
  writeFileSync(path, before.subarray(0, 2000))
  await page.reload()
  await waitForPicture(page)
  await button(/^▸ Sources/).click()
  await button(/^Shot camera/).click()
  await card(page)
    .getByRole('alert')
    .getByText(/^Shot camera is no glTF 2\.0 that can be read \(.*\)\. Export it again, as \.glb or \.gltf\.$/)
    .waitFor()
  expect(await page.getByRole('button', { name: /^point \d+$/ }).count()).toBe(0)
  await button(/^Stones/).click()
  await card(page).getByText('Known on all 4 frames.').waitFor()
  writeFileSync(path, before)
})
