/** Daily movements: a list of 500 shots, a shot of 60 elements edited and its column scrolled. */

import { cpSync, mkdirSync, mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Browser, Locator, Page } from 'playwright-core'
import { firstRanks, newElement, newId, newBlend, parseShot, passInputs, tableOf, type Shot } from '../core/shot'
import { launch, screen, waitForPicture } from '../e2e/driving/chromium'
import { addressOf, ask, newDatabase, runServer, type RunningServer } from '../server/test/running-server'
import { atMost, median, type Row } from './row'

const shots = 500
const elements = 60
const edits = 200
/** Marked by the page whenever a new picture is on the canvas. */
const pictureMark = 'enkrasis:picture'

export async function benchHands(database: string, data: string): Promise<Row[]> {
  const browser = await launch()
  const server = await runServer(await newDatabase(database), data)
  try {
    const { body } = await ask<{ shot: Shot }>(server, '/api/shots/quay-010')
    const many = manyElements(parseShot(body.shot, 'quay-010'))
    await ask(server, '/api/shot-files', { document: many, folder: 'quay-010' })
    return [
      ...(await benchFirst(browser, database, data)),
      ...(await benchElements(browser, server)),
      ...(await benchList(browser, server)),
    ]
  } finally {
    await server.stop()
    await browser.close()
  }
}

/**
 * From an empty list and the demo's files to the first composite, by pointer alone: what the machine takes, from the first
 * press to the picture.
 */
async function benchFirst(browser: Browser, database: string, data: string): Promise<Row[]> {
  const folder = mkdtempSync(join(tmpdir(), 'enkrasis-first-'))
  mkdirSync(join(folder, 'media'))
  cpSync(join(data, 'media/quay-010'), join(folder, 'media/quay-010'), { recursive: true })
  rmSync(join(folder, 'media/quay-010/quay-010.shot.json'))
  const frames = readdirSync(join(folder, 'media/quay-010/plate')).length
  const server = await runServer(await newDatabase(database), folder)
  try {
    const page = await browser.newPage({ viewport: screen })
    await page.goto(server.url)
    await page.getByText('No shots yet.').waitFor()
    let actions = 0
    const press = async (target: Locator) => {
      actions++
      await target.click()
    }
    const began = performance.now()
    await press(page.getByRole('link', { name: 'New shot' }))
    await press(page.getByRole('button', { name: 'quay-010/' }))
    await press(page.getByRole('button', { name: 'Use everything in quay-010' }))
    await press(page.getByRole('button', { name: 'Make the shot' }))
    await waitForPicture(page)
    const seconds = (performance.now() - began) / 1000
    await page.close()
    return [
      atMost(`The first composite of ${frames} plate frames and their renders, from an empty list`, seconds, 15, 's'),
      atMost('Presses of the pointer for it', actions, 8, 'presses'),
    ]
  } finally {
    await server.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}

/** The demo shot with the bell again and again, each a little less. */
function manyElements(shot: Shot): Shot {
  const bell = Object.values(shot.sources.byId).find(({ path }) => path.includes('bell'))
  const own = Object.values(shot.elements.byId)
  const ranks = firstRanks(elements + own.length).slice(own.length)
  const more = Array.from({ length: elements - own.length }, (_, i) => ({
    ...newElement(newId(), `Bell ${i + 1}`, `z${ranks[i]}`, newBlend('over'), passInputs(bell?.id ?? '', 'beauty')),
    parameters: { opacity: [0.02] },
  }))
  return { ...shot, name: 'many-elements', elements: tableOf([...own, ...more]) }
}

async function benchElements(browser: Browser, server: RunningServer): Promise<Row[]> {
  const page = await browser.newPage({ viewport: screen })
  await page.goto(await addressOf(server, '/shots/many-elements'))
  await waitForPicture(page)
  await page.getByRole('button', { name: 'Scale', exact: true }).click()
  await page.getByRole('menuitem', { name: 'half scale' }).click()
  await page.waitForTimeout(4000)
  const delays = await editMany(page)
  const longest = await scrollColumn(page)
  await page.close()
  const late = delays[Math.floor(delays.length * 0.95)]
  return [
    atMost(
      `The picture after an edit, ${elements} elements at half scale of the demo, 95th percentile of ${edits}`,
      late,
      200,
      'ms',
    ),
    atMost('The longest task of the page while the column of them is scrolled', longest, 50, 'ms'),
  ]
}

/** Opacity up and down, on one element after the other. @returns ms until the next picture, ascending */
function editMany(page: Page): Promise<number[]> {
  return page.evaluate(
    async ({ mark, count }) => {
      const lines = () => [
        ...document.querySelectorAll<HTMLElement>('[aria-label="Elements, far to near"] button[aria-pressed]'),
      ]
      const frame = () => new Promise((done) => requestAnimationFrame(done))
      const delays: number[] = []
      for (let i = 0; i < count; i++) {
        const all = lines()
        all[1 + ((i * 7) % (all.length - 1))].click()
        await frame()
        await frame()
        const number = document.querySelector<HTMLElement>('[role=spinbutton][aria-label="Opacity"]')
        if (!number) throw new Error('There is no opacity.')
        performance.clearMarks(mark)
        const from = performance.now()
        number.dispatchEvent(
          new KeyboardEvent('keydown', {
            key: Number(number.getAttribute('aria-valuenow')) > 0.5 ? 'ArrowDown' : 'ArrowUp',
            bubbles: true,
          }),
        )
        while (performance.getEntriesByName(mark).length === 0 && performance.now() - from < 3000) await frame()
        const [shown] = performance.getEntriesByName(mark)
        delays.push((shown?.startTime ?? Infinity) - from)
      }
      return delays.sort((a, b) => a - b)
    },
    { mark: pictureMark, count: edits },
  )
}

async function scrollColumn(page: Page): Promise<number> {
  await page.evaluate(() => {
    const tasks: number[] = []
    Object.assign(globalThis, { longTasks: tasks })
    new PerformanceObserver((list) => list.getEntries().forEach(({ duration }) => tasks.push(duration))).observe({
      type: 'longtask',
    })
  })
  const box = await page.getByRole('group', { name: 'Elements, far to near' }).boundingBox()
  if (!box) throw new Error('There is no column.')
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
  for (let i = 0; i < 60; i++) {
    await page.mouse.wheel(0, i < 30 ? 120 : -120)
    await page.waitForTimeout(16)
  }
  // No task that is reported is shorter than 50 ms.
  return page.evaluate(() => Math.max(0, ...(globalThis as unknown as { longTasks: number[] }).longTasks))
}

async function benchList(browser: Browser, server: RunningServer): Promise<Row[]> {
  const { body } = await ask<{ shots: { id: string; name: string }[] }>(server, '/api/shots')
  const demo = body.shots.find(({ name }) => name === 'quay-010')
  for (let i = body.shots.length; i < shots; i++)
    await ask(server, `/api/shots/${demo?.id}/copies`, { name: `seq${i % 20}-${String(i).padStart(4, '0')}` })
  const times: number[] = []
  for (let i = 0; i < 7; i++) {
    const page = await browser.newPage({ viewport: screen })
    await page.goto(server.url)
    times.push(
      await page.evaluate(async () => {
        const asked = () => performance.getEntriesByType('resource').find(({ name }) => name.endsWith('/api/shots'))
        while (!asked() || document.querySelectorAll('article').length === 0)
          await new Promise((done) => requestAnimationFrame(done))
        return performance.now() - (asked()?.startTime ?? 0)
      }),
    )
    await page.close()
  }
  return [atMost(`A list of ${shots} shots, from asking until it stands`, median(times), 200, 'ms')]
}
