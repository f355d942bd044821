import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { floatToHalf } from '../../core/image/half'
import type { Planes } from '../../core/image/planes'
import { writeExr } from '../../formats/exr'
import { deflate } from '../../server/media/exr-blocks'
import { lightAt, pictureOf } from '../driving/desk'
import { beginJob } from '../driving/job'
import { card, controlClick, element, ofParameter, picture } from '../driving/screen'

/**
 * Job 16, as far as it reaches: a still with alpha goes over the plate, in the plate's own colour, with lamps that glow and
 * clouds behind and before it. It cannot follow the plate's wobble yet, and has no fog by depth.
 */

/** A grey hull with one bright lamp, cut out by its data window. */
const hull = { x: 120, y: 60, width: 120, height: 40 }
const lamp = { x: 180, y: 80, side: 4 }

async function makeMedia(own: string): Promise<void> {
  mkdirSync(join(own, 'ship'), { recursive: true })
  const light = (x: number, y: number) =>
    x >= lamp.x && x < lamp.x + lamp.side && y >= lamp.y && y < lamp.y + lamp.side ? 8 : 0.2
  const planes = ['R', 'G', 'B', 'A'].map((name) => ({
    name,
    type: 'half' as const,
    samples: Uint16Array.from({ length: hull.width * hull.height }, (_, i) =>
      floatToHalf(name === 'A' ? 1 : light(hull.x + (i % hull.width), hull.y + Math.floor(i / hull.width))),
    ),
  }))
  const displayWindow = { x: 0, y: 0, width: 640, height: 360 }
  const parts = [{ dataWindow: hull, displayWindow, planes }]
  writeFileSync(join(own, 'ship/airship.exr'), await writeExr(parts, { compression: 'zip', deflate }))
}

const job = beginJob('roads', 'roads-010', makeMedia)
const { plates } = job

/** Where the lamp is across: the middle of what is much brighter than the plate, in rows of the hull. */
function middle(out: Planes, without: Planes): number {
  let [sum, weighted] = [0, 0]
  for (let y = hull.y; y < hull.y + hull.height; y++)
    for (let x = 0; x < 640; x++) {
      const more = Math.max(0, lightAt(out, 1, x, y) - lightAt(without, 1, x, y) - 0.5)
      sum += more
      weighted += more * (x + 0.5)
    }
  return weighted / sum
}

/** Two keyframes alone are left and reached at rest. */
const eased = (t: number) => t * t * (3 - 2 * t)

let colour: readonly number[]

test('from files: a still over the plate, moved by keyframes, softened by a pixel', async () => {
  await job.desk.newShot('roads', 'roads-010')
  await element(job.page, 'Airship').click()
  await job.desk.button('Place: move, turn, scale').click()
  await job.desk.button('Pivot').waitFor()
  await job.desk.goTo(1001)
  await ofParameter(job.page, 'Across', 'Set a keyframe')
  await job.desk.goTo(1006)
  await job.desk.setNumber('Across', '60')
  await job.page.keyboard.press('b')
  await job.desk.addTreatment('soften')
})

test('its grey takes the plate’s own colour; it is where the keyframes say', async () => {
  await job.desk.goTo(1003)
  const place = await picture(job.page).boundingBox()
  if (!place) throw new Error('no picture')
  // A place of the plate that is its brightest, so that grain counts little.
  const plate = await pictureOf(plates, 1003)
  let [x, y, most] = [0, 0, 0]
  for (let j = 150; j < 300; j++)
    for (let i = 20; i < 620; i++) if (lightAt(plate, 1, i, j) > most) [x, y, most] = [i, j, lightAt(plate, 1, i, j)]
  colour = [0, 1, 2].map((c) => lightAt(plate, c, x, y))
  const zoom = place.width / 640
  await controlClick(job.page, place.x + (x + 0.5) * zoom, place.y + (y + 0.5) * zoom)
  await job.desk.saved()
  await job.desk.addTreatment('plate colour')
  await card(job.page).getByRole('button', { name: 'From sample 1' }).click()
  await job.desk.saved()
  await job.desk.setNumber('Amount', '1')
  const out = await job.desk.deliver('v001')
  // A place of the hull that is far from its edge and from the lamp.
  const [r, g, b] = await hullColour(out)
  expect(r / g / (colour[0] / colour[1])).toBeCloseTo(1, 1)
  expect(b / g / (colour[2] / colour[1])).toBeCloseTo(1, 1)
  const at = async (frame: number) => middle(await out(frame), await pictureOf(plates, frame))
  expect(Math.abs((await at(1005)) - (await at(1002)) - 60 * (eased(0.8) - eased(0.2)))).toBeLessThan(0.3)
})

const hullColour = async (out: (frame: number) => Promise<Planes>) => {
  const shown = await out(1003)
  return [0, 1, 2].map((c) => lightAt(shown, c, hull.x + 60 + 24 + 20, hull.y + 10))
}

test('red up and blue down, with the plate’s colour mixed in by half', async () => {
  await element(job.page, 'Airship').click()
  await job.desk.setNumber('Amount', '0.5')
  await job.desk.addTreatment('veil and gain')
  await job.desk.setNumber('Gain red', '1.2')
  await job.desk.setNumber('Gain blue', '0.8')
  const [r, g, b] = await hullColour(await job.desk.deliver('v002'))
  const [pickRed, pickBlue] = [colour[0] / colour[1], colour[2] / colour[1]]
  const between = (value: number, one: number, two: number) => expect((value - one) * (value - two)).toBeLessThan(0)
  between(r / g, 1.2, pickRed)
  between(b / g, 0.8, pickBlue)
})

test('its lamp is drawn out by level and glows, wider and wider; the hull does not', async () => {
  await element(job.page, 'Airship').click()
  await job.desk.addTreatment('glow')
  await job.desk.setNumber('Threshold', '2')
  await job.desk.setNumber('Width', '12')
  for (const channel of ['red', 'green', 'blue']) await job.desk.setNumber(`Amount ${channel}`, '1')
  const out = await job.desk.deliver('v003')
  const [lit, plate] = [await out(1001), await pictureOf(plates, 1001)]
  const around = (far: number) =>
    lightAt(lit, 1, lamp.x + 2, hull.y - far) - lightAt(plate, 1, lamp.x + 2, hull.y - far)
  const near = [6, 7, 8, 9].reduce((sum, far) => sum + around(far), 0)
  const farther = [26, 27, 28, 29].reduce((sum, far) => sum + around(far), 0)
  expect(near).toBeGreaterThan(farther)
  expect(near).toBeGreaterThan(0)
})

test('clouds of noise drift behind it and before it, slowly', async () => {
  await job.desk.button('Add made').click()
  await job.page.getByRole('menuitem', { name: 'Noise' }).click()
  await element(job.page, 'Noise').click()
  await card(job.page)
    .getByRole('button', { name: /Made of/ })
    .click()
  await job.desk.goTo(1001)
  await ofParameter(job.page, 'Drift x', 'Set a keyframe')
  await job.desk.goTo(1006)
  await job.desk.setNumber('Drift x', `5 / ${(eased(0.4) - eased(0.2)).toFixed(6)}`)
  await job.desk.setNumber('Alpha', '0')
  const near = await job.desk.deliver('v004')
  const plateOf = (frame: number) => pictureOf(plates, frame)
  const [a, b, before, after] = [await near(1002), await near(1003), await plateOf(1002), await plateOf(1003)]
  // Below the ship what they add, which is light alone, has moved by five pixels to the right a frame later.
  const row = Array.from({ length: 500 }, (_, i) => 60 + i)
  const apart = (by: number) => {
    const added = (out: Planes, plate: Planes, x: number) => lightAt(out, 1, x, 320) - lightAt(plate, 1, x, 320)
    return Math.max(...row.map((x) => Math.abs(added(b, after, x + by) - added(a, before, x))))
  }
  expect(apart(5)).toBeLessThan(5e-4)
  expect(apart(0)).toBeGreaterThan(2e-3)
  await element(job.page, 'Plate').click()
  await job.desk.button('Add made').click()
  await job.page.getByRole('menuitem', { name: 'Noise' }).click()
  await job.desk.saved()
  const both = await (await job.desk.deliver('v005'))(1003)
  const [x, y] = [hull.x + 60 + 24 + 20, hull.y + 10]
  expect(lightAt(both, 1, x, y)).toBe(lightAt(b, 1, x, y))
  const beyond = row.filter((at) => Math.abs(lightAt(both, 1, at, 320) - lightAt(b, 1, at, 320)) > 1e-3)
  expect(beyond.length).toBeGreaterThan(100)
})
