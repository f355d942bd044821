import { mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { encoder } from '../../core/colour'
import { floatToHalf } from '../../core/image/half'
import type { Planes } from '../../core/image/planes'
import { readDpx, writeDpx } from '../../formats/dpx'
import { writeExr } from '../../formats/exr'
import { deflate } from '../../server/media/exr-blocks'
import { lightAt } from '../driving/desk'
import { beginJob } from '../driving/job'
import { card, deliveries, element, picture } from '../driving/screen'

/**
 * Job 10: shaky log footage. Lettering with alpha follows a place of the footage; what it does not cover comes back bit for bit in
 * the footage's own encoding; and the footage is stabilised instead.
 */

const { cos, exp, floor, hypot, max, round, sin } = Math
const frame = { width: 640, height: 360 }
const frames = [1001, 1002, 1003, 1004, 1005, 1006]
/** How far the camera has shaken what it sees, by frame. */
const shaken: readonly (readonly [number, number])[] = [
  [0, 0],
  [2.4, -1.7],
  [-1.3, 2.2],
  [3.1, 0.6],
  [-2.2, -2.9],
  [0.7, 1.1],
]
/** A lamp on the wheelhouse, and the water behind it. */
const lamp = { x: 210.5, y: 150.5, sigma: 3 }
const lightOf = (x: number, y: number, c: number) =>
  0.12 +
  0.03 * c +
  0.04 * cos(x / 9 + y / 31) * sin(y / 7 - x / 23) +
  2 * exp(-((x - lamp.x) ** 2 + (y - lamp.y) ** 2) / (2 * lamp.sigma ** 2))
/** Upright strokes of letters. */
const sign = { x: 380, y: 90, width: 90, height: 40 }
const isLetter = (x: number) => floor(x / 10) % 2 === 0

let footage = ''
async function makeMedia(own: string): Promise<void> {
  rmSync(join(own, 'plate'), { recursive: true })
  footage = join(own, 'boat')
  mkdirSync(footage, { recursive: true })
  const toCode = encoder('cineon')
  frames.forEach((n, i) => {
    const [sx, sy] = shaken[i]
    const planes = [0, 1, 2].map((c) =>
      Float32Array.from({ length: frame.width * frame.height }, (_, at) => {
        const [x, y] = [(at % frame.width) + 0.5 - sx, floor(at / frame.width) + 0.5 - sy]
        return round(toCode(lightOf(x, y, c)) * 1023) / 1023
      }),
    )
    const bytes = writeDpx(frame, planes, { bits: 10, transfer: 'density', rate: 24 })
    writeFileSync(join(footage, `boat.${n}.dpx`), bytes)
  })
  mkdirSync(join(own, 'sign'), { recursive: true })
  const planes = ['R', 'G', 'B', 'A'].map((name) => ({
    name,
    type: 'half' as const,
    samples: Uint16Array.from({ length: sign.width * sign.height }, (_, i) =>
      floatToHalf(isLetter(i % sign.width) ? (name === 'A' ? 1 : 0.9) : 0),
    ),
  }))
  const parts = [{ dataWindow: sign, displayWindow: { x: 0, y: 0, ...frame }, planes }]
  writeFileSync(join(own, 'sign/lettering.exr'), await writeExr(parts, { compression: 'zip', deflate }))
}

const job = beginJob('harbour', 'harbour-010', makeMedia)

/** Middle of what is brighter than a level in a window. */
function middleOf(picture: Planes, window: { x: number; y: number; width: number; height: number }, above: number) {
  let [sum, mx, my] = [0, 0, 0]
  for (let y = window.y; y < window.y + window.height; y++)
    for (let x = window.x; x < window.x + window.width; x++) {
      const more = max(0, lightAt(picture, 1, x, y) - above)
      sum += more
      mx += more * (x + 0.5)
      my += more * (y + 0.5)
    }
  return [mx / sum, my / sum] as const
}
const aroundSign = { x: sign.x - 10, y: sign.y - 10, width: sign.width + 20, height: sign.height + 20 }
const aroundLamp = { x: 190, y: 130, width: 41, height: 41 }

test('from files: lettering with alpha over log footage, pinned to a place that is tracked', async () => {
  await job.desk.newShot('harbour', 'harbour-010')
  const { page } = job
  await page.keyboard.press('Shift+T')
  const place = await picture(page).boundingBox()
  if (!place) throw new Error('no picture')
  const zoom = place.width / frame.width
  await page.mouse.click(place.x + lamp.x * zoom, place.y + lamp.y * zoom)
  await page.keyboard.press('Escape')
  await job.desk.button('Both ways').click()
  await card(page).getByText('Known on all 6 frames.').waitFor()
  await element(page, 'Lettering').click()
  await job.desk.button('Place: move, turn, scale').click()
  await page.getByRole('checkbox', { name: 'Track 1' }).check()
  await job.desk.saved()
})

test('delivered, the lettering slips by less than 0.3 px on every frame', async () => {
  const delivered = await job.desk.deliver('v001')
  const at = await Promise.all(frames.map(async (n) => middleOf(await delivered(n), aroundSign, 0.35)))
  at.forEach(([x, y], i) => {
    const slip = hypot(x - at[0][0] - shaken[i][0], y - at[0][1] - shaken[i][1])
    expect(slip).toBeLessThan(0.3)
  })
})

test('in the footage’s own encoding, what it does not cover comes back bit for bit', async () => {
  const { page } = job
  await card(page).getByRole('combobox', { name: 'Format' }).click()
  await page.getByRole('option', { name: 'DPX' }).click()
  await card(page).getByRole('button', { name: 'Deliver' }).click()
  await deliveries(page)
    .filter({ hasText: 'v002' })
    .getByText(/^done in/)
    .waitFor({ timeout: 60_000 })
  const folder = join(job.plates, '../../../delivery/harbour-010/v002')
  const name = readdirSync(folder).find((one) => one.includes('1004')) ?? ''
  const read = async (path: string) => readDpx(new Uint8Array(readFileSync(path)), path)
  const [ours, theirs] = [await read(join(folder, name)), await read(join(footage, 'boat.1004.dpx'))]
  let [same, other] = [0, 0]
  for (let i = 0; i < frame.width * frame.height; i++) {
    const [x, y] = [i % frame.width, floor(i / frame.width)]
    const covered =
      x >= aroundSign.x &&
      x < aroundSign.x + aroundSign.width &&
      y >= aroundSign.y &&
      y < aroundSign.y + aroundSign.height
    if (covered) continue
    for (let c = 0; c < 3; c++)
      if (ours.planes[c].samples[i] === theirs.planes[c].samples[i]) same++
      else other++
  }
  expect(other).toBe(0)
  expect(same).toBeGreaterThan(600_000)
  await page.keyboard.press('Escape')
})

test('stabilised, the lamp stands still, and the border that it costs is told and filled', async () => {
  const { page } = job
  await page
    .getByRole('button', { name: /^Finish/ })
    .first()
    .click()
  await job.desk.addTreatment('stabilize')
  await page.getByRole('checkbox', { name: 'Track 1' }).check()
  await job.desk.saved()
  const words = await card(page)
    .getByText(/^Its border comes in by/)
    .textContent()
  // It shakes by 3.1 px at most.
  expect(Number(/by ([\d.]+) px/.exec(words ?? '')?.[1])).toBeCloseTo(3.1, 1)
  const held = await job.desk.deliver('v003')
  const at = await Promise.all(frames.map(async (n) => middleOf(await held(n), aroundLamp, 0.6)))
  for (const [x, y] of at) expect(hypot(x - at[0][0], y - at[0][1])).toBeLessThan(0.1)
  await page.keyboard.press('Escape')
  await page
    .getByRole('button', { name: /^Finish/ })
    .first()
    .click()
  await job.desk.button(/^Fill by/).click()
  await card(page).getByText('The picture fills the frame on every frame.').waitFor()
})

test('smoothed over a second, what is left of the shake is much less than it was', async () => {
  await job.desk.setNumber('Smooth', '24')
  const smooth = await job.desk.deliver('v004')
  const at = await Promise.all(frames.map(async (n) => middleOf(await smooth(n), aroundLamp, 0.6)))
  const steps = (places: readonly (readonly [number, number])[]) =>
    places.slice(1).reduce((sum, [x, y], i) => sum + hypot(x - places[i][0], y - places[i][1]), 0)
  expect(steps(at)).toBeLessThan(0.4 * steps(shaken))
})
