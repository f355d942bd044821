import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Plane } from '../core/image/planes'
import type { ObjectsMatte, Shot } from '../core/shot'
import { text, writeExr } from '../formats/exr'
import { deflate } from '../server/media/exr-blocks'
import { beginJob } from './driving/job'
import { card } from './driving/screen'

/** A render's objects are chosen by their names, and the matte of them is seen by what it covers. */

const [frame, bell, rope] = [{ x: 0, y: 0, width: 640, height: 360 }, 0x3f2a91c7, 0x41bd00e3]
const floatOf = (id: number) => new Float32Array(Uint32Array.of(id).buffer)[0]

async function makeMedia(own: string): Promise<void> {
  mkdirSync(join(own, 'cg'), { recursive: true })
  const plane = (name: string, of: (x: number, y: number) => number): Plane => ({
    name,
    type: 'float',
    samples: Float32Array.from({ length: 640 * 360 }, (_, i) => of(i % 640, Math.floor(i / 640))),
  })
  const isBell = (x: number, y: number) => Math.hypot(x - 400, y - 180) < 90
  const planes = [
    ...['A', 'B', 'G', 'R'].map((name) => plane(name, (x, y) => (isBell(x, y) || y > 300 ? 0.5 : 0))),
    plane('Thing00.A', () => 0),
    plane('Thing00.B', () => 0),
    plane('Thing00.G', (x, y) => (isBell(x, y) || y > 300 ? 1 : 0)),
    plane('Thing00.R', (x, y) => (isBell(x, y) ? floatOf(bell) : y > 300 ? floatOf(rope) : 0)),
  ]
  const attributes = new Map(
    Object.entries({ name: 'Thing', manifest: JSON.stringify({ bell: '3f2a91c7', rope: '41bd00e3' }) }).map(
      ([key, value]) => [`cryptomatte/1a2b3c4/${key}`, text(value)] as const,
    ),
  )
  const bytes = await writeExr([{ dataWindow: frame, displayWindow: frame, planes, attributes }], {
    compression: 'zip',
    deflate,
  })
  for (let n = 1001; n <= 1006; n++) writeFileSync(join(own, `cg/bell_v001.${n}.exr`), bytes)
}

const job = beginJob('ids', 'ids-010', makeMedia)

test('objects are ticked by name, and the matte covers what they cover', async () => {
  const { page, desk } = job
  await desk.newShot('ids', 'ids-010')
  await desk.button(/^▸ Sources/).click()
  const drawer = page.getByRole('region', { name: 'Sources' })
  // The headers tell that there are ids.
  await drawer.getByRole('button', { name: 'Made of …' }).click()
  await page.getByRole('menuitem', { name: /^Objects of/ }).click({ timeout: 30_000 })
  await card(page).getByRole('group', { name: 'Objects' }).waitFor()
  await card(page)
    .getByRole('checkbox', { name: /^bell, 11\.\d %/ })
    .check()
  await desk.saved()
  // The rope lies below; a press there chooses it, another lets it go.
  await desk.button('Choose on the picture').click()
  const box = await page.locator('[aria-label="Picture"]').boundingBox()
  if (!box) throw new Error('There is no picture.')
  const rope = card(page).getByRole('checkbox', { name: /^rope, / })
  for (const [words, on] of [
    ['rope was chosen.', true],
    ['rope was let go.', false],
  ] as const) {
    await page.mouse.click(box.x + box.width * 0.2, box.y + box.height * 0.95)
    await card(page).getByText(words).waitFor()
    expect(await rope.isChecked()).toBe(on)
  }
  await page.mouse.click(box.x + box.width * 0.1, box.y + box.height * 0.2)
  await card(page).getByText('No object lies there.').waitFor()
  await desk.saved()
  const { shot } = (await (
    await fetch(`${new URL(page.url()).origin}/api/shots/${page.url().split('/').at(-1) ?? ''}`)
  ).json()) as { shot: Shot }
  const [matte] = Object.values(shot.mattes.byId) as ObjectsMatte[]
  expect(matte).toMatchObject({ kind: 'objects', ranked: true, objects: { bell } })
  expect(matte.layers).toEqual([{ part: 'Thing00', channels: ['R', 'G', 'B', 'A'] }])
  await card(page).getByLabel('See it alone').check()
  const shown = page.getByRole('img', { name: /^What matte Objects 1 covers/ })
  await shown.waitFor()
  // Its hatching goes round the bell: 90 pixels about its middle, on the screen.
  await page.waitForFunction(() => {
    const path = document.querySelector('[aria-label^="What matte"] path[fill^="url"]')
    const box = path && (path as SVGPathElement).getBBox()
    return box ? Math.abs(box.width / box.height - 1) < 0.05 && box.width > 100 : false
  })
})
