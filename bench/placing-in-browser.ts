/** Placed elements dragged on the picture in Chromium: how well it follows the hand, and when it is final again. */

import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Browser, Page } from 'playwright-core'
import { floatToHalf } from '../core/image/half'
import type { Window } from '../core/image/window'
import { inOrder, tableOf, type Pin, type Shot, type Track, type TreatmentSettings } from '../core/shot'
import { launch, screen, waitForNewest, waitForPicture } from '../e2e/driving/chromium'
import { element, picture } from '../e2e/driving/screen'
import { writeExr } from '../formats/exr'
import { packing } from '../server/media/exr-blocks'
import { addressOf, newDatabase, runServer } from '../server/test/running-server'
import { matched, placedShot, texture, type Size } from './placed-shot'
import { atLeast, atMost, median, type Row } from './row'

const pictureMark = 'enkrasis:picture'

export async function benchPlacingInBrowser(root: string): Promise<Row[]> {
  const browser = await launch()
  const plain = () => []
  try {
    const [one] = await dragged(browser, root, { width: 1920, height: 1080 }, 1, plain, 'half scale')
    const [many] = await dragged(browser, root, { width: 1280, height: 720 }, 12, plain, 'half scale', pinnedToTracks)
    const [fourK, rest] = await dragged(browser, root, { width: 3840, height: 2160 }, 6, matched, 'half scale')
    const name = (what: string) => `Dragging ${what} on the picture in Chromium`
    const large = 'one of six on a plate of 3840x2160, softened, veil and gain, at the scale that follows,'
    return [
      atLeast(name('a placed element at half scale of 1920x1080'), one, 15, 'pictures/s'),
      atLeast(name('one of twelve placed and pinned elements at half scale of 1280x720'), many, 10, 'pictures/s'),
      atLeast(name(large), fourK, 12, 'pictures/s'),
      atMost('… from letting go until every pixel is final at half scale, median of 3', rest, 1.5, 's'),
    ]
  } finally {
    await browser.close()
  }
}

/** @returns pictures a second, and seconds until the picture is final */
async function dragged(
  browser: Browser,
  root: string,
  size: Size,
  count: number,
  treatmentsOf: (id: string) => readonly TreatmentSettings[],
  scale: string,
  changed: (shot: Shot) => Shot = (shot) => shot,
): Promise<[number, number]> {
  const data = mkdtempSync(join(tmpdir(), 'enkrasis-bench-'))
  await writeShot(data, size, changed(placedShot(size, count, treatmentsOf, { first: 1001, last: 1001 })))
  const server = await runServer(await newDatabase(root), data)
  try {
    const page = await browser.newPage({ viewport: screen })
    await page.goto(await addressOf(server, '/shots/placed'))
    await waitForPicture(page)
    await page.getByRole('button', { name: 'Scale', exact: true }).click()
    await page.getByRole('menuitem', { name: scale }).click()
    await element(page, 'thing-0').click()
    await page.keyboard.press('b')
    await waitForNewest(page)
    await page.waitForTimeout(2500)
    const rounds: [number, number][] = []
    for (let i = 0; i < 3; i++) rounds.push(await dragOnce(page, size))
    await page.close()
    return [median(rounds.map(([rate]) => rate)), median(rounds.map(([, rest]) => rest))]
  } finally {
    await server.stop()
    rmSync(data, { recursive: true, force: true })
  }
}

/** All of them move with two tracks, by a similarity; they rest on the frame before, so that the pin has a say on this one. */
function pinnedToTracks(shot: Shot): Shot {
  const tracks = [0, 1].map((i): Track => ({
    ...{ id: `track-${i}`, name: `Track ${i}`, rank: `a${i}`, model: 'translation', radius: 10, search: 12 },
    points: {
      1000: { x: 300 + 600 * i, y: 300, byHand: true },
      1001: { x: 303 + 601 * i, y: 298 + 2 * i, across: 0.02, down: 0.02, likeness: 0.95 },
    },
  }))
  const pin: Pin = { tracks: tracks.map(({ id }) => id), frame: 1000, by: 'similarity' }
  const elements = inOrder(shot.elements).map((one) =>
    one.placing ? { ...one, placing: { ...one.placing, pin } } : one,
  )
  return { ...shot, elements: tableOf(elements), tracks: tableOf(tracks) }
}

/** From a place on the element that is no handle, to and fro for two seconds. */
async function dragOnce(page: Page, { width, height }: Size): Promise<[number, number]> {
  const place = await picture(page).boundingBox()
  const pivot = await page.getByRole('button', { name: 'Pivot' }).boundingBox()
  if (!place || !pivot) throw new Error('There is nothing to drag.')
  const step = (place.width / width) * 40
  const [x, y] = [pivot.x + pivot.width / 2 + step, pivot.y + pivot.height / 2 + (step * height) / width]
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x + 5, y + 3)
  const rate = await page.evaluate(
    async ({ x, y, mark }) => {
      const target = document.querySelector('[aria-label="Picture"]')
      performance.clearMarks(mark)
      const start = performance.now()
      for (let i = 0; performance.now() - start < 2000; i++) {
        const [clientX, clientY] = [x + 30 * Math.sin(i / 9), y + 20 * Math.sin(i / 13)]
        target?.dispatchEvent(new PointerEvent('pointermove', { bubbles: true, clientX, clientY, pointerId: 1 }))
        await new Promise((done) => setTimeout(done, 8))
      }
      return performance.getEntriesByName(mark).length / ((performance.now() - start) / 1000)
    },
    { x, y, mark: pictureMark },
  )
  await page.mouse.up()
  const rested = performance.now()
  await waitForNewest(page)
  return [rate, (performance.now() - rested) / 1000]
}

async function writeShot(data: string, size: Size, shot: Shot): Promise<void> {
  const folder = join(data, 'media', 'placed')
  mkdirSync(folder, { recursive: true })
  const { width, height } = size
  const all = { x: 0, y: 0, width, height }
  const middle = { x: width / 4, y: height / 4, width: width / 2, height: height / 2 }
  writeFileSync(join(folder, 'plate.1001.exr'), await exrOf(all, all, ['R', 'G', 'B']))
  writeFileSync(join(folder, 'thing.1001.exr'), await exrOf(middle, all, ['R', 'G', 'B', 'A']))
  writeFileSync(join(folder, 'placed.shot.json'), JSON.stringify(shot))
}

function exrOf(dataWindow: Window, displayWindow: Window, names: readonly string[]): Promise<Uint8Array> {
  const { width, height } = dataWindow
  const planes = names.map((name, c) => ({
    name,
    type: 'half' as const,
    samples: Uint16Array.from({ length: width * height }, (_, i) =>
      name === 'A' ? 0x3c00 : floatToHalf(texture(c, i % width, Math.floor(i / width))),
    ),
  }))
  return writeExr([{ dataWindow, displayWindow, planes }], { ...packing, compression: 'none' })
}
