import { createHash } from 'node:crypto'
import { createServer, type Server } from 'node:http'
import { resolve } from 'node:path'
import express from 'express'
import type { Browser } from 'playwright-core'
import { display, everything, load, everywhere } from '../core/test/everything'
import { localEngine } from '../core/test/local-engine'
import type { Window } from '../core/image/window'
import type { Wanted, WindowReading } from '../core/measure/window-statistics'
import { launch } from './driving/chromium'

/** Chromium's engine and Node's give the same bits, for the whole and for pieces of it, grain included. */

let server: Server
let browser: Browser
let address: string

beforeAll(async () => {
  const app = express()
  app.use((_request, response, next) => {
    response.set({ 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' })
    next()
  })
  app.use(express.static(resolve('dist/e2e')))
  server = createServer(app)
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', () => done()))
  address = `http://127.0.0.1:${(server.address() as { port: number }).port}/`
  browser = await launch()
})
afterAll(async () => {
  await browser.close()
  server.close()
})

const digest = (values: Float32Array | Uint16Array) =>
  createHash('sha256').update(Buffer.from(values.buffer)).digest('hex')

test('light and delivered halves have the same bits in Chromium and in Node', async () => {
  const windows: Window[] = [
    { x: 97, y: 31, width: 41, height: 17 },
    everywhere,
    { x: -30, y: 60, width: 700, height: 40 },
    { x: 333, y: 44, width: 1, height: 1 },
  ]
  const page = await browser.newPage()
  await page.goto(address)
  await page.waitForFunction(() => 'digestsOf' in globalThis)
  const seen = await page.evaluate(
    (asked) =>
      (globalThis as unknown as { digestsOf: (windows: readonly Window[]) => Promise<string[]> }).digestsOf(
        asked as never,
      ),
    windows,
  )
  const engine = localEngine(1, load, 64)
  const expected = []
  for (const window of windows) expected.push(digest(await engine.light(everything(), window)))
  expected.push(digest(await engine.halves(everything(), display)))
  expect(seen).toEqual(expected)
  expect(new Set(seen).size).toBe(5)
})

test('what is measured of windows has the same bits in Chromium and in Node', async () => {
  const windows: Window[] = [
    { x: 97, y: 31, width: 32, height: 32 },
    { x: 290, y: 20, width: 40, height: 40 },
    { x: -20, y: -10, width: 33, height: 31 },
  ]
  const wanted: Wanted = {
    percentiles: [0.01, 0.5, 0.9],
    histogram: { bins: 16, least: -0.2, most: 1.2 },
    autocorrelation: true,
    gradients: true,
  }
  const page = await browser.newPage()
  await page.goto(address)
  await page.waitForFunction(() => 'readingsOf' in globalThis)
  const seen = await page.evaluate(
    ([asked, what]) =>
      (
        globalThis as unknown as {
          readingsOf: (windows: readonly Window[], wanted: Wanted) => Promise<WindowReading[]>
        }
      ).readingsOf(asked, what),
    [windows, wanted] as const,
  )
  const engine = localEngine(1, load, 64)
  expect(seen).toEqual(await engine.measure(everything(), windows, wanted))
  expect(seen.map(({ moments }) => moments[0].count)).toEqual([1024, 1600, 1023])
  expect(new Set(seen.map(({ moments }) => moments[0].variance)).size).toBe(3)
})
