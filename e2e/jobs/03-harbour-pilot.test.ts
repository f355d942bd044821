import { mkdirSync, readdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { floatToHalf } from '../../core/image/half'
import type { Shot } from '../../core/shot'
import { filmedHair } from '../../core/test/filmed-hair'
import { writeExr } from '../../formats/exr'
import { deflate } from '../../server/media/exr-blocks'
import { lightAt, pictureIn } from '../driving/desk'
import { beginJob } from '../driving/job'
import { card, element, source } from '../driving/screen'

/**
 * Job 3, as far as it goes: a figure filmed before a backing is cut out of it, hair and all, and lies over the plate. Lamps with a
 * place and a contact shadow without a pass are not there yet.
 */

const { abs } = Math
const frame = { width: 640, height: 360 }
const scenes = [1001, 1002, 1003, 1004, 1005, 1006].map((n) => filmedHair(frame.width, frame.height, n, 0.008, 2))

async function makeMedia(own: string): Promise<void> {
  const folder = join(own, 'pilot')
  mkdirSync(folder, { recursive: true })
  await Promise.all(
    scenes.map(async ({ filmed }, i) => {
      const planes = ['R', 'G', 'B'].map((name, c) => ({
        name,
        type: 'half' as const,
        samples: Uint16Array.from({ length: frame.width * frame.height }, (_, at) => floatToHalf(filmed[at * 4 + c])),
      }))
      const window = { x: 0, y: 0, ...frame }
      const bytes = await writeExr([{ dataWindow: window, displayWindow: window, planes }], {
        compression: 'zip',
        deflate,
      })
      writeFileSync(join(folder, `pilot.${1001 + i}.exr`), bytes)
    }),
  )
}

const job = beginJob('wheelhouse', 'pilot-010', makeMedia)

test('from files: the figure’s backing is measured on a frame, and taken out on all', async () => {
  await job.desk.newShot('wheelhouse', 'pilot-010', /quay-010_plate/)
  const { page } = job
  await job.desk.button(/^▸ Sources/).click()
  await source(page, 'Pilot').click()
  await job.desk.button('Add the picture as an element').click()
  await page.getByRole('region', { name: 'Sources' }).getByRole('button', { name: 'Close' }).click()
  await element(page, 'Pilot').click()
  await job.desk.addTreatment('green screen')
  await job.desk.button('Measure the backing').click()
  await card(page)
    .getByText(/^On 1001: green, seen in \d+ % of the frame/)
    .waitFor()
  await job.desk.saved()
})

test('delivered, the figure lies over the plate with its hair, and the plate beside it is as it came', async () => {
  const delivered = await job.desk.deliver('v001')
  for (const n of [1001, 1004]) {
    const { alpha, figure } = scenes[n - 1001]
    const name = readdirSync(job.plates).find((one) => one.includes(String(n))) ?? ''
    const [out, plate] = [await delivered(n), await pictureIn(join(job.plates, name))]
    let [band, inBand, other, same] = [0, 0, 0, 0]
    for (let i = 0; i < frame.width * frame.height; i++) {
      const [x, y] = [i % frame.width, Math.floor(i / frame.width)]
      const far = y < 40
      for (let c = 0; c < 3; c++) {
        const [now, before] = [lightAt(out, c, x, y), lightAt(plate, c, x, y)]
        if (far) [same, other] = [same + (now === before ? 1 : 0), other + 1]
        if (alpha[i] <= 0.05 || alpha[i] >= 0.95) continue
        band += abs(now - (figure[i * 4 + c] + (1 - alpha[i]) * before))
        inBand++
      }
    }
    // Filmed with noise of 0.008.
    expect(band / inBand).toBeLessThan(0.012)
    expect(same / other).toBeGreaterThan(0.97)
  }
})

test('the measuring is one step back', async () => {
  const { page } = job
  await page.keyboard.press('Escape')
  await element(page, 'Pilot').click()
  await page.keyboard.press('Control+z')
  await job.desk.saved()
  const id = page.url().split('/').at(-1) ?? ''
  const { shot } = (await (await page.request.get(`${new URL(page.url()).origin}/api/shots/${id}`)).json()) as {
    shot: Shot
  }
  const key = Object.values(shot.treatments.byId).find(({ kind }) => kind === 'backing-key')
  expect(Object.keys(key?.points?.byId ?? {})).toHaveLength(0)
})
