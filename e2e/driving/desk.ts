/** What a person does at one shot over and over: finds a button, types a number, goes to a frame, delivers and looks at the files. */

import { readFileSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import type { Locator, Page } from 'playwright-core'
import { halfToFloat } from '../../core/image/half'
import type { Planes } from '../../core/image/planes'
import { bytesSource, readExr } from '../../formats/exr'
import { unpacking } from '../../server/media/exr-blocks'
import { waitForPicture } from './chromium'
import { card, deliveries, saving, tallyAxis } from './screen'

export interface Desk {
  button(name: string | RegExp): Locator
  /** until everything is saved */
  saved(): Promise<void>
  goTo(frame: number): Promise<void>
  /** types into the card's number of that name */
  setNumber(name: string, value: string): Promise<void>
  /** adds the first treatment that the search finds */
  addTreatment(does: string): Promise<void>
  /** makes the shot of everything in a folder of the media, and opens it @param plate where several sequences could be it */
  newShot(folder: string, name: string, plate?: RegExp): Promise<void>
  /** @returns what reads a delivered frame: red, green and blue */
  deliver(version: string): Promise<(frame: number) => Promise<Planes>>
}

/**
 * @param data folder of the server
 * @param shot its name, when it is delivered
 */
export function deskAt(page: Page, url: () => string, data: string, shot: string): Desk {
  const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' })
  const saved = () =>
    saving(page)
      .getByText(/^Saved/)
      .waitFor()
  return {
    button,
    saved,
    async goTo(frame) {
      await tallyAxis(page).focus()
      await page.keyboard.press('Home')
      for (let at = 1001; at < frame; at++) await page.keyboard.press('ArrowRight')
    },
    async setNumber(name, value) {
      await card(page).getByRole('spinbutton', { name, exact: true }).first().click()
      await page.getByRole('textbox', { name, exact: true }).fill(value)
      await page.keyboard.press('Enter')
      await saved()
    },
    async addTreatment(does) {
      await button('Add a treatment …').click()
      await page.getByRole('textbox', { name: 'What should it do?' }).fill(does)
      await page.keyboard.press('Enter')
      await saved()
    },
    async newShot(folder, name, plate) {
      await page.goto(`${url()}/new`)
      await button(`${folder}/`).click()
      await button(`Use everything in ${folder}`).click()
      await page.getByLabel('Name', { exact: true }).fill(name)
      if (plate) {
        await page.getByRole('combobox', { name: 'Which is the plate?' }).click()
        await page.getByRole('option', { name: plate }).click()
      }
      await button('Make the shot').click()
      await waitForPicture(page)
    },
    async deliver(version) {
      await button('Deliver').click()
      await card(page).getByRole('button', { name: 'Deliver' }).click()
      await deliveries(page)
        .filter({ hasText: version })
        .getByText(/^done in/)
        .waitFor({ timeout: 60_000 })
      return (frame) => pictureIn(join(data, `delivery/${shot}/${version}/${shot}_comp_${version}.${frame}.exr`))
    },
  }
}

/** Red, green and blue of a file. */
export const pictureIn = (path: string): Promise<Planes> =>
  readExr(bytesSource(new Uint8Array(readFileSync(path)), path), { ...unpacking, channels: ['R', 'G', 'B'] })

/** The file of a folder in whose name the frame stands. */
export const pictureOf = (folder: string, frame: number): Promise<Planes> =>
  pictureIn(join(folder, readdirSync(folder).find((one) => one.includes(String(frame))) ?? ''))

/** Samples as they are stored. */
export const bitsOf = ({ planes }: Planes) => planes.map(({ samples }) => samples)

/** Light of a pixel. @param c channel: 0, 1, 2 */
export function lightAt(
  { planes, dataWindow: { x: left, y: top, width } }: Planes,
  c: number,
  x: number,
  y: number,
): number {
  const { type, samples } = planes[c]
  const value = samples[(y - top) * width + x - left]
  return type === 'half' ? halfToFloat(value) : value
}
