import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { floatToHalf } from '../../core/image/half'
import type { Planes } from '../../core/image/planes'
import type { Window } from '../../core/image/window'
import { bytesSource, readExr, writeExr } from '../../formats/exr'
import { deflate, unpacking } from '../../server/media/exr-blocks'
import { bitsOf, lightAt, pictureOf } from '../driving/desk'
import { beginJob } from '../driving/job'
import { card, deliveries, element, picture } from '../driving/screen'

/**
 * Job 5: gulls that were rendered without motion blur fly behind a shed while the plate pans. Two points are tracked backwards and the
 * gulls pinned at the last frame; the shed is outlined once on the tracks, where gulls pass, and holds them out; they are softened, blurred
 * by their own motion, and their blacks lifted by number.
 */

const frame: Window = { x: 0, y: 0, width: 640, height: 360 }
const frames = [1001, 1002, 1003, 1004, 1005, 1006]
/** How far the camera has panned: everything goes to the left and up. */
const pan = (at: number) => [3 * (at - 1001), 0.5 * (at - 1001)] as const
const veil = 0.03
/** In the world. */
const shed = { left: 330, right: 450, top: 110, bottom: 330 }
/** The gull's middle in its render, and its size: it goes 32 pixels a frame. */
const gull = { x: (at: number) => 190 + 32 * (at - 1001), y: 200, radius: 22, light: 0.004 }

const { abs, cos, hypot, max, min, sin } = Math
const share = (from: number, to: number, at: number) => max(0, min(1, min(to, at + 1) - max(from, at)))
function plateLight(at: number, x: number, y: number, c: number): number {
  const [dx, dy] = pan(at)
  const [wx, wy] = [x + dx, y + dy]
  const wall = 0.22 + 0.05 * sin(wx / 9.1) * cos(wy / 7.3) + 0.04 * sin(wx / 3.7 + wy / 5.2)
  const boards = 0.03 + 0.012 * sin(wx / 4.1) * cos(wy / 5.3)
  const inside = share(shed.left, shed.right, wx) * share(shed.top, shed.bottom, wy)
  const noise = 0.002 * sin(x * 127.1 + y * 311.7 + at * 74.7 + c * 19.3)
  return [1, 0.95, 0.9][c] * (wall + inside * (boards - wall)) + veil + noise
}

async function writeSequence(
  folder: string,
  name: string,
  channels: string,
  light: (at: number, x: number, y: number, c: number) => number,
) {
  mkdirSync(folder, { recursive: true })
  for (const at of frames) {
    const planes = [...channels].sort().map((channel) => ({
      name: channel,
      type: 'half' as const,
      samples: Uint16Array.from({ length: frame.width * frame.height }, (_, i) =>
        floatToHalf(light(at, i % frame.width, Math.floor(i / frame.width), 'RGBA'.indexOf(channel))),
      ),
    }))
    const standard = { framesPerSecond: { numerator: 24, denominator: 1 } }
    const parts = [{ dataWindow: frame, displayWindow: frame, planes, standard }]
    writeFileSync(join(folder, `${name}.${at}.exr`), await writeExr(parts, { compression: 'zip', deflate }))
  }
}

async function makeMedia(own: string): Promise<void> {
  for (const name of readdirSync(join(own, 'plate'))) rmSync(join(own, 'plate', name))
  await writeSequence(join(own, 'plate'), 'shed_plate', 'RGB', plateLight)
  await writeSequence(join(own, 'cg'), 'gulls_v001', 'RGBA', (at, x, y, c) => {
    const a = max(0, min(1, gull.radius - hypot(x + 0.5 - gull.x(at), y + 0.5 - gull.y) + 0.5))
    const feathers = 0.5 + 0.5 * sin((x - gull.x(at)) / 2.7) * cos((y - gull.y) / 3.1)
    return c === 3 ? a : a * gull.light * feathers
  })
}

const job = beginJob('gulls', 'gulls-010', makeMedia)
const plateAt = (at: number) => pictureOf(job.plates, at)
/** Where the gull is in the plate, pinned at the last frame. */
const gullAt = (at: number) => [gull.x(at) + pan(1006)[0] - pan(at)[0], gull.y + pan(1006)[1] - pan(at)[1]] as const
async function onPicture() {
  const box = await picture(job.page).boundingBox()
  if (!box) throw new Error('There is no picture.')
  return (x: number, y: number) =>
    [box.x + (x * box.width) / frame.width, box.y + (y * box.height) / frame.height] as const
}
/** How much of the plate's light is gone along a row. */
const gone = (out: Planes, plate: Planes, y: number) =>
  Array.from({ length: frame.width }, (_, x) => 1 - lightAt(out, 1, x, y) / lightAt(plate, 1, x, y))

test('two corners of the shed are tracked backwards, and the gulls pinned to both at the last frame', async () => {
  const { page, desk } = job
  await desk.newShot('gulls', 'gulls-010')
  await desk.goTo(1006)
  const at = await onPicture()
  const [dx, dy] = pan(1006)
  for (const corner of [shed.left, shed.right]) {
    await page.keyboard.press('Shift+T')
    await page.mouse.click(...at(corner - dx, shed.top - dy))
    await page.keyboard.press('Escape')
    await desk.button('Track back').click()
    await card(page).getByText('Known on all 6 frames.').waitFor()
  }
  await element(page, 'Gulls').click()
  await desk.button('Place: move, turn, scale').click()
  await page.getByRole('checkbox', { name: 'Track 1' }).check()
  await page.getByRole('checkbox', { name: 'Track 2' }).check()
  await card(page).getByText('Pinned, as placed on 1006').waitFor()
  await desk.saved()
})

test('the shed is outlined once on the tracks, where gulls pass, and holds them out', async () => {
  const { page, desk } = job
  const at = await onPicture()
  const [dx, dy] = pan(1006)
  await page.keyboard.press('u')
  await page.keyboard.down('Shift')
  for (const [x, y] of [
    [shed.left, shed.top],
    [shed.right, shed.top],
    [shed.right, shed.bottom],
    [shed.left, shed.bottom],
  ])
    await page.mouse.click(...at(x - dx, y - dy))
  await page.keyboard.up('Shift')
  await page.keyboard.press('Enter')
  await card(page).getByRole('heading', { name: 'Matte 1' }).waitFor()
  await page.keyboard.press('Escape')
  await page.getByRole('checkbox', { name: 'Track 1' }).check()
  await page.getByRole('checkbox', { name: 'Track 2' }).check()
  await card(page).getByRole('checkbox', { name: 'Where elements pass' }).check()
  await card(page).getByText('on frames 1004 to 1006: it has to be right only there.').waitFor({ timeout: 60_000 })
  await desk.saved()
  await element(page, 'Gulls').click()
  await desk.addTreatment('holdout')
})

test('blurred by its own motion, it fits its speed times the shutter; behind the shed every bit is the plate’s', async () => {
  const { page, desk } = job
  await desk.button(/^▸ Sources/).click()
  await page.getByRole('region', { name: 'Sources' }).getByRole('button', { name: 'Make …' }).click()
  await page.getByRole('menuitem', { name: /^Motion blur/ }).click()
  await desk.button('Make it').click()
  await page
    .getByLabel('How the making stands')
    .getByText('Blurred by its own motion, 180 degrees.')
    .waitFor({ timeout: 60_000 })
  await element(page, 'Gulls').click()
  await desk.button(/^▸ Made of/).click()
  await card(page).getByRole('combobox', { name: 'Pass' }).click()
  await page.getByRole('option', { name: 'Motion blur' }).click()
  const out = await desk.deliver('v001')
  for (const at of [1002, 1003]) {
    const [x, y] = gullAt(at)
    const covered = gone(await out(at), await plateAt(at), Math.round(y))
    const edge = covered.slice(Math.round(x) - 45, Math.round(x)).filter((one) => one > 0.1 && one < 0.9)
    // Sixteen pixels of an even ramp, of which four fifths lie between a tenth and nine tenths.
    expect(abs(edge.length - 0.8 * 16)).toBeLessThan(3)
    expect(covered.reduce((sum, one) => sum + max(0, one - 0.05), 0)).toBeGreaterThan(30)
  }
  for (const at of [1005, 1006]) {
    const [changed, before] = [bitsOf(await out(at)), bitsOf(await plateAt(at))]
    const [dx, dy] = pan(at)
    // A pixel within the edge, on frames on which nothing was drawn.
    for (let y = Math.ceil(shed.top - dy) + 1; y < shed.bottom - dy - 1; y += 3)
      for (let x = Math.ceil(shed.left - dx) + 1; x < shed.right - dx - 1; x++)
        for (let c = 0; c < 3; c++) expect(changed[c][y * frame.width + x]).toBe(before[c][y * frame.width + x])
  }
  const half = gone(await out(1005), await plateAt(1005), Math.round(gullAt(1005)[1]))
  // Right beside the shed it is seen.
  expect(half[Math.floor(shed.left - pan(1005)[0]) - 2]).toBeGreaterThan(0.5)
})

test('its blacks are lifted by number, channel by channel, and lie within the tolerance on every frame', async () => {
  const { desk } = job
  await element(job.page, 'Gulls').click()
  await desk.addTreatment('black level')
  for (const channel of ['red', 'green', 'blue']) await desk.setNumber(`Veil ${channel}`, String(veil))
  await desk.addTreatment('saturation')
  await card(job.page).getByRole('spinbutton', { name: 'Saturation', exact: true }).last().click()
  await job.page.getByRole('textbox', { name: 'Saturation', exact: true }).fill('0.9')
  await job.page.keyboard.press('Enter')
  await desk.addTreatment('soften')
  for (const name of ['Across', 'Down']) {
    // The last of that name: the first is of its place.
    await card(job.page).getByRole('spinbutton', { name, exact: true }).last().click()
    await job.page.getByRole('textbox', { name, exact: true }).fill('0.5')
    await job.page.keyboard.press('Enter')
  }
  await desk.saved()
  const out = await desk.deliver('v002')
  for (const at of [1001, 1002, 1003, 1004]) {
    const [x, y] = gullAt(at)
    const one = await out(at)
    for (let c = 0; c < 3; c++) {
      let sum = 0
      for (let j = -4; j <= 4; j++)
        for (let i = -4; i <= 4; i++) sum += lightAt(one, c, Math.round(x) + i, Math.round(y) + j) / 81
      expect(abs(sum - veil - gull.light / 2)).toBeLessThan(0.002)
    }
  }
})

test('softness, glow and grain over all change the picture and leave the matte as it was, bit for bit', async () => {
  const { page, desk } = job
  const delivered = async (what: string | RegExp, version: string, channels: string[]) => {
    await element(page, 'Gulls').click()
    await page.getByRole('banner').getByRole('button', { name: 'Deliver' }).click()
    await card(page).getByRole('combobox', { name: 'What' }).click()
    await page.getByRole('option', { name: what, exact: true }).click()
    await card(page).getByRole('button', { name: 'Deliver' }).click()
    await deliveries(page)
      .filter({ hasText: version })
      .getByText(/^done in/)
      .waitFor({ timeout: 60_000 })
    const folder = join(job.plates, `../../../delivery/gulls-010/${version}`)
    const path = join(folder, readdirSync(folder).find((one) => one.includes('1003')) ?? '')
    const { planes } = await readExr(bytesSource(new Uint8Array(readFileSync(path)), path), { ...unpacking, channels })
    return planes[0].samples
  }
  const [matte, whole] = [await delivered('matte Matte 1', 'v003', ['Y']), await delivered('composite', 'v004', ['G'])]
  expect(matte.some((one) => one !== 0)).toBe(true)
  await desk.button(/^Finish/).click()
  for (const does of ['soften', 'glow', 'grain']) await desk.addTreatment(does)
  await desk.setNumber('Across', '0.6')
  expect(await delivered('matte Matte 1', 'v005', ['Y'])).toEqual(matte)
  expect(await delivered('composite', 'v006', ['G'])).not.toEqual(whole)
})
