/** Drags the veil of the selected element in the page, and counts what the page does meanwhile. */

import type { Page } from 'playwright-core'

/** Marked by the page whenever a new picture is on the canvas. */
export const pictureMark = 'enkrasis:picture'

/**
 * Moves the pointer every 8 ms for some seconds. @returns pictures a second, median ms from a move to the next picture, and
 * how often a second something else was marked as done
 */
export async function dragVeil(page: Page, other = pictureMark): Promise<[number, number, number]> {
  await page.getByRole('button', { name: 'Scale', exact: true }).click()
  await page.getByRole('menuitem', { name: 'half scale' }).click()
  await page.waitForTimeout(2500)
  const box = await page.getByRole('spinbutton', { name: 'Veil, all channels' }).boundingBox()
  if (!box) throw new Error('There is no veil to drag.')
  await page.mouse.move(box.x + 10, box.y + 8)
  await page.mouse.down()
  return page.evaluate(
    async ({ x, y, mark, other }) => {
      const target = document.querySelector('[aria-label="Veil, all channels"]')
      performance.clearMarks(mark)
      performance.clearMarks(other)
      const start = performance.now()
      const moves: number[] = []
      for (let i = 0; performance.now() - start < 4000; i++) {
        moves.push(performance.now())
        target?.dispatchEvent(
          new PointerEvent('pointermove', { bubbles: true, clientX: x + 10 + (i % 200), clientY: y + 8, pointerId: 1 }),
        )
        await new Promise((done) => setTimeout(done, 8))
      }
      const seconds = (performance.now() - start) / 1000
      const pictures = performance.getEntriesByName(mark).map((entry) => entry.startTime)
      const delays = moves.map((at) => (pictures.find((shown) => shown > at) ?? Infinity) - at).sort((a, b) => a - b)
      const others = performance.getEntriesByName(other).length
      return [pictures.length / seconds, delays[delays.length >> 1], others / seconds] as [number, number, number]
    },
    { ...box, mark: pictureMark, other },
  )
}
