import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { floatToHalf } from '../../core/image/half'
import type { Planes } from '../../core/image/planes'
import { bowOf, lineAlong, unbent } from '../../core/lens'
import { cornersOffAsTold } from '../../core/lens/test/known-lenses'
import { photographOf } from '../../core/lens/test/known-chart'
import { straightener, type Lens } from '../../core/motion/lens'
import { bytesSource, readExr, writeExr } from '../../formats/exr'
import { deflate, unpacking } from '../../server/media/exr-blocks'
import { lightAt } from '../driving/desk'
import { beginJob } from '../driving/job'
import { card, element } from '../driving/screen'

/**
 * Job 14: a wide lens is measured from a photographed grid, the render is bent to match, and a map is
 * written for the renderer. Judged by the lens that the grid was photographed through.
 */

const { abs, floor, max, min, round } = Math
const frame = { x: 0, y: 0, width: 640, height: 360 }
const truth: Lens = { ...unbent({ frame }), k1: -0.11, k2: 0.015, centre: [326, 176] }

/** Of a bar 3 pixels wide. */
const covered = (away: number) => min(1, max(0, 2 - abs(away)))
/** As the lens shows a board with lines 40 pixels apart. */
function photographed(): Float32Array {
  const back = straightener(truth)
  return Float32Array.from({ length: frame.width * frame.height }, (_, i) => {
    const place = back((i % frame.width) + 0.5, floor(i / frame.width) + 0.5)
    if (!place) return 0
    const [across, down] = place.map((value) => covered(value - 40 * round(value / 40)))
    return 0.04 + 0.7 * (across + down - across * down)
  })
}

/** A board of dark and light squares, held a little turned, through the same lens. */
const board = { frame, lens: truth, squares: [13, 9], motion: [36, 3, 70, -2, 37, 30, 1e-4, 4e-4, 1] } as const
/** What is rendered: two rails that are straight, a long way beyond the frame. */
const overscan = { x: -100, y: -60, width: 840, height: 480 }
/** Upper edges, and between which columns nothing of the plate is nearly as bright as they are. */
const rails = [
  { top: 24, from: 180, to: 460 },
  { top: 328, from: 40, to: 600 },
] as const
const thickness = 8

async function makeMedia(own: string): Promise<void> {
  const write = async (folder: string, name: string, planes: Planes['planes'], dataWindow: Planes['dataWindow']) => {
    mkdirSync(join(own, folder), { recursive: true })
    const parts = [{ dataWindow, displayWindow: frame, planes }]
    writeFileSync(join(own, folder, name), await writeExr(parts, { compression: 'zip', deflate }))
  }
  const grid = Uint16Array.from(photographed(), floatToHalf)
  const channel = (name: string, samples: Uint16Array) => ({ name, type: 'half' as const, samples })
  await write(
    'grid',
    'lens-grid.exr',
    ['R', 'G', 'B'].map((name) => channel(name, grid)),
    frame,
  )
  const squares = Uint16Array.from(photographOf({ ...board, noise: 0.004 }).values, floatToHalf)
  await write(
    'chart',
    'lens-chart.exr',
    ['R', 'G', 'B'].map((name) => channel(name, squares)),
    frame,
  )
  const rail = Uint16Array.from({ length: overscan.width * overscan.height }, (_, i) => {
    const y = overscan.y + floor(i / overscan.width)
    return floatToHalf(rails.some(({ top }) => y >= top && y < top + thickness) ? 1 : 0)
  })
  for (const n of [1001, 1002, 1003, 1004, 1005, 1006])
    await write(
      'rails',
      `rails.${n}.exr`,
      ['R', 'G', 'B', 'A'].map((name) => channel(name, rail)),
      overscan,
    )
}

const job = beginJob('harbour', 'harbour-010', makeMedia)

/** How far in the straight world the rails of a delivered frame lie from where they were rendered, and how much they bow there. */
function railsIn(delivered: Planes): readonly { readonly off: number; readonly bow: number }[] {
  const values = Float64Array.from({ length: frame.width * frame.height }, (_, i) =>
    lightAt(delivered, 1, i % frame.width, floor(i / frame.width)),
  )
  const back = straightener(truth)
  return rails.map(({ top, from, to }) => {
    const [left, right] = [from, to].map((x) => {
      // Where the lens shows the rail's upper edge in this column.
      const y = Array.from({ length: frame.height }, (_, i) => i + 0.5).find((at) => (back(x, at)?.[1] ?? -1) >= top)
      return [x, y ?? NaN] as const
    })
    const line = lineAlong({ values, width: frame.width, height: frame.height }, left, right)
    if (!line) throw new Error('The rail is not there.')
    // The stroke is brought onto the upper edge or the lower, whichever stands out.
    const places = line.map(([x, y]) => (back(x, y) as [number, number])[1] - top)
    const off = (edge: number) => max(...places.map((place) => abs(place - edge)))
    return { off: min(off(0), off(thickness)), bow: bowOf(truth, line) }
  })
}

test('from files: the rails lie straight over a picture that is bent', async () => {
  await job.desk.newShot('harbour', 'harbour-010')
  await element(job.page, 'Rails').click()
  const delivered = await job.desk.deliver('v001')
  expect(max(...railsIn(await delivered(1003)).map(({ off }) => off))).toBeGreaterThan(2)
  await job.page.keyboard.press('Escape')
})

test('the lens is measured from the photographed grid, and what is left of the bow is told', async () => {
  await job.page
    .getByRole('button', { name: /^Glass/ })
    .first()
    .click()
  await job.desk.addTreatment('straight lines')
  const { page } = job
  await card(page).getByRole('combobox', { name: 'Lines on' }).click()
  await page.getByRole('option', { name: /grid/i }).click()
  await job.desk.button('Find lines').click()
  await card(page)
    .getByText(/^\d+ lines on this picture/)
    .waitFor({ timeout: 30_000 })
  await job.desk.button('Measure the lens').click()
  await card(page)
    .getByText(/^\d+ lines bow by/)
    .waitFor({ timeout: 30_000 })
  const words =
    (await card(page)
      .getByText(/^\d+ lines bow by/)
      .textContent()) ?? ''
  const told = /bow by ([\d.]+) px without the lens, by ([\d.]+) px with it .* by ([\d.]+) px at most/.exec(words)
  expect(Number(told?.[1])).toBeGreaterThan(2)
  expect(Number(told?.[3])).toBeLessThan(0.3)
  await job.desk.saved()
})

test('delivered, the rails lie where the lens shows them, within 0.3 px', async () => {
  const delivered = await job.desk.deliver('v002')
  for (const { off, bow } of railsIn(await delivered(1003))) {
    expect(bow).toBeLessThan(0.3)
    expect(off).toBeLessThan(0.3)
  }
  await job.page.keyboard.press('Escape')
})

test('the map for the renderer leads from each pixel of the plate to its straight place', async () => {
  await job.page
    .getByRole('button', { name: /^Glass/ })
    .first()
    .click()
  const [download] = await Promise.all([
    job.page.waitForEvent('download'),
    job.page.getByRole('link', { name: 'Map to bend' }).click(),
  ])
  expect(download.suggestedFilename()).toBe('harbour-010_redistort.exr')
  const bytes = new Uint8Array(readFileSync(await download.path()))
  const map = await readExr(bytesSource(bytes, 'map'), { ...unpacking, channels: ['R', 'G'] })
  const back = straightener(truth)
  for (const [x, y] of [
    [0, 0],
    [639, 359],
    [500, 40],
  ]) {
    const [sx, sy] = back(x + 0.5, y + 0.5) as [number, number]
    expect(abs(lightAt(map, 0, x, y) * 640 - sx)).toBeLessThan(0.3)
    expect(abs(lightAt(map, 1, x, y) * 360 - sy)).toBeLessThan(0.3)
  }
})

test('a photographed chart of squares tells the lens as well, and its corners are seen on the picture', async () => {
  const { page } = job
  await card(page).getByRole('combobox', { name: 'Lines on' }).click()
  await page.getByRole('option', { name: /chart/i }).click()
  await job.desk.button('Measure from a chart').click()
  const words = card(page).getByText(/^\d+ corners of squares on one frame lie/)
  await words.waitFor({ timeout: 30_000 })
  await page.getByRole('img', { name: '96 corners of a chart' }).waitFor()
  const told = /^(\d+) corners .* lie ([\d.]+) px/.exec((await words.textContent()) ?? '')
  expect(Number(told?.[1])).toBe(96)
  expect(Number(told?.[2])).toBeLessThan(0.1)
  await job.desk.saved()
  const number = async (name: string) =>
    Number(await card(page).getByRole('spinbutton', { name, exact: true }).textContent())
  const found = {
    ...truth,
    ...{ k1: await number('Bend k1'), k2: await number('Bend k2'), k3: await number('Bend k3') },
    centre: [320 + (await number('Centre x')), 180 + (await number('Centre y'))] as const,
  }
  // By one photograph, which does not reach the corners.
  expect(cornersOffAsTold(found, truth, frame)).toBeLessThan(1)
})
