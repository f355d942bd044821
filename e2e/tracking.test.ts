import { readFileSync } from 'node:fs'
import type { Page } from 'playwright-core'
import { placedMatrix, trackAt, type Track } from '../core/shot'
import { card, element, picture } from './driving/screen'
import { beginAtQuay } from './driving/quay'

/** A point of the plate is set, tracked, corrected, and something is pinned to it, in a browser. */

const quay = beginAtQuay()
let page: Page
beforeAll(() => {
  page = quay.page
})

const { shotNow } = quay
const trackNow = async (name = 'Track 1'): Promise<Track> => {
  const found = Object.values((await shotNow()).tracks.byId).find((one) => one.name === name)
  if (!found) throw new Error(`There is no ${name}.`)
  return found
}
const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' })
/** Presses on the picture @param x, y of the frame's 640 by 360 */
async function press(x: number, y: number): Promise<void> {
  const place = await picture(page).boundingBox()
  if (!place) throw new Error('There is no picture.')
  const zoom = Math.min(place.width / 640, place.height / 360)
  await page.mouse.click(place.x + (place.width - 640 * zoom) / 2 + x * zoom, place.y + y * zoom)
}
const onAll = () => card(page).getByText('Known on all 6 frames.').waitFor()

test('a point set on a lamp’s head is tracked over every frame, seen as it is found, and is one undo', async () => {
  await page.keyboard.press('Shift+T')
  await press(131, 39)
  await card(page).getByText('Known on 1 of 6 frames').waitFor()
  await page.keyboard.press('Escape')
  await button('Both ways').click()
  await onAll()
  const { points } = await trackNow()
  expect(Object.keys(points)).toHaveLength(6)
  expect(points[1001]).toMatchObject({ byHand: true })
  for (const frame of [1002, 1003, 1004, 1005, 1006]) {
    const point = points[frame]
    // The camera sways by a pixel or two at this size.
    expect(Math.hypot(point.x - points[1001].x, point.y - points[1001].y)).toBeLessThan(4)
    expect('likeness' in point && point.likeness).toBeGreaterThan(0.8)
  }
  await expect(page.getByRole('list', { name: 'Track 1 on every frame' }).getByRole('listitem').count()).resolves.toBe(
    6,
  )
  await button('Undo').click()
  await card(page).getByText('Known on 1 of 6 frames').waitFor()
  await button('Redo').click()
  await onAll()
})

test('a frame corrected in the filmstrip by a tenth of a pixel is set by hand, and its neighbours are found anew', async () => {
  const before = await trackNow()
  const frame = page.getByRole('button', { name: /^Track 1 on 1004/ })
  await frame.focus()
  await page.keyboard.press('ArrowLeft')
  await page.getByRole('button', { name: /^Track 1 on 1004, .*set by hand/ }).waitFor()
  await card(page).getByText('Known on all 6 frames.').waitFor()
  const after = await trackNow()
  expect(after.points[1004]).toEqual({
    x: Math.round((before.points[1004].x + 0.1) * 100) / 100,
    y: Math.round(before.points[1004].y * 100) / 100,
    byHand: true,
  })
  // A share of the correction on the way to the frame that was set first, all of it after.
  expect(after.points[1006].x - before.points[1006].x).toBeGreaterThan(0.05)
  expect(after.points[1001]).toEqual(before.points[1001])
})

test('the bell pinned to it stays where it is on this frame, and goes with it on others', async () => {
  await element(page, 'Diving bell').click()
  await button('Place: move, turn, scale').click()
  await card(page).getByRole('checkbox', { name: 'Track 1' }).check()
  await card(page).getByText('Pinned, as placed on 1001').waitFor()
  const shot = await shotNow()
  const bell = Object.values(shot.elements.byId).find(({ name }) => name === 'Diving bell')
  const track = await trackNow()
  const [from, to] = [1001, 1006].map((time) => trackAt(track, time))
  const matrix = placedMatrix(shot, bell?.id ?? '', 1006)
  expect(matrix[2]).toBeCloseTo(to[0] - from[0], 6)
  expect(matrix[5]).toBeCloseTo(to[1] - from[1], 6)
  expect(placedMatrix(shot, bell?.id ?? '', 1001)).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1])
})

test('where there is little but grain it says so, and nothing else changes', async () => {
  await page.keyboard.press('Shift+T')
  await press(200, 50)
  await page.keyboard.press('Escape')
  await card(page).getByRole('heading', { name: 'Track 2' }).waitFor()
  await button('Track on').click()
  await card(page)
    .getByText(/flat at the point|little but grain/)
    .waitFor()
  expect(Object.keys((await trackNow('Track 2')).points)).toEqual(['1001'])
})

test('a track goes on by another one where it is not known, as far from it as on this frame', async () => {
  await card(page).getByRole('combobox', { name: 'Where it is not known, go on by' }).click()
  await page.getByRole('option', { name: 'Track 1' }).click()
  await onAll()
  const [gone, by] = [await trackNow('Track 2'), await trackNow()]
  const apart = (frame: number) => gone.points[frame].x - by.points[frame].x
  for (const frame of [1002, 1004, 1006]) expect(apart(frame)).toBeCloseTo(apart(1001), 3)
  await button('Undo').click()
  await card(page).getByText('Known on 1 of 6 frames').waitFor()
})

test('a removed track leaves the bell where it is, and the card says what to do', async () => {
  await button(/^▸ Sources|^▾ Sources/).click()
  await page
    .getByRole('group', { name: 'Tracks' })
    .getByRole('button', { name: /^Track 1/ })
    .click()
  await button('Close').click()
  await button('Remove this track').click()
  await element(page, 'Diving bell').click()
  await page
    .getByText(/a track that it is pinned to is gone/)
    .first()
    .waitFor()
  await button('Undo').click()
  await page.getByText(/a track that it is pinned to is gone/).waitFor({ state: 'detached' })
})

test('tracks are exported as a table and imported from one; what is no table of tracks is refused with the line', async () => {
  await button(/^▸ Sources|^▾ Sources/).click()
  const tracks = page.getByRole('group', { name: 'Tracks' })
  const [saved] = await Promise.all([
    page.waitForEvent('download'),
    tracks.getByRole('button', { name: 'Export as CSV' }).click(),
  ])
  expect(saved.suggestedFilename()).toBe('quay-010_tracks.csv')
  const text = readFileSync(await saved.path(), 'utf8')
  expect(text).toMatch(/^track,frame,x,y,across,down,likeness\nTrack 1,1001,/)
  const chosen = page.getByLabel('A file of tracks')
  await chosen.setInputFiles({
    name: 'rivet.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('frame,x,y\n1001,100.5,90\n1002,101,90.5\n'),
  })
  await tracks.getByRole('button', { name: /^rivet/ }).waitFor()
  expect((await trackNow('rivet')).points[1002]).toEqual({ x: 101, y: 90.5, byHand: true })
  await chosen.setInputFiles({
    name: 'odd.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('frame,x,y\n1001,left,90\n'),
  })
  const [json] = await Promise.all([
    page.waitForEvent('download'),
    tracks.getByRole('button', { name: 'As JSON' }).click(),
  ])
  expect(json.suggestedFilename()).toBe('quay-010_tracks.json')
  await chosen.setInputFiles({
    name: 'again.json',
    mimeType: 'application/json',
    buffer: Buffer.from(readFileSync(await json.path(), 'utf8').replaceAll('rivet', 'bolt')),
  })
  await tracks.getByRole('button', { name: /^bolt/ }).waitFor()
  expect((await trackNow('bolt')).points).toEqual((await trackNow('rivet')).points)
  await chosen.setInputFiles({
    name: 'odd.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('frame,x,y\n1001,left,90\n'),
  })
  await tracks.getByText('odd.csv has no number in the column x of line 2: "left".').waitFor()
})
