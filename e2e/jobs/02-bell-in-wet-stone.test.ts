import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { floatToHalf } from '../../core/image/half'
import type { Planes } from '../../core/image/planes'
import { writeExr } from '../../formats/exr'
import { deflate } from '../../server/media/exr-blocks'
import { bitsOf, lightAt, pictureOf } from '../driving/desk'
import { beginJob } from '../driving/job'
import { card, element, picture } from '../driving/screen'

/**
 * Job 2: a bell is mirrored in wet stone. Its reflection comes between shadow and bell as light that is added, is softened more down
 * than across, lowered, fades with its distance from the bell, and ends where the stone ends.
 */

const frame = { width: 640, height: 360 }
const bell = { x: 280, y: 60, width: 80, height: 100 }
/** Sharp, and twice as bright as it ought to be. */
const mirrored = { x: 280, y: 190, width: 80, height: 100 }
const light = 0.5
const [across, down] = [2, 6]

async function makeMedia(own: string): Promise<void> {
  mkdirSync(join(own, 'cg'), { recursive: true })
  const flat = ({ width, height }: typeof bell, names: string, value: number) =>
    [...names].map((name) => ({
      name,
      type: 'half' as const,
      samples: new Uint16Array(width * height).fill(floatToHalf(name === 'A' ? 1 : value)),
    }))
  const displayWindow = { x: 0, y: 0, ...frame }
  const shadow = { x: 240, y: 170, width: 160, height: 30 }
  const file = await writeExr(
    [
      { name: 'beauty', dataWindow: bell, displayWindow, planes: flat(bell, 'RGBA', 0.3) },
      { name: 'shadow', dataWindow: shadow, displayWindow, planes: flat(shadow, 'Y', 0.5) },
      { name: 'ground_reflection', dataWindow: mirrored, displayWindow, planes: flat(mirrored, 'RGB', light) },
    ],
    { compression: 'zip', deflate },
  )
  for (let at = 1001; at <= 1006; at++) writeFileSync(join(own, `cg/bell_v001.${at}.exr`), file)
}

const job = beginJob('stone', 'stone-010', makeMedia)

/** What the reflection adds to the plate at a pixel, below the shadow. */
const gained = (out: Planes, plate: Planes, x: number, y: number) => lightAt(out, 1, x, y) - lightAt(plate, 1, x, y)

async function boxDrawn(left: number, top: number, right: number, bottom: number): Promise<void> {
  const { page } = job
  const box = await picture(page).boundingBox()
  if (!box) throw new Error('There is no picture.')
  const at = (x: number, y: number) =>
    [box.x + (x * box.width) / frame.width, box.y + (y * box.height) / frame.height] as const
  await page.keyboard.press('u')
  await page.keyboard.down('Shift')
  for (const [x, y] of [
    [left, top],
    [right, top],
    [right, bottom],
    [left, bottom],
  ] as const)
    // prettier-ignore
    await page.mouse.click(...at(x, y))
  await page.keyboard.up('Shift')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Escape')
}

test('from files the reflection comes between shadow and bell, as light that is added', async () => {
  await job.desk.newShot('stone', 'stone-010')
  const heights = await Promise.all(
    ['Plate', 'Bell shadow', 'Bell reflection', 'Bell [^sr]'].map(
      async (name) => (await element(job.page, name).first().boundingBox())?.y ?? NaN,
    ),
  )
  expect(heights.every(Number.isFinite)).toBe(true)
  expect(heights).toEqual([...heights].sort((one, other) => one - other))
  await element(job.page, 'Bell reflection').click()
  await card(job.page)
    .getByText(/Add \(plus-lighter\)/)
    .first()
    .waitFor()
})

test('softened and lowered, its light and its two widths are what was asked for; the bell in front is untouched', async () => {
  await job.desk.addTreatment('softer')
  await job.desk.setNumber('Across', String(across))
  await job.desk.setNumber('Down', String(down))
  await job.desk.addTreatment('exposure')
  for (const channel of ['red', 'green', 'blue']) await job.desk.setNumber(`Exposure ${channel}`, '-1')
  const out = await (await job.desk.deliver('v001'))(1003)
  const plate = await pictureOf(job.plates, 1003)
  // Below the shadow, so that the plate behind is as it was.
  const [bottom, top] = [mirrored.y + mirrored.height, 230]
  let sum = 0
  for (let y = top; y < bottom + 30; y++) for (let x = 260; x < 380; x++) sum += gained(out, plate, x, y)
  const wanted = (light / 2) * mirrored.width * (bottom - top)
  expect(Math.abs(sum / wanted - 1)).toBeLessThan(0.02)
  // Widths of its edges, as the deviation of what an edge is spread by: across at the left, down at the lower end.
  const spreadOf = (profile: readonly number[]) => {
    const steps = profile.slice(1).map((value, i) => value - profile[i])
    const all = steps.reduce((a, b) => a + b, 0)
    const mean = steps.reduce((a, b, i) => a + b * i, 0) / all
    return Math.sqrt(steps.reduce((a, b, i) => a + b * (i - mean) ** 2, 0) / all)
  }
  const meanOver = (from: number, to: number, of: (i: number) => number) =>
    Array.from({ length: to - from }, (_, i) => of(from + i)).reduce((a, b) => a + b, 0) / (to - from)
  const left = Array.from({ length: 20 }, (_, i) =>
    meanOver(235, 265, (y) => gained(out, plate, mirrored.x - 10 + i, y)),
  )
  const low = Array.from({ length: 56 }, (_, i) => meanOver(300, 340, (x) => gained(out, plate, x, bottom - 28 + i)))
  expect(Math.abs(spreadOf(left) - across)).toBeLessThan(0.15)
  expect(Math.abs(spreadOf(low) - down)).toBeLessThan(0.3)
  for (const [x, y] of [
    [285, 65],
    [320, 110],
    [355, 155],
  ] as const)
    // prettier-ignore
    expect(lightAt(out, 1, x, y)).toBeCloseTo(0.3, 3)
})

test('it fades with its distance from the bell, and ends softly where the stone ends; beyond, every bit is the plate’s', async () => {
  // What is beyond the stone, to the right, has a soft edge of 8 px; what fades below, one of 80.
  await boxDrawn(340, 150, 420, 350)
  await job.desk.setNumber('Inner', '8')
  await element(job.page, 'Bell reflection').click()
  await job.desk.addTreatment('holdout')
  await boxDrawn(200, 230, 460, 350)
  await job.desk.setNumber('Inner', '80')
  await element(job.page, 'Bell reflection').click()
  await job.desk.addTreatment('holdout')
  const out = await (await job.desk.deliver('v002'))(1003)
  const plate = await pictureOf(job.plates, 1003)
  const row = (y: number) => gained(out, plate, 310, y)
  const levels = [225, 240, 255, 270, 285].map(row)
  levels.slice(1).forEach((level, i) => expect(level).toBeLessThan(levels[i] + 1e-3))
  expect(levels[4]).toBeLessThan(0.5 * levels[0])
  // At the stone's end the light goes within the soft edge.
  expect(gained(out, plate, 336, 225)).toBeGreaterThan(0.9 * gained(out, plate, 310, 225))
  expect(gained(out, plate, 352, 225)).toBeLessThan(0.05 * gained(out, plate, 310, 225))
  const [changed, before] = [bitsOf(out), bitsOf(plate)]
  for (let c = 0; c < 3; c++)
    for (let y = 205; y < frame.height; y++)
      for (const x of [0, 120, 239, 351, 400, 639])
        expect(changed[c][y * frame.width + x]).toBe(before[c][y * frame.width + x])
})
