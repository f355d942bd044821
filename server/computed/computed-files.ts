/** Pictures that were kept computed: a file for each content key, as it travels to the browser. */

import { createReadStream, type ReadStream } from 'node:fs'
import { readdir, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import type { Window } from '../../core/image/window'
import { encodeSourceFrame } from '../../formats/wire/source-frame'
import { writeWhole } from '../delivery/write-whole'

/** What is kept computed has its share of the disk, and that is used up. */
export class NoRoomForComputedError extends Error {
  override readonly name = 'NoRoomForComputedError'
}

/** There is no such picture. */
export class NoSuchComputedError extends Error {
  override readonly name = 'NoSuchComputedError'
}

const aMomentMs = 60_000
const lookAgainMs = 10_000

const isKey = (name: string) => /^[0-9a-f]{32}$/.test(name)

export class ComputedFiles {
  private used: { bytes: number; readonly at: number } | null = null

  /**
   * @param folder in which the files lie, and nothing else
   * @param mostBytes of all of them together
   */
  constructor(
    private readonly folder: string,
    private readonly mostBytes: number,
  ) {}

  /**
   * @param light premultiplied RGBA of the window, four floats a pixel
   * @returns its bytes on the disk
   * @throws NoRoomForComputedError
   */
  async write(key: string, light: Float32Array, window: Window, attempt: string): Promise<number> {
    const planes = ['R', 'G', 'B', 'A'].map((name, c) => {
      const samples = new Float32Array(light.length / 4)
      for (let i = 0, at = c; i < samples.length; i++, at += 4) samples[i] = light[at]
      return { name, type: 'float' as const, samples }
    })
    const pieces = encodeSourceFrame({ dataWindow: window, displayWindow: window, decoded: true, planes })
    const bytes = Buffer.concat(pieces)
    const used = await this.usedBytes()
    if (used + bytes.length > this.mostBytes)
      throw new NoRoomForComputedError(
        `What is kept computed may use ${gigabytes(this.mostBytes)} of the disk, and has ${gigabytes(used)}. Let go of elements that are kept, or set ENKRASIS_COMPUTED_GB higher.`,
      )
    await writeWhole(this.pathOf(key), bytes, attempt)
    if (this.used) this.used.bytes += bytes.length
    return bytes.length
  }

  /** @returns bytes of the file, or null where there is none */
  async bytesOf(key: string): Promise<number | null> {
    if (!isKey(key)) return null
    return stat(this.pathOf(key)).then(
      ({ size }) => size,
      () => null,
    )
  }

  /** @throws NoSuchComputedError */
  async read(key: string): Promise<{ readonly bytes: number; readonly stream: ReadStream }> {
    const bytes = await this.bytesOf(key)
    if (bytes === null)
      throw new NoSuchComputedError(
        'This picture is not kept computed any more. It is made again when it is looked at.',
      )
    return { bytes, stream: createReadStream(this.pathOf(key)) }
  }

  async remove(keys: readonly string[]): Promise<void> {
    this.used = null
    for (const key of keys) if (isKey(key)) await rm(this.pathOf(key), { force: true })
  }

  /** What was written a moment ago stays: whoever wrote it is about to say so. */
  async removeAllBut(used: ReadonlySet<string>): Promise<void> {
    this.used = null
    for (const name of await readdir(this.folder).catch(() => [])) {
      if (used.has(name)) continue
      const { mtimeMs } = await stat(this.pathOf(name)).catch(() => ({ mtimeMs: Infinity }))
      if (Date.now() - mtimeMs > aMomentMs) await rm(this.pathOf(name), { force: true })
    }
  }

  /** Looked up now and then only: there may be many thousands of files. */
  private async usedBytes(): Promise<number> {
    if (this.used && Date.now() - this.used.at < lookAgainMs) return this.used.bytes
    const names = await readdir(this.folder).catch(() => [])
    const sizes = names.map((name) =>
      stat(join(this.folder, name)).then(
        ({ size }) => size,
        () => 0,
      ),
    )
    const bytes = (await Promise.all(sizes)).reduce((sum, size) => sum + size, 0)
    this.used = { bytes, at: Date.now() }
    return bytes
  }

  private readonly pathOf = (key: string) => join(this.folder, key)
}

const gigabytes = (bytes: number) => `${(bytes / 2 ** 30).toFixed(1)} GiB`
