import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Planes } from '../../core/image/planes'
import { bytesSource, readExr, writeExr } from '../../formats/exr'
import { deflate, unpacking } from '../../server/media/exr-blocks'
import { bitsOf, lightAt, pictureOf } from '../driving/desk'
import { beginJob } from '../driving/job'
import { element, ofParameter } from '../driving/screen'

/**
 * Job 12, as far as it reaches: a render pops up over the plate, overshoots, settles and turns a little, with a vignette over
 * everything. It cannot lie on a plane yet, nor be pinned to a solved point.
 */

async function makeMedia(own: string, demo: string): Promise<void> {
  mkdirSync(join(own, 'cg'), { recursive: true })
  for (const name of readdirSync(join(demo, 'cg')).sort()) {
    const bytes = new Uint8Array(readFileSync(join(demo, 'cg', name)))
    const beauty = await readExr(bytesSource(bytes, name), { ...unpacking, part: 'beauty' })
    const standard = { framesPerSecond: { numerator: 24, denominator: 1 } }
    const written = await writeExr([{ name: 'beauty', ...beauty, standard }], { compression: 'zip', deflate })
    writeFileSync(join(own, 'cg', name.replace('quay-010_bell', 'boat_v001')), written)
  }
}

const job = beginJob('pop', 'pop-010', makeMedia)
const plateAt = (frame: number) => pictureOf(job.plates, frame)

/** Rows in which the delivered picture is not the plate. */
function changedRows(out: Planes, plate: Planes): { top: number; bottom: number } {
  const { width, height } = out.dataWindow
  let [top, bottom] = [height, -1]
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if ([0, 1, 2].some((c) => Math.abs(lightAt(out, c, x, y) - lightAt(plate, c, x, y)) > 0.02)) {
        top = Math.min(top, y)
        bottom = y
      }
  return { top, bottom }
}
const tall = ({ top, bottom }: { top: number; bottom: number }) => bottom - top + 1

test('from files: plate and boat, and the boat is placed', async () => {
  await job.desk.newShot('pop', 'pop-010')
  await element(job.page, 'Boat').click()
  await job.desk.button('Place: move, turn, scale').click()
  await job.desk.button('Pivot').waitFor()
  await job.desk.saved()
})

test('it pops up from nothing, goes beyond its size, and ends where it is keyed', async () => {
  const whole = await job.desk.deliver('v001')
  const size = tall(changedRows(await whole(1005), await plateAt(1005)))
  await element(job.page, 'Boat').click()
  await job.desk.goTo(1001)
  await ofParameter(job.page, 'Scale', 'Set a keyframe')
  await job.desk.goTo(1005)
  await ofParameter(job.page, 'Scale', 'Set a keyframe')
  await job.desk.goTo(1001)
  await job.desk.setNumber('Scale', '0')
  await job.page.keyboard.press('j')
  const curves = job.page.getByRole('group', { name: 'Curves of what is selected' })
  await job.desk.button(/^Keyframe at 1001, Boat: scale/).dispatchEvent('pointerdown', { pointerId: 1 })
  await curves.dispatchEvent('pointerup', { pointerId: 1 })
  await job.page.getByRole('combobox', { name: 'Goes on' }).click()
  await job.page.getByRole('option', { name: 'pops beyond and settles' }).click()
  await job.desk.saved()
  const out = await job.desk.deliver('v002')
  // Where there is nothing of it, the plate is delivered bit for bit.
  expect(bitsOf(await out(1001))).toEqual(bitsOf(await plateAt(1001)))
  // A pop of four frames is beyond its end after one of them, and level with it when it is keyed.
  const beyond = tall(changedRows(await out(1002), await plateAt(1002)))
  const end = tall(changedRows(await out(1005), await plateAt(1005)))
  expect(beyond).toBeGreaterThan(end)
  expect(Math.abs(end - size)).toBeLessThanOrEqual(2)
})

test('a vignette over everything takes light from the corners and leaves the middle', async () => {
  await job.desk.button(/^Finish/).click()
  await job.desk.addTreatment('dark corners')
  await job.desk.setNumber('Amount', '0.5')
  const out = await job.desk.deliver('v003')
  const [dark, plate] = [await out(1001), await plateAt(1001)]
  const { width, height } = plate.dataWindow
  expect(lightAt(dark, 1, 0, 0) / lightAt(plate, 1, 0, 0)).toBeCloseTo(0.5, 1)
  const [x, y] = [width >> 1, height >> 1]
  expect(lightAt(dark, 1, x, y)).toBe(lightAt(plate, 1, x, y))
})
