import { execFile } from 'node:child_process'
import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { decoder, encoder } from '../../core/colour'
import { floatToHalf } from '../../core/image/half'
import type { Planes } from '../../core/image/planes'
import { contains, type Window } from '../../core/image/window'
import { writeExr } from '../../formats/exr'
import { deflate } from '../../server/media/exr-blocks'
import { bitsOf, lightAt, pictureIn, pictureOf } from '../driving/desk'
import { beginJob } from '../driving/job'
import { card, controlClick, deliveries, drag, element, outlineRound, picture, source } from '../driving/screen'

/**
 * Job 9: a log plate whose file does not say so, water and a buoy rendered at half size, and a still with its shadow. What is
 * delivered is ungraded, in the plate's own encoding; beside it goes a movie to look at.
 */

const { PI, abs, cos, floor, hypot, imul, log, sqrt } = Math
const frame: Window = { x: 0, y: 0, width: 640, height: 360 }
const half: Window = { x: 0, y: 0, width: 320, height: 180 }
const frames = [1001, 1002, 1003, 1004, 1005, 1006]

/** On the plate: light in its darkest part, posts, and a card of mid grey. */
const veil = [0.012, 0.015, 0.02]
const nearPost: Window = { x: 430, y: 60, width: 40, height: 280 }
const farPost: Window = { x: 280, y: 140, width: 16, height: 125 }
const greyCard: Window = { x: 30, y: 30, width: 60, height: 50 }
/** Of the whole frame, though it is rendered at half of it. */
const buoy = { x: 321, y: 221, radius: 60 }
const waterTop = 250
const crate: Window = { x: 520, y: 150, width: 50, height: 50 }
const crateShadow: Window = { x: 500, y: 205, width: 90, height: 20 }

const inside = (window: Window, x: number, y: number) => contains(window, { x, y, width: 1, height: 1 })

/** Deviation of the grain: strongest in blue, and beside its light in the dark. */
const shot = [0.4, 0.35, 0.8]
const read = [2, 2, 4]
const deviation = (light: number, c: number) => sqrt(light * shot[c] * 1e-3 + (read[c] * 1e-3) ** 2)

/** Evenly spread, of four whole numbers. */
function random(...of: readonly number[]): number {
  let h = 2166136261
  for (const one of of) {
    h = imul(h ^ one, 16777619)
    h ^= h >>> 13
    h = imul(h, 0x5bd1e995)
    h ^= h >>> 15
  }
  return ((h >>> 0) + 0.5) / 2 ** 32
}
const normal = (n: number, i: number, j: number, c: number) =>
  sqrt(-2 * log(random(n, i, j, c))) * cos(2 * PI * random(n, i, j, c + 7))

function plateLight(i: number, j: number, c: number): number {
  if (inside(greyCard, i, j)) return 0.18
  if (inside(nearPost, i, j) || inside(farPost, i, j)) return veil[c]
  return veil[c] + [0.1, 0.11, 0.14][c] * (1.4 - j / 360)
}
const grained = (n: number, i: number, j: number, c: number) => {
  const light = plateLight(i, j, c)
  return light + deviation(light, c) * normal(n, i, j, c)
}

interface Part {
  readonly name?: string
  readonly window: Window
  readonly channels: string
}
async function write(
  path: string,
  parts: readonly Part[],
  size: Window,
  value: (channel: string, i: number, j: number) => number,
) {
  const written = parts.map(({ name, window, channels }) => ({
    ...(name === undefined ? {} : { name }),
    ...{ dataWindow: window, displayWindow: size, standard: { framesPerSecond: { numerator: 24, denominator: 1 } } },
    planes: [...channels].sort().map((channel) => ({
      name: channel,
      type: 'half' as const,
      samples: Uint16Array.from({ length: window.width * window.height }, (_, k) =>
        floatToHalf(value(channel, window.x + (k % window.width), window.y + floor(k / window.width))),
      ),
    })),
  }))
  writeFileSync(path, await writeExr(written, { compression: 'zip', deflate }))
}

/** Of a pixel at half size, by 64 places in it. */
function buoyCovers(i: number, j: number): number {
  let sum = 0
  for (let v = 0; v < 8; v++)
    for (let u = 0; u < 8; u++)
      sum += hypot(2 * (i + (u + 0.5) / 8) - buoy.x, 2 * (j + (v + 0.5) / 8) - buoy.y) < buoy.radius ? 1 / 64 : 0
  return sum
}
/** Dark as only a render is at its lower half. */
const buoyLight = (j: number, c: number) => (2 * j > buoy.y ? 0 : [0.24, 0.12, 0.08][c])

const job = beginJob('sea', 'sea-009', async (own) => {
  for (const name of readdirSync(join(own, 'plate'))) rmSync(join(own, 'plate', name))
  for (const folder of ['water', 'buoy', 'crate']) mkdirSync(join(own, folder))
  const toCode = encoder('logc3')
  const rgb = [{ window: frame, channels: 'RGB' }]
  for (const n of frames)
    await write(join(own, `plate/sea_plate.${n}.exr`), rgb, frame, (channel, i, j) =>
      toCode(grained(n, i, j, 'RGB'.indexOf(channel))),
    )
  const top = waterTop / 2
  const water = [{ window: { x: 0, y: top, width: 320, height: 180 - top }, channels: 'RGBA' }]
  const passes = [
    { name: 'beauty', window: half, channels: 'RGBA' },
    { name: 'specular', window: half, channels: 'RGB' },
  ]
  for (const n of frames) {
    await write(join(own, `water/water_v001.${n}.exr`), water, half, (channel) =>
      channel === 'A' ? 1 : [0.03, 0.05, 0.07]['RGB'.indexOf(channel)],
    )
    await write(
      join(own, `buoy/buoy_v001.${n}.exr`),
      passes,
      half,
      (channel, i, j) => buoyCovers(i, j) * (channel === 'A' ? 1 : buoyLight(j, 'RGB'.indexOf(channel))),
    )
  }
  const still = [
    { name: 'beauty', window: crate, channels: 'RGBA' },
    { name: 'shadow', window: crateShadow, channels: 'Y' },
  ]
  // Red and blue change places.
  const swapped = [0, 1, 2, 3, 4, 5, 6, 7].map((k) => `${k >> 2} ${(k >> 1) & 1} ${k & 1}`).join('\n')
  writeFileSync(join(own, 'evening.cube'), `LUT_3D_SIZE 2\n${swapped}\n`)
  await write(join(own, 'crate/crate_v001.exr'), still, frame, (channel) =>
    channel === 'A' || channel === 'Y' ? 1 : 0.05,
  )
})

async function onPicture() {
  const box = await picture(job.page).boundingBox()
  if (!box) throw new Error('There is no picture.')
  return (x: number, y: number) =>
    [box.x + (x * box.width) / frame.width, box.y + (y * box.height) / frame.height] as const
}

test('from files: water and buoy at twice their size, the crate with its shadow, all over the plate', async () => {
  await job.desk.newShot('sea', 'sea-009')
  for (const name of ['Plate', 'Water', 'Buoy', 'Crate shadow', 'Crate'])
    await element(job.page, name).first().waitFor()
})

const keepSample = async (x: number, y: number) => controlClick(job.page, ...(await onPicture())(x, y))

test('which encoding the plate is in is found by a line-up, by the card that was mid grey', async () => {
  await keepSample(60, 55)
  await job.page
    .getByRole('button', { name: /Sources/ })
    .first()
    .click()
  await source(job.page, 'Plate').click()
  await card(job.page)
    .getByText(/looks log/)
    .waitFor()
  await job.desk.button('Wedge …').click()
  await job.page.getByRole('combobox', { name: 'A sample that was mid grey' }).click()
  await job.page.getByRole('option').nth(1).click()
  await job.page.getByRole('button', { name: /^1\. LogC3/ }).click()
  await card(job.page)
    .getByText(/looks log/)
    .waitFor({ state: 'detached' })
  await job.desk.saved()
  await job.page.getByRole('region', { name: 'Sources' }).getByRole('button', { name: 'Close' }).click()
})

/** Mean of a channel about a place. */
function mean(of: Planes, c: number, x: number, y: number, reach = 4): number {
  let [sum, many] = [0, 0]
  for (let j = y - reach; j <= y + reach; j++)
    for (let i = x - reach; i <= x + reach; i++) [sum, many] = [sum + lightAt(of, c, i, j), many + 1]
  return sum / many
}

test('rendered at half size, the buoy lies where it was aimed, at twice its pixels', async () => {
  const out = await (await job.desk.deliver('v001'))(1003)
  const y = 200
  const bright = (x: number) => mean(out, 0, x, y, 0) > 0.17
  const first = Array.from({ length: 640 }, (_, x) => x).findIndex((x) => x > 240 && bright(x) && bright(x + 1))
  expect(abs(first - (buoy.x - sqrt(buoy.radius ** 2 - (y + 0.5 - buoy.y) ** 2)))).toBeLessThan(1)
  expect(mean(out, 0, 321, 190)).toBeCloseTo(0.24, 3)
  await job.page.keyboard.press('Escape')
})

async function regionAt(x: number, y: number, wide: number, high: number): Promise<void> {
  const at = await onPicture()
  await job.page.keyboard.down('Shift')
  await drag(job.page, at(x - wide, y - high), at(x, y), at(x + wide, y + high))
  await job.page.keyboard.up('Shift')
  await job.desk.saved()
}

test('its dark end is brought to the plate’s by values that are read on both sides', async () => {
  await element(job.page, 'Buoy').click()
  await regionAt(450, 150, 14, 12)
  await regionAt(321, 236, 20, 10)
  await job.desk.button('More of sample 2').click()
  await job.page.getByRole('menuitem', { name: 'Ought to be matched by Buoy at 3' }).click()
  const evidence = job.page.getByRole('region', { name: 'Evidence' })
  await evidence.getByRole('button', { name: 'Witness 1: Drifts.' }).waitFor()
  await card(job.page).getByRole('button', { name: 'Use the veil' }).click()
  await evidence.getByRole('button', { name: 'Witness 1: Agrees.' }).waitFor()
  const out = await (await job.desk.deliver('v002'))(1003)
  for (const c of [0, 1, 2]) expect(abs(mean(out, c, 321, 236, 6) - veil[c])).toBeLessThan(0.0015)
  await job.page.keyboard.press('Escape')
})

async function boxDrawn({ x, y, width, height }: Window): Promise<void> {
  const at = await onPicture()
  await job.page.keyboard.press('u')
  await job.page.keyboard.down('Shift')
  for (const [i, j] of [
    [x, y],
    [x + width, y],
    [x + width, y + height],
    [x, y + height],
  ])
    await job.page.mouse.click(...at(i, j))
  await job.page.keyboard.up('Shift')
  await job.page.keyboard.press('Enter')
  await job.page.keyboard.press('Escape')
}

test('the near post stands in front of water and buoy, the far one in front of the buoy', async () => {
  for (const [post, behind] of [
    [nearPost, ['Water']],
    [farPost, ['Buoy', 'Water']],
  ] as const) {
    await element(job.page, 'Plate').first().click()
    await boxDrawn(post)
    for (const name of behind) {
      await element(job.page, name).first().click()
      await job.desk.addTreatment('holdout')
    }
  }
  const out = await (await job.desk.deliver('v003'))(1003)
  await job.page.keyboard.press('Escape')
  const toLight = decoder('logc3')
  const plate = await pictureOf(job.plates, 1003)
  for (const { x, y, width, height } of [nearPost, farPost])
    for (let j = y + 3; j < y + height - 3; j += 5)
      for (let i = x + 3; i < x + width - 3; i += 3)
        for (const c of [0, 1, 2]) expect(lightAt(out, c, i, j)).toBeCloseTo(toLight(lightAt(plate, c, i, j)), 4)
})

const parameter = async (name: string) =>
  Number(await card(job.page).getByRole('spinbutton', { name, exact: true }).first().textContent())

test('a correction counts inside a soft ellipse; another setting of it is a try, and the first is gone back to', async () => {
  await element(job.page, 'Plate').first().click()
  await outlineRound(job.page, await onPicture(), { x: 340, y: 190, across: 22, down: 14 })
  await job.page.keyboard.press('Escape')
  await job.desk.setNumber('Outer', '12')
  await element(job.page, 'Buoy').click()
  await job.desk.addTreatment('saturation')
  await card(job.page)
    .getByRole('button', { name: /Limit wholly, everywhere/ })
    .last()
    .click()
  await card(job.page)
    .getByRole('combobox', { name: 'Where it counts' })
    .filter({ hasText: /^everywhere/ })
    .click()
  await job.page.getByRole('option', { name: 'Matte 3' }).click()
  await job.desk.setNumber('Saturation', '0.8')
  await job.desk.button('Keep these settings of saturation as a try').click()
  await job.desk.setNumber('Saturation', '0.2')
  await job.desk.button('Keep these settings of saturation as a try').click()
  await job.desk.button('The try before, of saturation').click()
  await job.desk.saved()
  expect(await parameter('Saturation')).toBeCloseTo(0.8, 6)
  const out = await (await job.desk.deliver('v004'))(1003)
  await job.page.keyboard.press('Escape')
  const spread = (x: number, y: number) => mean(out, 0, x, y, 1) - mean(out, 2, x, y, 1)
  const full = spread(305, 200)
  expect(spread(340, 190) / full).toBeCloseTo(0.8, 2)
  // On its way out, half way between.
  const edge = spread(340 + 22 + 6, 190) / full
  expect(edge).toBeGreaterThan(0.85)
  expect(edge).toBeLessThan(0.97)
})

test('what belongs together is a group with a label, softened by 0.4 px', async () => {
  await element(job.page, 'Crate shadow').click()
  await job.page.keyboard.down('Control')
  await element(job.page, 'Crate').last().click()
  await job.page.keyboard.up('Control')
  await job.page.keyboard.press('Control+g')
  await element(job.page, 'Group').click()
  await card(job.page)
    .getByRole('button', { name: /Note and tags/ })
    .click()
  await card(job.page).getByRole('button', { name: 'moss', exact: true }).click()
  await element(job.page, 'Water').click()
  await job.desk.addTreatment('soften')
  for (const name of ['Across', 'Down']) await job.desk.setNumber(name, '0.4')
  await job.desk.saved()
})

test('grain is measured channel by channel, falls with brightness beside its light, and is put on what is added', async () => {
  await job.page
    .getByRole('button', { name: /^Sensor/ })
    .first()
    .click()
  await job.desk.addTreatment('grain')
  await job.desk.button('Measure the plate’s').click()
  await card(job.page)
    .getByText(/^On \d pairs of frames/)
    .waitFor()
  await job.desk.saved()
  const found = await Promise.all(
    [0, 1, 2].map(async (c) => {
      const [ofShot, ofRead] = await Promise.all(
        ['Shot', 'Read'].map((name) => parameter(`${name} ${['red', 'green', 'blue'][c]}`)),
      )
      return (light: number) => sqrt(1e-3 * ofShot * light + (ofRead * 1e-3) ** 2)
    }),
  )
  for (const [c, measured] of found.entries())
    for (const light of [0.06, 0.12, 0.18]) expect(measured(light) / deviation(light, c)).toBeCloseTo(1, 1)
  expect(found[2](0.1)).toBeGreaterThan(found[0](0.1))
})

test('delivered in the plate’s own encoding, ungraded, its bits where nothing was put; a movie shows it through the table', async () => {
  const { page } = job
  await job.desk.button('Deliver').click()
  await card(page).getByRole('combobox', { name: 'Encoding' }).click()
  await page.getByRole('option', { name: 'as the plate' }).click()
  await card(page).getByRole('button', { name: 'Add an output' }).click()
  await card(page).getByRole('combobox', { name: 'Seen through' }).click()
  await page.getByRole('option', { name: 'the table Evening' }).click()
  await card(page).getByRole('button', { name: 'Deliver' }).click()
  await deliveries(page)
    .filter({ hasText: 'v005' })
    .getByText(/^done in/)
    .waitFor({ timeout: 60_000 })
  const folder = join(job.plates, '../../../delivery/sea-009/v005')
  const [ours, theirs] = await Promise.all([
    pictureIn(join(folder, 'sea-009_comp_v005.1004.exr')),
    pictureOf(job.plates, 1004),
  ])
  const [delivered, plate] = [bitsOf(ours), bitsOf(theirs)]
  let same = 0
  for (let y = 0; y < 130; y++)
    for (let x = 0; x < 500; x++)
      for (const c of [0, 1, 2]) {
        const i = y * frame.width + x
        if (delivered[c][i] !== plate[c][i]) throw new Error(`${x} ${y} is not the plate's`)
        same++
      }
  expect(same).toBe(195_000)
  // What was added has grain that is new on every frame.
  const other = await pictureIn(join(folder, 'sea-009_comp_v005.1005.exr'))
  expect(mean(ours, 0, 600, 320)).not.toBe(mean(other, 0, 600, 320))
  // In its own file, in light, the buoy is redder than blue; through the table the movie shows it the other way round.
  expect(mean(ours, 0, 360, 200)).toBeGreaterThan(mean(ours, 2, 360, 200))
  const { stdout } = await promisify(execFile)(
    'ffmpeg',
    [
      '-v',
      'error',
      '-i',
      join(folder, 'sea-009_comp_v005.mp4'),
      '-frames:v',
      '1',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgb24',
      '-',
    ],
    { encoding: 'buffer', maxBuffer: 1e8 },
  )
  const pixel = 3 * (200 * frame.width + 360)
  expect(stdout[pixel + 2]).toBeGreaterThan(stdout[pixel] + 20)
})
