import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { floatToHalf } from '../../core/image/half'
import type { Planes } from '../../core/image/planes'
import { strongEdges, medianOf } from '../../core/match'
import { edgeSpread } from '../../core/measure/edge-spread'
import { writeExr } from '../../formats/exr'
import { deflate } from '../../server/media/exr-blocks'
import { lightAt, pictureOf } from '../driving/desk'
import { beginJob } from '../driving/job'
import { card, element } from '../driving/screen'

/**
 * Job 6, as far as it reaches: the sharpness of a buoy that is rendered too sharp is measured against the
 * plate's edges and matched, and the delivered frames are as soft as the plate. Grain is not measured yet.
 */

const frame = { x: 0, y: 0, width: 640, height: 360 }
/** Its picture, and in it a plate of metal that hangs askew. */
const window = { x: 400, y: 120, width: 150, height: 130 }
const tilt = 0.14
const [middleX, middleY] = [window.x + window.width / 2, window.y + window.height / 2]
const inside = (x: number, y: number) => {
  const [dx, dy] = [x - middleX, y - middleY]
  const [u, v] = [dx * Math.cos(tilt) + dy * Math.sin(tilt), dy * Math.cos(tilt) - dx * Math.sin(tilt)]
  return Math.abs(u) < 55 && Math.abs(v) < 45
}
/** Of a pixel, by 64 places in it: as sharp as a pixel lets it be. */
function coverage(x: number, y: number): number {
  let sum = 0
  for (let j = 0; j < 8; j++) for (let i = 0; i < 8; i++) sum += inside(x + (i + 0.5) / 8, y + (j + 0.5) / 8) ? 1 : 0
  return sum / 64
}

async function makeMedia(own: string): Promise<void> {
  mkdirSync(join(own, 'buoy'), { recursive: true })
  const planes = ['R', 'G', 'B', 'A'].map((name, c) => ({
    name,
    type: 'half' as const,
    samples: Uint16Array.from({ length: window.width * window.height }, (_, i) => {
      const [x, y] = [window.x + (i % window.width), window.y + Math.floor(i / window.width)]
      const alpha = coverage(x, y)
      return floatToHalf(name === 'A' ? alpha : alpha * [0.5, 0.3, 0.2][c])
    }),
  }))
  const parts = [{ dataWindow: window, displayWindow: frame, planes }]
  writeFileSync(join(own, 'buoy/buoy.exr'), await writeExr(parts, { compression: 'zip', deflate }))
}

const job = beginJob('harbour', 'harbour-010', makeMedia)

const rgba = (planes: Planes): Float32Array =>
  Float32Array.from({ length: frame.width * frame.height * 4 }, (_, i) => {
    const [pixel, c] = [i >> 2, i & 3]
    return c === 3 ? 1 : lightAt(planes, c, pixel % frame.width, Math.floor(pixel / frame.width))
  })

/** Of the metal's upper and right edge, in a delivered frame. */
function sharpnessOf(delivered: Planes): number {
  const light = rgba(delivered)
  const sigmas = [-24, -12, 0, 12, 24].map((along) => {
    const [x, y] = [
      Math.round(middleX + along * Math.cos(tilt) + 45 * Math.sin(tilt)) - 8,
      Math.round(middleY + along * Math.sin(tilt) - 45 * Math.cos(tilt)) - 8,
    ]
    const place = { x, y, width: 16, height: 16 }
    const cut = new Float32Array(16 * 16 * 4)
    for (let j = 0; j < 16; j++)
      for (let i = 0; i < 16 * 4; i++) cut[j * 64 + i] = light[((y + j) * frame.width + x) * 4 + i]
    return edgeSpread(cut, place, 'light')?.sigma ?? NaN
  })
  return medianOf(sigmas.filter(Number.isFinite))
}

let sharp: number

test('from files: the buoy stands over the plate, as sharp as a pixel lets it be', async () => {
  await job.desk.newShot('harbour', 'harbour-010')
  await element(job.page, 'Buoy').click()
  const delivered = await job.desk.deliver('v001')
  sharp = sharpnessOf(await delivered(1003))
  expect(sharp).toBeLessThan(0.35)
  await job.page.keyboard.press('Escape')
})

test('its softness is measured by edges of the plate near by, used as one step, and told with its error', async () => {
  await job.desk.button('Match').click()
  await job.desk.button('Match all').click()
  const found = job.page.getByRole('group', { name: 'Found for Buoy' })
  await found.getByRole('group', { name: 'Softness, px', exact: true }).waitFor({ timeout: 60_000 })
  await job.desk.button('Use all').click()
  await job.desk.saved()
  await job.desk.button('Close').click()
  await element(job.page, 'Buoy').click()
  await card(job.page).getByRole('spinbutton', { name: 'Across', exact: true }).first().waitFor()
})

test('delivered, its edges are as soft as those of the plate, within a tenth of a pixel', async () => {
  const delivered = await job.desk.deliver('v002')
  const soft = sharpnessOf(await delivered(1003))
  const near = { x: 250, y: 0, width: 390, height: 360 }
  const plate = await pictureOf(job.plates, 1003)
  const light = rgba(plate)
  const cut = new Float32Array(near.width * near.height * 4)
  for (let y = 0; y < near.height; y++)
    cut.set(
      light.subarray((y * frame.width + near.x) * 4, (y * frame.width + near.x + near.width) * 4),
      y * near.width * 4,
    )
  const edges = strongEdges(cut, near, { side: 12, most: 8, of: 'light' })
  expect(edges.length).toBeGreaterThanOrEqual(3)
  expect(soft).toBeGreaterThan(sharp)
  expect(Math.abs(soft - medianOf(edges.map(({ edge }) => edge.sigma)))).toBeLessThan(0.1)
})
