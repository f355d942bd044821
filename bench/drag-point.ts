/** A point of a matte dragged in Chromium, with treatments behind it, beside dragging a number of the same shot without the matte. */

import type { Page } from 'playwright-core'
import {
  matteBase,
  newLimit,
  newShape,
  newTreatment,
  parseShot,
  tableOf,
  throughSpots,
  type DrawnMatte,
  type Shot,
  type Use,
} from '../core/shot'
import { launch, screen, waitForPicture } from '../e2e/driving/chromium'
import { addressOf, ask, newDatabase, runServer } from '../server/test/running-server'
import { dragVeil, pictureMark } from './drag-veil'
import { atLeast, type Row } from './row'

const { cos, PI, sin } = Math
const kinds = ['exposure', 'contrast', 'saturation', 'hard-light', 'curves', 'soften'] as const

/** The demo's bell with six more treatments behind its veil and gain; the veil and gain is limited by a matte of 12 points. */
function shotsOf(demo: Shot): { readonly drawn: Shot; readonly plain: Shot } {
  const matte: DrawnMatte = { ...matteBase(demo, 'drawn'), id: 'matte', shapes: tableOf([]) }
  const spots = Array.from({ length: 12 }, (_, i) => ({
    spot: [640 + 180 * cos((i * PI) / 6), 330 + 150 * sin((i * PI) / 6)] as const,
    corner: false,
  }))
  const shape = { ...newShape(matte, demo.frames.first, throughSpots(spots)), id: 'shape' }
  const settings = kinds.map((kind, i) =>
    newTreatment(kind, `behind-${i}`, kind === 'exposure' ? { stops: [0.1, 0.1, 0.1] } : {}),
  )
  const uses = settings.map(({ id }, i): Use => ({
    ...{ id, rank: `z${i}`, treatment: id, on: true, limit: null },
    owner: { kind: 'element', id: 'bell' },
  }))
  const changed = (limited: boolean): Shot => {
    const all = [...Object.values(demo.uses.byId), ...uses].map((use) =>
      limited && use.treatment === 'match' ? { ...use, limit: newLimit({ kind: 'matte', matte: 'matte' }) } : use,
    )
    return {
      ...demo,
      name: limited ? 'bench-matte' : 'bench-plain',
      treatments: tableOf([
        ...Object.values(demo.treatments.byId).filter(({ id }) => id !== 'match'),
        // It does something, so that there is something to be limited.
        newTreatment('veil-and-gain', 'match', { gain: [1.3, 1.2, 1.1] }),
        ...settings,
      ]),
      uses: tableOf(all),
      mattes: limited ? tableOf([{ ...matte, shapes: tableOf([shape]) }]) : tableOf([]),
    }
  }
  return { drawn: changed(true), plain: changed(false) }
}

export async function benchDraggingPoint(database: string, data: string): Promise<Row[]> {
  const browser = await launch()
  const server = await runServer(await newDatabase(database), data)
  try {
    const { body } = await ask<{ shot: Shot }>(server, '/api/shots/quay-010')
    const { drawn, plain } = shotsOf(parseShot(body.shot, 'quay-010'))
    const open = async (shot: Shot): Promise<Page> => {
      await ask(server, '/api/shot-files', { document: shot, folder: 'quay-010' })
      const page = await browser.newPage({ viewport: screen })
      await page.goto(await addressOf(server, `/shots/${shot.name}`))
      await waitForPicture(page)
      return page
    }
    const rateOf = async (shot: Shot, drag: (page: Page) => Promise<number>) => {
      const page = await open(shot)
      const rate = await drag(page)
      await page.close()
      return rate
    }
    // In turns, twice: a slow spell of the machine does not fall on one of them.
    let [rate, plainRate] = [0, 0]
    for (let i = 0; i < 2; i++) {
      plainRate = Math.max(plainRate, await rateOf(plain, dragNumber))
      rate = Math.max(rate, await rateOf(drawn, dragPoint))
    }
    const name = 'Dragging a point of a matte, six treatments behind it, half scale, beside the same shot without it'
    return [atLeast(name, rate / plainRate, 0.85, `x (${rate.toFixed(1)} and ${plainRate.toFixed(1)} pictures/s)`)]
  } finally {
    await server.stop()
    await browser.close()
  }
}

/** @returns pictures a second while the pointer moves every 8 ms */
async function dragNumber(page: Page): Promise<number> {
  const [rate] = await dragVeil(page)
  await page.mouse.up()
  return rate
}

async function dragPoint(page: Page): Promise<number> {
  await page.getByRole('button', { name: /^▸ Sources/ }).click()
  await page
    .getByRole('group', { name: 'Mattes' })
    .getByRole('button', { name: /^Matte 1/ })
    .click()
  await page.getByRole('region', { name: 'Sources' }).getByRole('button', { name: 'Close' }).click()
  await page.getByRole('button', { name: 'Scale', exact: true }).click()
  await page.getByRole('menuitem', { name: 'half scale' }).click()
  await page.waitForTimeout(2500)
  const box = await page.getByRole('button', { name: 'Point 1 of Shape 1', exact: true }).boundingBox()
  if (!box) throw new Error('There is no point to drag.')
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2]
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x + 6, y)
  const rate = await page.evaluate(
    async ({ x: left, y: top, mark }) => {
      const target = document.querySelector('[aria-label="Picture"]')
      performance.clearMarks(mark)
      const start = performance.now()
      for (let i = 0; performance.now() - start < 4000; i++) {
        const at = { clientX: left + 10 + (i % 60), clientY: top + (i % 17) }
        target?.dispatchEvent(new PointerEvent('pointermove', { bubbles: true, pointerId: 1, ...at }))
        await new Promise((done) => setTimeout(done, 8))
      }
      return performance.getEntriesByName(mark).length / ((performance.now() - start) / 1000)
    },
    { x, y, mark: pictureMark },
  )
  await page.mouse.up()
  return rate
}
