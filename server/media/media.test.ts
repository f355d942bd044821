import { mkdirSync, mkdtempSync, realpathSync, rmSync, symlinkSync, utimesSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { smallShot } from '../../core/test/small-shot'
import { filesIn } from '../../core/plan/catalog'
import { catalogOf } from './catalog'
import { packing, unpacking } from './exr-blocks'
import { MissingFileError, withFile } from './file-source'
import { OutsideMediaError, pathInside } from './read-frame'

const root = realpathSync(mkdtempSync(join(tmpdir(), 'enkrasis-media-')))
const shot = join(root, 'shot')
mkdirSync(join(shot, 'plate'), { recursive: true })
writeFileSync(join(root, 'secret.exr'), 'outside')
writeFileSync(join(shot, 'plate.1001.exr'), 'one')
writeFileSync(join(shot, 'plate.1003.exr'), 'three')
writeFileSync(join(shot, 'matte.exr'), 'still')
afterAll(() => rmSync(root, { recursive: true, force: true }))

describe('paths', () => {
  test('inside the shot’s folder are followed, also through links that stay inside', async () => {
    symlinkSync(join(shot, 'plate.1001.exr'), join(shot, 'inner.exr'))
    expect(await pathInside({ roots: [shot], folder: shot }, 'plate.1001.exr')).toBe(join(shot, 'plate.1001.exr'))
    expect(await pathInside({ roots: [shot], folder: shot }, 'inner.exr')).toBe(join(shot, 'plate.1001.exr'))
    expect(await pathInside({ roots: [shot], folder: shot }, './plate/../plate.1001.exr')).toBe(
      join(shot, 'plate.1001.exr'),
    )
  })

  test.each(['../secret.exr', 'plate/../../secret.exr', '/etc/passwd', '.'])('%s is refused', async (path) => {
    await expect(pathInside({ roots: [shot], folder: shot }, path)).rejects.toThrow(OutsideMediaError)
  })

  test('a folder whose name only begins the same is outside', async () => {
    mkdirSync(join(root, 'shot-other'))
    writeFileSync(join(root, 'shot-other', 'x.exr'), 'x')
    await expect(pathInside({ roots: [shot], folder: shot }, '../shot-other/x.exr')).rejects.toThrow(OutsideMediaError)
  })

  test('a link that leads out is refused, a dangling one is absent', async () => {
    symlinkSync(join(root, 'secret.exr'), join(shot, 'out.exr'))
    symlinkSync(join(shot, 'nothing'), join(shot, 'dangling.exr'))
    await expect(pathInside({ roots: [shot], folder: shot }, 'out.exr')).rejects.toThrow(OutsideMediaError)
    await expect(pathInside({ roots: [shot], folder: shot }, 'dangling.exr')).rejects.toThrow(MissingFileError)
  })
})

describe('files', () => {
  test('are read in the pieces asked for', async () => {
    const text = await withFile(join(shot, 'matte.exr'), 'matte', async (source) => {
      expect(source.size).toBe(5)
      return new TextDecoder().decode(await source.read(1, 3))
    })
    expect(text).toBe('til')
  })

  test('a file that became shorter gives what is left', async () => {
    expect(await withFile(join(shot, 'matte.exr'), 'matte', (source) => source.read(3, 10))).toHaveLength(2)
  })

  test('absent files and folders get a sentence with what to do', async () => {
    await expect(withFile(join(shot, 'no.exr'), 'no.exr', async () => 0)).rejects.toThrow(
      "no.exr does not exist. Render it, copy it there, or change the source's frame range.",
    )
    await expect(withFile(shot, 'shot', async () => 0)).rejects.toThrow(
      'shot is not a file. Choose a file or a sequence.',
    )
  })

  test('what is deflated inflates to the same, and never to more than was promised', async () => {
    const raw = new Uint8Array(200_000).map((_, i) => (i * 7) % 251)
    const packed = await packing.deflate(raw)
    expect(Buffer.from(await unpacking.inflate(packed, raw.length)).equals(Buffer.from(raw))).toBe(true)
    expect(() => unpacking.inflate(packed, 1000)).toThrow()
  })
})

describe('the catalog', () => {
  test('lists the frames that are there, and a still under its own name', async () => {
    const catalog = await catalogOf({ roots: [shot], folder: shot }, smallShot)
    expect(Object.keys(catalog.plate)).toEqual(['1001', '1003'])
    expect(Object.keys(catalog.matte)).toEqual(['still'])
    expect(catalog.cg).toEqual({})
  })

  test('a file that changed has another fingerprint; one that did not has the same', async () => {
    const before = await catalogOf({ roots: [shot], folder: shot }, smallShot)
    utimesSync(join(shot, 'plate.1001.exr'), new Date(), new Date(Date.now() + 5000))
    const after = await catalogOf({ roots: [shot], folder: shot }, smallShot)
    expect(after.plate['1001']).not.toBe(before.plate['1001'])
    expect(after.plate['1003']).toBe(before.plate['1003'])
    const { fingerprint } = filesIn(after)
    expect(fingerprint(smallShot.sources.byId.plate, 1001)).toBe(after.plate['1001'])
    expect(fingerprint(smallShot.sources.byId.matte, null)).toBe(after.matte.still)
    expect(fingerprint(smallShot.sources.byId.plate, 1002)).toBe('absent')
  })
})
