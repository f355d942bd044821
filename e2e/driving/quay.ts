/** Set-up of a test at the small demo shot: the real server with its data, a browser, the shot opened. */

import type { Browser, Page } from 'playwright-core'
import type { Shot } from '../../core/shot'
import { ask, DataFolder, newDatabase, runServer, type RunningServer } from '../../server/test/running-server'
import { launch, screen, waitForPicture } from './chromium'
import { element, picture, saving } from './screen'

export interface Quay {
  /** these from the first test on */
  readonly page: Page
  readonly browser: Browser
  readonly server: RunningServer
  /** its own copy of the small shot */
  readonly data: DataFolder
  /** the document as the server has it, once everything is saved */
  shotNow(): Promise<Shot>
  /** @returns from pixels of the frame, 640 by 360, to the screen */
  onScreen(): Promise<(x: number, y: number) => readonly [number, number]>
}

/** Registers what begins and ends a file of tests. */
export function beginAtQuay(): Quay {
  const data = new DataFolder()
  const quay = { data } as { -readonly [K in keyof Quay]: Quay[K] }
  beforeAll(async () => {
    quay.server = await runServer(await newDatabase(), data.path)
    quay.browser = await launch()
    quay.page = await quay.browser.newPage({ viewport: screen })
    await quay.page.goto(quay.server.url)
    await quay.page.getByRole('link', { name: 'quay-010' }).click()
    await waitForPicture(quay.page)
    await element(quay.page, 'Diving bell').waitFor()
  })
  afterAll(async () => {
    await quay.browser.close()
    await quay.server.stop()
    data.remove()
  })
  quay.shotNow = async () => {
    await saving(quay.page)
      .getByText(/^Saved/)
      .waitFor()
    return (await ask<{ shot: Shot }>(quay.server, `/api/shots/${quay.page.url().split('/').at(-1) ?? ''}`)).body.shot
  }
  quay.onScreen = async () => {
    const place = await picture(quay.page).boundingBox()
    if (!place) throw new Error('There is no picture.')
    return (x, y) => [place.x + (x * place.width) / 640, place.y + (y * place.height) / 360]
  }
  return quay
}
