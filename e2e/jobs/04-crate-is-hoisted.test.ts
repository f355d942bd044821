import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { floatToHalf } from '../../core/image/half'
import type { Planes } from '../../core/image/planes'
import { writeExr } from '../../formats/exr'
import { deflate } from '../../server/media/exr-blocks'
import { bitsOf, lightAt, pictureOf } from '../driving/desk'
import { beginJob } from '../driving/job'
import { card, element, ofParameter, outlineRound, picture } from '../driving/screen'

/**
 * Job 4: a crate is hoisted by eased keyframes, with its own motion blur, through a beam of light; the place where it stood is filled
 * from a held frame, and its shadow is made of its matte and thins as it rises.
 */

/** A flat crate with hard edges, of 80 by 60 pixels, on every frame at the same place. */
const crate = { x: 280, y: 240, width: 80, height: 60 }
const light = 4
/** How far it rises from 1001 to 1005, in pixels. */
const rise = 120

async function makeMedia(own: string): Promise<void> {
  mkdirSync(join(own, 'cg'), { recursive: true })
  const samples = (value: number) => new Uint16Array(crate.width * crate.height).fill(floatToHalf(value))
  const planes = ['R', 'G', 'B', 'A'].map((name) => ({
    name,
    type: 'half' as const,
    samples: samples(name === 'A' ? 1 : light),
  }))
  const displayWindow = { x: 0, y: 0, width: 640, height: 360 }
  const file = await writeExr([{ name: 'beauty', dataWindow: crate, displayWindow, planes }], {
    compression: 'zip',
    deflate,
  })
  for (let frame = 1001; frame <= 1006; frame++) writeFileSync(join(own, `cg/crate_v001.${frame}.exr`), file)
}

const job = beginJob('hoist', 'hoist-010', makeMedia)
const { plates } = job

/** How much of the crate covers each pixel of a column through its middle, from what it adds to the plate. */
function coverage(out: Planes, plate: Planes, x = crate.x + crate.width / 2): number[] {
  return Array.from({ length: 360 }, (_, y) => {
    const behind = lightAt(plate, 1, x, y)
    return (lightAt(out, 1, x, y) - behind) / (light - behind)
  })
}

test('from files: the crate is placed and rises by two eased keyframes', async () => {
  await job.desk.newShot('hoist', 'hoist-010')
  await element(job.page, 'Crate').click()
  await job.desk.button('Place: move, turn, scale').click()
  await job.desk.button('Pivot').waitFor()
  await job.desk.goTo(1001)
  await ofParameter(job.page, 'Down', 'Set a keyframe')
  await job.desk.goTo(1005)
  await job.desk.setNumber('Down', String(-rise))
  await job.page.keyboard.press('j')
  await job.desk.button(/^Keyframe at 1001, Crate: down/).dispatchEvent('pointerdown', { pointerId: 1 })
  await job.page.getByRole('group', { name: 'Curves of what is selected' }).dispatchEvent('pointerup', { pointerId: 1 })
  await job.page.getByRole('combobox', { name: 'Goes on' }).click()
  await job.page.getByRole('option', { name: 'gently from stop to stop' }).click()
  await job.page.keyboard.press('j')
  await job.desk.saved()
})

test('its blur is its speed times the shutter; where it stands it is sharp; the rest is the plate’s bits', async () => {
  const out = await job.desk.deliver('v001')
  const plate = await pictureOf(plates, 1003)
  const middle = coverage(await out(1003), plate)
  // Eased from stop to stop, half-way is passed at 1.5 times the mean speed; the shutter is open for half a frame.
  const blur = 1.5 * (rise / 4) * 0.5
  const edge = (from: number, to: number) => middle.slice(from, to).filter((v) => v > 0.02 && v < 0.98).length
  const top = crate.y - rise / 2
  expect(Math.abs(edge(top - 30, top + 30) - blur)).toBeLessThan(2)
  expect(Math.abs(edge(top + crate.height - 30, top + crate.height + 30) - blur)).toBeLessThan(2)
  // No coverage is lost or gained, and its middle is where the keyframes say.
  const sum = middle.reduce((all, v) => all + v, 0)
  expect(sum).toBeCloseTo(crate.height, 0)
  const centre = middle.reduce((all, v, y) => all + v * (y + 0.5), 0) / sum
  expect(Math.abs(centre - (top + crate.height / 2))).toBeLessThan(0.3)
  const still = coverage(await out(1006), await pictureOf(plates, 1006))
  expect(still.filter((v) => v > 0.02 && v < 0.98)).toHaveLength(0)
  expect(still.findIndex((v) => v > 0.5)).toBe(crate.y - rise)
  const [changed, before] = [bitsOf(await out(1003)), bitsOf(plate)]
  for (let c = 0; c < 3; c++)
    for (let y = 0; y < 360; y++)
      for (const x of [0, 100, crate.x - 3, crate.x + crate.width + 2, 639])
        expect(changed[c][y * 640 + x]).toBe(before[c][y * 640 + x])
})

test('where it stood the plate is filled from a held frame that fades at the edge; every other bit stands', async () => {
  const { page, desk } = job
  const box = await picture(page).boundingBox()
  if (!box) throw new Error('There is no picture.')
  const at = (x: number, y: number) => [box.x + (x * box.width) / 640, box.y + (y * box.height) / 360] as const
  await outlineRound(page, at, { x: 120, y: 280, across: 40, down: 30 })
  await card(page).getByText('Matte 1').waitFor()
  await page.keyboard.press('Escape')
  await desk.setNumber('Inner', '8')
  await element(page, 'Quay')
    .or(element(page, 'Plate'))
    .or(element(page, /plate/i as never))
    .first()
    .click()
  await desk.addTreatment('held frame')
  await page.getByRole('combobox', { name: 'When' }).click()
  await page.getByRole('option', { name: 'one frame, held' }).click()
  await desk.setNumber('Frame', '1001')
  const out = await (await desk.deliver('v002'))(1005)
  const [own, held] = [await pictureOf(plates, 1005), await pictureOf(plates, 1001)]
  let [fromHeld, fromOwn] = [0, 0]
  for (let y = 268; y < 292; y++)
    for (let x = 104; x < 136; x++) {
      fromHeld += Math.abs(lightAt(out, 1, x, y) - lightAt(held, 1, x, y))
      fromOwn += Math.abs(lightAt(out, 1, x, y) - lightAt(own, 1, x, y))
    }
  // The grain is that of the held frame.
  expect(fromHeld).toBeLessThan(0.3 * fromOwn)
  const [changed, before] = [bitsOf(out), bitsOf(own)]
  for (let c = 0; c < 3; c++)
    for (let y = 0; y < 360; y += 3)
      for (const x of [0, 60, 170, 230]) expect(changed[c][y * 640 + x]).toBe(before[c][y * 640 + x])
})

test('its shadow is made of its matte: it follows as the crate rises, softens, and thins by keyframes', async () => {
  const { page, desk } = job
  await element(page, 'Crate').click()
  await desk.button('Add made').click()
  await page.getByRole('menuitem', { name: 'Shadow of Crate' }).click()
  await element(page, 'Shadow of Crate').waitFor()
  await desk.goTo(1001)
  await ofParameter(page, 'Opacity', 'Set a keyframe')
  await desk.goTo(1005)
  await desk.setNumber('Opacity', '0.2')
  // It stays on the ground and to the right.
  await desk.goTo(1001)
  await desk.button(/^▸ Place/).click()
  await desk.setNumber('Across', '110')
  await desk.saved()
  const delivered = await desk.deliver('v003')
  const before = await pictureOf(plates, 1001)
  const [low, high] = [await delivered(1001), await delivered(1006)]
  const share = (out: Planes, x: number, y: number, plate: Planes) => lightAt(out, 1, x, y) / lightAt(plate, 1, x, y)
  const [x, y] = [crate.x + crate.width / 2 + 110, crate.y + crate.height / 2]
  const beside = share(low, x, y + 60, before)
  expect(share(low, x, y, before)).toBeLessThan(0.8 * beside)
  // Thinner when it has risen.
  const later = await pictureOf(plates, 1006)
  expect(share(high, x, y - rise, later) / share(high, x, y + 60, later)).toBeGreaterThan(
    share(low, x, y, before) / beside + 0.05,
  )
})

test('a beam of light is added over it, brightest at the lantern and gone at its end, and glows', async () => {
  await job.desk.button('Add made').click()
  await job.page.getByRole('menuitem', { name: 'Gradient' }).click()
  await element(job.page, 'Gradient').waitFor()
  await card(job.page)
    .getByRole('button', { name: /^Blend/ })
    .or(card(job.page).getByRole('combobox', { name: 'Blend' }))
    .first()
    .click()
  await job.page.getByRole('option', { name: /^Add/ }).first().click()
  await job.desk.saved()
  await job.desk.addTreatment('glow')
  const out = await job.desk.deliver('v004')
  const [lit, plate] = [await out(1006), await pictureOf(plates, 1006)]
  const gained = (x: number, y: number) => lightAt(lit, 1, x, y) - lightAt(plate, 1, x, y)
  const places = Array.from({ length: 64 }, (_, i) => gained(10 * i, 20))
  expect(places.every((v) => v >= -1e-3)).toBe(true)
  expect(Math.max(...places) - Math.min(...places)).toBeGreaterThan(0.1)
})
