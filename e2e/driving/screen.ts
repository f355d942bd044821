/** The parts of the screen, by the names under which everybody finds them. */

import type { Locator, Page } from 'playwright-core'

/** For scripts inside the page: the canvas that shows the picture. */
export const pictureCanvas = '[aria-label="Picture"] > canvas'

export const picture = (page: Page): Locator => page.getByRole('group', { name: 'Picture', exact: true })
export const saving = (page: Page): Locator => page.getByRole('status', { name: 'Saving' })
export const sentence = (page: Page): Locator => page.getByRole('group', { name: 'View sentence' })
export const card = (page: Page): Locator => page.getByRole('region', { name: 'Card' })
export const tallyAxis = (page: Page): Locator => page.getByRole('slider', { name: 'Frame', exact: true })

/** An entry of the light path. */
export const element = (page: Page, name: string): Locator =>
  page.getByRole('group', { name: 'Elements, far to near' }).getByRole('button', { name: new RegExp(`^${name}`) })

/** An entry of the drawer above the light path, once that is open. */
export const source = (page: Page, name: string): Locator =>
  page.getByRole('region', { name: 'Sources' }).getByRole('button', { name: new RegExp(`^${name}`) })

/** The row of a reading @param of 'Under the pointer', 'Sample 1' or 'Region 1' @param layer 'plate', 'composite' or an element's name */
export const readingRow = (page: Page, of: string, layer: string): Locator =>
  page.getByRole('group', { name: of, exact: true }).getByRole('group', { name: layer, exact: true })

export const deliveries = (page: Page): Locator => page.getByRole('list', { name: 'Deliveries' }).getByRole('listitem')

/** Keeps the values of the pixel there. */
export async function controlClick(page: Page, x: number, y: number): Promise<void> {
  await page.keyboard.down('Control')
  await page.mouse.click(x, y)
  await page.keyboard.up('Control')
}

/** What the name of a parameter offers when it is pressed. @param what 'Set a keyframe', 'Remove the keyframe' or 'Reset' */
export async function ofParameter(page: Page, name: string, what: string): Promise<void> {
  await page.getByRole('spinbutton', { name: new RegExp(`^${name}, (all channels|more)$`) }).click()
  await page.getByRole('menuitem', { name: new RegExp(`^${what}`) }).click()
  await page.locator('[role=menu]').waitFor({ state: 'detached' })
}

/** Of a key that looks: held longer than a tap, so that the look ends with it. */
export async function letGo(page: Page, key: string): Promise<void> {
  await page.waitForTimeout(300)
  await page.keyboard.up(key)
}

/** Presses, drags from place to place, and lets go. */
export async function drag(page: Page, ...way: readonly (readonly [number, number])[]): Promise<void> {
  await page.mouse.move(...way[0])
  await page.mouse.down()
  for (const to of way.slice(1)) await page.mouse.move(...to)
  await page.mouse.up()
}

/** One stroke round an ellipse, with the tool that outlines in hand. @param at from pixels of the frame to the screen */
export async function outlineRound(
  page: Page,
  at: (x: number, y: number) => readonly [number, number],
  { x, y, across, down }: { readonly x: number; readonly y: number; readonly across: number; readonly down: number },
): Promise<void> {
  await page.keyboard.press('u')
  const ring = Array.from({ length: 60 }, (_, i) => {
    const angle = (i / 60) * 2 * Math.PI
    return at(x + across * Math.cos(angle), y + down * Math.sin(angle))
  })
  await drag(page, ...ring, ring[0])
}

/** Keeps a region of the picture about a place, by Shift and a drag. @param frame the shot's, shown whole */
export async function keepRegion(
  page: Page,
  frame: { readonly width: number; readonly height: number },
  { x, y, wide, high }: { readonly x: number; readonly y: number; readonly wide: number; readonly high: number },
): Promise<void> {
  const box = await picture(page).boundingBox()
  if (!box) throw new Error('There is no picture.')
  const at = (i: number, j: number) =>
    [box.x + (i * box.width) / frame.width, box.y + (j * box.height) / frame.height] as const
  await page.keyboard.down('Shift')
  await drag(page, at(x - wide, y - high), at(x, y), at(x + wide, y + high))
  await page.keyboard.up('Shift')
}
