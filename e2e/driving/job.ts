/** Set-up of a job's test: a data folder with made-up media, the real server, a page, and the desk at its shot. */

import { cpSync, mkdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import type { Browser, Page } from 'playwright-core'
import { DataFolder, newDatabase, runServer, type RunningServer } from '../../server/test/running-server'
import { launch, screen } from './chromium'
import { deskAt, type Desk } from './desk'

export interface Job {
  /** folder of the small demo shot's plate, copied into the job's own folder of media */
  readonly plates: string
  /** from the first test on */
  readonly page: Page
  readonly desk: Desk
}

/**
 * Registers what begins and ends a file of tests.
 *
 * @param folder of the job's media; it is all that there is
 * @param shot its name, when it is delivered
 * @param makeMedia puts files beside the plate, given the job's own folder and that of the demo's media
 */
export function beginJob(folder: string, shot: string, makeMedia: (own: string, demo: string) => Promise<void>): Job {
  const data = new DataFolder()
  const own = join(data.path, 'media', folder)
  let server: RunningServer
  let browser: Browser
  const job = { plates: join(own, 'plate') } as { -readonly [K in keyof Job]: Job[K] }
  beforeAll(async () => {
    mkdirSync(own, { recursive: true })
    cpSync(join(data.shot, 'plate'), job.plates, { recursive: true })
    await makeMedia(own, data.shot)
    rmSync(data.shot, { recursive: true })
    server = await runServer(await newDatabase(), data.path)
    browser = await launch()
    job.page = await browser.newPage({ viewport: screen })
    job.desk = deskAt(job.page, () => server.url, data.path, shot)
  })
  afterAll(async () => {
    await browser.close()
    await server.stop()
    data.remove()
  })
  return job
}
