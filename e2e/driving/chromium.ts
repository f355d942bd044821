/** Debian's headless Chromium, driven by Playwright. */

import { chromium, type Browser, type Page } from 'playwright-core'
import { pictureCanvas } from './screen'

export const screen = { width: 1280, height: 800 }

declare global {
  /** called by the environment of the tests when one has failed */
  var tellOfPages: ((test: string) => Promise<void>) | undefined
}

const mostTold = 6000

/** The failure of a test alone seldom says why; what its pages show does. */
export async function launch(): Promise<Browser> {
  const browser = await started()
  const tell = (sentence: string) => process.stderr.write(`${sentence}\n`)
  browser.on('context', (context) =>
    context.on('page', (page) => {
      page.on('crash', () => tell(`The page ${page.url()} crashed.`))
      page.on('pageerror', (error) => tell(`The page ${page.url()} failed: ${error.message}`))
    }),
  )
  globalThis.tellOfPages = async (test) => {
    for (const page of browser.contexts().flatMap((context) => context.pages())) {
      const shown = await page
        .locator('body')
        .ariaSnapshot({ timeout: 5000 })
        .catch((error: Error) => `nothing that can be read: ${error.message}`)
      tell(`When "${test}" failed, ${page.url()} showed:\n${shown.slice(0, mostTold)}`)
    }
  }
  return browser
}

function started(): Promise<Browser> {
  return chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  })
}

/** Waits until the canvas shows a picture of the frame. */
export async function waitForPicture(page: Page, frame?: number): Promise<void> {
  await page.waitForFunction(
    ([selector, wanted]) => {
      const canvas = document.querySelector<HTMLCanvasElement>(selector)
      return canvas?.dataset.key !== undefined && (wanted === undefined || canvas.dataset.frame === String(wanted))
    },
    [pictureCanvas, frame] as const,
    { timeout: 30_000 },
  )
}

/** Waits until the canvas shows the picture that the page wants now. */
export async function waitForNewest(page: Page): Promise<void> {
  // Two screen frames: what a gesture changes is put into effect on the next one.
  await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))))
  await page.waitForFunction((selector) => {
    const canvas = document.querySelector<HTMLCanvasElement>(selector)
    return canvas?.dataset.wanted !== undefined && canvas.dataset.wanted === canvas.dataset.shown
  }, pictureCanvas)
}
