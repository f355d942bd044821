/** Debian's headless Chromium, driven by Playwright. */

import { chromium, type Browser, type Page } from 'playwright-core'
import { pictureCanvas } from './screen'

export const screen = { width: 1280, height: 800 }

export function launch(): Promise<Browser> {
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
