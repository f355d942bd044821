import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { floatToHalf } from '../../core/image/half'
import type { Planes } from '../../core/image/planes'
import type { Window } from '../../core/image/window'
import type { Proof } from '../../core/witnesses'
import { writeExr } from '../../formats/exr'
import { deflate } from '../../server/media/exr-blocks'
import { lightAt, pictureIn, pictureOf } from '../driving/desk'
import { beginJob } from '../driving/job'
import { card, deliveries, element, keepRegion } from '../driving/screen'

/**
 * Job 7, as far as it reaches: a crate in a yard is checked for black, colour, sharpness and shadow, each by a witness that drifts
 * until it is put right, under one grade; the proof that is delivered with it says that all agree. Light's direction is looked at;
 * grain has no witness yet, and a shadow is made of a pass.
 */

const frame: Window = { x: 0, y: 0, width: 640, height: 360 }
const frames = [1001, 1002, 1003, 1004, 1005, 1006]
const veil = [0.02, 0.022, 0.027] as const
/** What the farm's lamps are wrong by. */
const gain = [1.3, 1.1, 0.9] as const
/** What the yard's own shadows leave of the light. */
const left = [0.4, 0.45, 0.52] as const
const softness = 1.2

const { cos, exp, sin, sqrt, abs, sign, min, max } = Math
/** Abramowitz and Stegun 7.1.26. */
function erf(v: number): number {
  const t = 1 / (1 + 0.3275911 * abs(v))
  const series = t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))))
  return sign(v) * (1 - series * exp(-v * v))
}
const step = (distance: number, sigma: number) => 0.5 * (1 + erf(distance / (sigma * Math.SQRT2)))

interface Board {
  readonly x: number
  readonly y: number
  readonly wide: number
  readonly high: number
}
const tilt = 0.14
/** How much of a pixel a board that hangs askew covers, seen through that softness. */
function covers({ x, y, wide, high }: Board, i: number, j: number, sigma: number): number {
  const [dx, dy] = [i + 0.5 - x, j + 0.5 - y]
  const [u, v] = [dx * cos(tilt) + dy * sin(tilt), dy * cos(tilt) - dx * sin(tilt)]
  return step(wide - abs(u), sigma) * step(high - abs(v), sigma)
}
/** As sharp as a pixel lets it be. */
const sharp = sqrt(1 / 12)

const post: Board = { x: 100, y: 120, wide: 40, high: 70 }
const wall: Board = { x: 270, y: 110, wide: 60, high: 60 }
const crate: Board = { x: 460, y: 180, wide: 56, high: 66 }
const ownShadow = { x: 40, y: 262, width: 110, height: 70 }
const crateShadow: Window = { x: 420, y: 270, width: 150, height: 66 }
const planks = [0.24, 0.2, 0.15] as const
const pitch = 0.0015
const inside = ({ x, y, width, height }: Window, i: number, j: number) =>
  i >= x && j >= y && i < x + width && j < y + height

const noise = (i: number, j: number, at: number, c: number) => {
  const v = sin(i * 127.1 + j * 311.7 + at * 74.7 + c * 19.3) * 43758.5453
  return 0.002 * (v - Math.floor(v) - 0.5)
}

function plateLight(at: number, i: number, j: number, c: number): number {
  const ground = [0.12, 0.11, 0.1][c] * (inside(ownShadow, i, j) ? left[c] : 1)
  const onWall = covers(wall, i, j, softness)
  const onPost = covers(post, i, j, softness)
  const behind = ground + (planks[c] * gain[c] - ground) * onWall
  return veil[c] + behind + (pitch - behind) * onPost + noise(i, j, at, c)
}

/** Planks above, pitch below. */
function crateLight(at: number, i: number, j: number, channel: string): number {
  const alpha = covers(crate, i, j, sharp)
  if (channel === 'A') return alpha
  const c = 'RGB'.indexOf(channel)
  // A render is no still: it differs by a little from frame to frame.
  return alpha * (j < crate.y ? planks[c] * (1 + 1e-3 * ((at + i) % 3)) : pitch)
}

async function sequence(
  folder: string,
  name: string,
  parts: readonly { readonly name?: string; readonly window: Window; readonly channels: string }[],
  light: (part: string | undefined, at: number, x: number, y: number, channel: string) => number,
): Promise<void> {
  mkdirSync(folder, { recursive: true })
  for (const at of frames) {
    const written = parts.map(({ name: part, window, channels }) => ({
      ...(part === undefined ? {} : { name: part }),
      ...{ dataWindow: window, displayWindow: frame, standard: { framesPerSecond: { numerator: 24, denominator: 1 } } },
      planes: [...channels].sort().map((channel) => ({
        name: channel,
        type: 'half' as const,
        samples: Uint16Array.from({ length: window.width * window.height }, (_, i) =>
          floatToHalf(light(part, at, window.x + (i % window.width), window.y + Math.floor(i / window.width), channel)),
        ),
      })),
    }))
    writeFileSync(join(folder, `${name}.${at}.exr`), await writeExr(written, { compression: 'zip', deflate }))
  }
}

const job = beginJob('yard', 'yard-007', async (folder) => {
  for (const name of readdirSync(join(folder, 'plate'))) rmSync(join(folder, 'plate', name))
  await sequence(
    join(folder, 'plate'),
    'yard_plate',
    [{ window: frame, channels: 'RGB' }],
    (_part, at, x, y, channel) => plateLight(at, x, y, 'RGB'.indexOf(channel)),
  )
  const passes = [
    { name: 'beauty', window: { x: 380, y: 90, width: 160, height: 180 }, channels: 'RGBA' },
    { name: 'shadow', window: crateShadow, channels: 'RGB' },
  ]
  await sequence(join(folder, 'cg'), 'crate_v001', passes, (part, at, x, y, channel) =>
    part === 'shadow' ? 1 : crateLight(at, x, y, channel),
  )
})

const regionAt = async (x: number, y: number, wide: number, high: number) => {
  await keepRegion(job.page, frame, { x, y, wide, high })
  await job.desk.saved()
}

/** Its name is the beginning of another's. */
const elementCalled = (name: string) => element(job.page, name === 'Crate' ? 'Crate(?! shadow)' : name)
const evidence = () => job.page.getByRole('region', { name: 'Evidence' })
let witnesses = 0

/** Of the plate's place and the element's, each with half its width and height. */
async function witness(of: string, purpose: string, plate: readonly number[], own: readonly number[]): Promise<string> {
  await elementCalled(of).click()
  await regionAt(plate[0], plate[1], plate[2], plate[3])
  await regionAt(own[0], own[1], own[2], own[3])
  await job.desk.button('More of sample 1').click()
  await job.page.getByRole('menuitem', { name: `Ought to be matched by ${of} at 2` }).click()
  await card(job.page).getByRole('combobox', { name: 'Purpose' }).click()
  await job.page.getByRole('option', { name: purpose, exact: true }).click()
  await job.desk.saved()
  witnesses++
  return `Witness ${witnesses}`
}
const says = (name: string, verdict: string) =>
  evidence()
    .getByRole('button', { name: `${name}: ${verdict}.` })
    .waitFor()

test('from files: the crate and its shadow, which the farm says in colour, stand in the yard', async () => {
  await job.desk.newShot('yard', 'yard-007')
  for (const name of ['Plate', 'Crate shadow', 'Crate']) await element(job.page, name).first().waitFor()
})

let black: string
let middle: string

test('black and colour drift; veil and gain are proposed from both pairs, used, and both agree', async () => {
  black = await witness('Crate', 'Black', [100, 120, 20, 34], [462, 214, 20, 12])
  await says(black, 'Drifts')
  middle = await witness('Crate', 'Middle light', [270, 110, 26, 26], [456, 150, 26, 14])
  await says(middle, 'Drifts')
  await card(job.page).getByRole('button', { name: 'Use both' }).click()
  await says(black, 'Agrees')
  await says(middle, 'Agrees')
})

let edge: string

test('its edge is sharper than the yard’s, by as much as the drift says, until it is softened', async () => {
  edge = await witness('Crate', 'Sharpness of an edge', [140, 126, 12, 12], [516, 188, 12, 12])
  await says(edge, 'Drifts')
  await elementCalled('Crate').click()
  await job.desk.addTreatment('soften')
  const softer = sqrt(softness ** 2 - sharp ** 2).toFixed(2)
  await job.desk.setNumber('Across', softer)
  await job.desk.setNumber('Down', softer)
  await says(edge, 'Agrees')
})

let shade: string

test('its shadow is as dark as the yard’s own, channel by channel', async () => {
  await element(job.page, 'Crate shadow').click()
  for (const [c, channel] of ['red', 'green', 'blue'].entries())
    await job.desk.setNumber(`Plate veil ${channel}`, String(veil[c]))
  shade = await witness('Crate shadow', 'Shadow density', [95, 297, 40, 24], [545, 303, 16, 22])
  await says(shade, 'Drifts')
  for (const step of ['Use the ratio', 'Undo', 'Redo']) {
    await job.desk.button(step).click()
    await says(shade, step === 'Undo' ? 'Drifts' : 'Agrees')
  }
})

test('under one grade over everything it is delivered with its proof, which says that all agree on every frame', async () => {
  const { page } = job
  await page.getByRole('button', { name: /^Finish/ }).click()
  await job.desk.addTreatment('exposure')
  await job.desk.setNumber('Exposure red', '0.2')
  await job.desk.button('Deliver').click()
  await card(page).getByRole('button', { name: 'Add an output' }).click()
  await card(page).getByRole('combobox', { name: 'Format' }).last().click()
  await page.getByRole('option', { name: 'proof' }).click()
  await card(page).getByRole('button', { name: 'Deliver' }).click()
  await deliveries(page)
    .filter({ hasText: 'v001' })
    .getByText(/^done in/)
    .waitFor({ timeout: 60_000 })
  const folder = join(job.plates, '../../../delivery/yard-007/v001')
  const proof = JSON.parse(readFileSync(join(folder, 'yard-007_proof_v001.json'), 'utf8')) as Proof
  expect(proof.wanting).toEqual([])
  expect(proof.rows.flatMap(({ name, drifts }) => drifts.map((at) => `${name} ${at}`))).toEqual([])
  expect(proof.rows.flatMap(({ name, notJudged }) => notJudged.map((at) => `${name} ${at}`))).toEqual([])
  expect(proof.outcome).toBe('agrees')
  expect(proof.rows.filter(({ kind, frames: read }) => kind === 'witness' && read === frames.length)).toHaveLength(4)
  // By the files themselves, without the product: pitch is as dark as the post, the shadow as the yard's own.
  const [out, plate] = await Promise.all([
    pictureIn(join(folder, 'yard-007_comp_v001.1004.exr')),
    pictureOf(job.plates, 1004),
  ])
  const grade = [2 ** 0.2, 1, 1]
  for (const c of [0, 1, 2]) {
    expect(abs(mean(out, c, 462, 214) / grade[c] - (veil[c] + pitch))).toBeLessThan(0.002)
    const ratio = (mean(out, c, 545, 300) / grade[c] - veil[c]) / (mean(plate, c, 545, 300) - veil[c])
    expect(abs(ratio - left[c])).toBeLessThan(0.03)
    const planksSeen = mean(out, c, 456, 150) / grade[c] - veil[c]
    expect(abs(planksSeen / (planks[c] * gain[c]) - 1)).toBeLessThan(0.02)
  }
})

function mean(of: Planes, c: number, x: number, y: number, half = 8): number {
  let [sum, many] = [0, 0]
  for (let j = max(0, y - half); j <= min(frame.height - 1, y + half); j++)
    for (let i = x - half; i <= x + half; i++) [sum, many] = [sum + lightAt(of, c, i, j), many + 1]
  return sum / many
}
