import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { floatToHalf } from '../../core/image/half'
import type { Planes } from '../../core/image/planes'
import type { Window } from '../../core/image/window'
import { writeExr } from '../../formats/exr'
import { deflate } from '../../server/media/exr-blocks'
import { bitsOf, lightAt, pictureOf } from '../driving/desk'
import { beginJob } from '../driving/job'
import { card, element, keepRegion, ofParameter, picture } from '../driving/screen'

/**
 * Job 15: reeds stand by a slip. How dark their shadow is follows from a shadow of the plate's own, read while everything else is out of
 * the way; a clip of mist drifts behind a gangway that is outlined by hand; bars and a look come on top.
 */

const frame: Window = { x: 0, y: 0, width: 640, height: 360 }
const frames = [1001, 1002, 1003, 1004, 1005, 1006]
const veil = 0.02
/** What the plate's own shadow leaves of the light. */
const left = [0.42, 0.45, 0.5] as const
const own = { x: 40, y: 250, width: 100, height: 80 }
const gangway = { x: 300, y: 40, width: 60, height: 300 }
const reeds = { x: 400, y: 120, width: 80, height: 140 }
const shadow = { x: 430, y: 270, width: 130, height: 60 }
const mist = { x: 200, y: 180, light: 0.3, coverage: 0.5 }
/** All over the frame, with a coverage of a half. */
const haze = 0.25

const inside = ({ x, y, width, height }: typeof own, i: number, j: number) =>
  i >= x && j >= y && i < x + width && j < y + height
const { exp, sin } = Math

function plateLight(at: number, x: number, y: number, c: number): number {
  const noise = 0.001 * sin(x * 127.1 + y * 311.7 + at * 74.7 + c * 19.3)
  const ground = [0.2, 0.18, 0.15][c] * (inside(own, x, y) ? left[c] : 1)
  return veil + (inside(gangway, x, y) ? 0.05 : ground) + noise
}
const mistAt = (x: number, y: number) => mist.coverage * exp(-((x - mist.x) ** 2) / 12_800 - (y - mist.y) ** 2 / 3200)

const sequence = async (
  folder: string,
  name: string,
  parts: (at: number) => readonly { readonly name?: string; readonly window: Window; readonly channels: string }[],
  light: (at: number, x: number, y: number, channel: string) => number,
) => {
  mkdirSync(folder, { recursive: true })
  for (const at of frames) {
    const written = parts(at).map(({ name: part, window, channels }) => ({
      ...(part === undefined ? {} : { name: part }),
      ...{ dataWindow: window, displayWindow: frame, standard: { framesPerSecond: { numerator: 24, denominator: 1 } } },
      planes: [...channels].sort().map((channel) => ({
        name: channel,
        type: 'half' as const,
        samples: Uint16Array.from({ length: window.width * window.height }, (_, i) =>
          floatToHalf(light(at, window.x + (i % window.width), window.y + Math.floor(i / window.width), channel)),
        ),
      })),
    }))
    writeFileSync(join(folder, `${name}.${at}.exr`), await writeExr(written, { compression: 'zip', deflate }))
  }
}

const job = beginJob('reeds', 'reeds-015', async (folder) => {
  for (const name of readdirSync(join(folder, 'plate'))) rmSync(join(folder, 'plate', name))
  const whole = () => [{ window: frame, channels: 'RGB' }]
  await sequence(join(folder, 'plate'), 'slip_plate', whole, (at, x, y, channel) =>
    plateLight(at, x, y, 'RGB'.indexOf(channel)),
  )
  const passes = () => [
    { name: 'beauty', window: reeds, channels: 'RGBA' },
    { name: 'shadow', window: shadow, channels: 'Y' },
  ]
  await sequence(join(folder, 'cg'), 'reeds_v001', passes, (_at, _x, _y, channel) =>
    channel === 'A' || channel === 'Y' ? 1 : 0.06,
  )
  const clip = () => [{ window: frame, channels: 'RGBA' }]
  await sequence(join(folder, 'mist'), 'mist_v001', clip, (_at, x, y, channel) =>
    channel === 'A' ? mistAt(x, y) : mistAt(x, y) * mist.light,
  )
  await sequence(join(folder, 'haze'), 'haze_v001', clip, (_at, _x, _y, channel) =>
    channel === 'A' ? 0.5 : 0.5 * haze,
  )
})

async function onPicture() {
  const box = await picture(job.page).boundingBox()
  if (!box) throw new Error('There is no picture.')
  return (x: number, y: number) =>
    [box.x + (x * box.width) / frame.width, box.y + (y * box.height) / frame.height] as const
}

const regionAt = async (x: number, y: number, wide: number, high: number) => {
  await keepRegion(job.page, frame, { x, y, wide, high })
  await job.desk.saved()
}

async function boxDrawn(x0: number, y0: number, x1: number, y1: number): Promise<void> {
  const at = await onPicture()
  await job.page.keyboard.press('u')
  await job.page.keyboard.down('Shift')
  for (const [x, y] of [
    [x0, y0],
    [x1, y0],
    [x1, y1],
    [x0, y1],
  ] as const)
    // prettier-ignore
    await job.page.mouse.click(...at(x, y))
  await job.page.keyboard.up('Shift')
  await job.page.keyboard.press('Enter')
  await job.page.keyboard.press('Escape')
}

/** Mean of a channel over some pixels about a place. */
function mean(of: Planes, c: number, x: number, y: number, half = 8): number {
  let [sum, many] = [0, 0]
  for (let j = y - half; j <= y + half; j++)
    for (let i = x - half; i <= x + half; i++) [sum, many] = [sum + lightAt(of, c, i, j), many + 1]
  return sum / many
}

test('from files the reeds and their shadow stand over the plate, and the mist in front', async () => {
  await job.desk.newShot('reeds', 'reeds-015')
  for (const name of ['Plate', 'Reeds shadow', 'Reeds', 'Mist', 'Haze']) await element(job.page, name).first().waitFor()
})

test('the shadow is as dark as the plate’s own, by a witness that sees nothing else', async () => {
  await element(job.page, 'Haze').click()
  await job.desk.setNumber('Opacity', '0')
  await element(job.page, 'Reeds shadow').click()
  for (const channel of ['red', 'green', 'blue']) await job.desk.setNumber(`Plate veil ${channel}`, String(veil))
  await regionAt(90, 290, 30, 24)
  await regionAt(495, 300, 30, 20)
  await job.desk.button('More of sample 1').click()
  await job.page.getByRole('menuitem', { name: 'Ought to be matched by Reeds shadow at 2' }).click()
  await card(job.page).getByRole('combobox', { name: 'Purpose' }).click()
  await job.page.getByRole('option', { name: 'Shadow density' }).click()
  const evidence = job.page.getByRole('region', { name: 'Evidence' })
  await evidence.getByRole('button', { name: 'Witness 1: Drifts.' }).waitFor()
  await card(job.page).getByRole('button', { name: 'Use the ratio' }).click()
  await evidence.getByRole('button', { name: 'Witness 1: Agrees.' }).waitFor()
  const out = await (await job.desk.deliver('v001'))(1003)
  const plate = await pictureOf(job.plates, 1003)
  // Clear of the mist.
  for (const c of [0, 1, 2]) {
    const ratio = (mean(out, c, 530, 300) - veil) / (mean(plate, c, 530, 300) - veil)
    expect(Math.abs(ratio - left[c])).toBeLessThan(0.04)
  }
})

test('haze at a few per cent, and mist at 60 % that drifts by keyframes, lie behind a gangway whose every bit stays the plate’s', async () => {
  await element(job.page, 'Mist').click()
  await job.desk.setNumber('Opacity', '0.6')
  await job.desk.button('Place: move, turn, scale').click()
  await job.desk.button('Pivot').waitFor()
  await job.desk.goTo(1001)
  await ofParameter(job.page, 'Across', 'Set a keyframe')
  await job.desk.goTo(1006)
  await job.desk.setNumber('Across', '50')
  await job.page.keyboard.press('b')
  await job.desk.goTo(1001)
  await boxDrawn(gangway.x - 0.5, gangway.y - 0.5, gangway.x + gangway.width + 0.5, gangway.y + gangway.height + 0.5)
  for (const name of ['Mist', 'Haze']) {
    await element(job.page, name).click()
    await job.desk.addTreatment('holdout')
  }
  await job.desk.setNumber('Opacity', '0.06')
  const out = await job.desk.deliver('v002')
  for (const [at, moved] of [
    [1001, 0],
    [1006, 50],
  ] as const) {
    const [seen, plate] = [await out(at), await pictureOf(job.plates, at)]
    const a = 0.6 * mist.coverage
    const x = mist.x + moved
    const hazed = (light: number) => 0.97 * light + 0.03 * haze
    const misted = (light: number) => (1 - a) * light + a * mist.light
    const ground = mean(plate, 1, x, mist.y, 3)
    // Whichever of them lies in front.
    const [one, other] = [misted(hazed(ground)), hazed(misted(ground))]
    const found = mean(seen, 1, x, mist.y, 3)
    expect(Math.min(Math.abs(found / one - 1), Math.abs(found / other - 1))).toBeLessThan(0.01)
    expect(mean(seen, 1, 600, 60, 3)).toBeCloseTo(hazed(mean(plate, 1, 600, 60, 3)), 3)
    const [changed, before] = [bitsOf(seen), bitsOf(plate)]
    for (let c = 0; c < 3; c++)
      for (let y = gangway.y + 2; y < gangway.y + gangway.height - 2; y += 7)
        for (let i = gangway.x + 2; i < gangway.x + gangway.width - 2; i += 5)
          expect(changed[c][y * frame.width + i]).toBe(before[c][y * frame.width + i])
  }
})

test('bars at top and bottom stay black under a look over the whole, which changes no matte', async () => {
  await element(job.page, 'Mist').click()
  await job.desk.button('Add made').click()
  await job.page.getByRole('menuitem', { name: 'Constant' }).click()
  await element(job.page, 'Constant').click()
  await card(job.page)
    .getByRole('button', { name: /Made of/ })
    .click()
  for (const channel of ['red', 'green', 'blue']) await job.desk.setNumber(`Colour ${channel}`, '0')
  await boxDrawn(0.5, 30, 639.5, 330)
  await element(job.page, 'Constant').click()
  await job.desk.addTreatment('holdout')
  const plain = await (await job.desk.deliver('v003'))(1003)
  await job.page
    .getByRole('button', { name: /^Finish/ })
    .first()
    .click()
  await job.desk.addTreatment('saturation')
  await job.desk.setNumber('Saturation', '0.5')
  const out = await (await job.desk.deliver('v004'))(1003)
  for (const y of [4, 24, 336, 356]) for (const x of [10, 320, 600]) expect(lightAt(out, 1, x, y)).toBe(0)
  // Half of the colour, wherever no bar is.
  const spread = (of: Planes) => mean(of, 0, 560, 200) - mean(of, 2, 560, 200)
  expect(spread(out) / spread(plain)).toBeCloseTo(0.5, 2)
  // The gangway's edge is where it was.
  const edge = (of: Planes) => [298, 299, 300, 301].map((x) => mean(of, 1, x, 100, 0) - mean(of, 1, 310, 100, 2))
  expect(edge(out).map((one) => one > 0.05)).toEqual(edge(plain).map((one) => one > 0.05))
})
