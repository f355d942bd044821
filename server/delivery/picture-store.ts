/** Computed pictures on disk, by content key: equal key, equal pixels. What was used longest ago goes first. */

import { createHash } from 'node:crypto'
import { readdir, readFile, rm, stat, utimes } from 'node:fs/promises'
import { join } from 'node:path'
import { writeWhole } from './write-whole'

const ending = '.halves'

export class PictureStore {
  /** @param mostBytes kept before the oldest are removed */
  constructor(
    private readonly folder: string,
    private readonly mostBytes = 20 * 2 ** 30,
  ) {}

  /**
   * @param key content key of the picture, with its window
   * @param count samples that the picture has; a file of another length is damaged, and counts as absent
   */
  async get(key: string, count: number): Promise<Uint16Array<ArrayBuffer> | null> {
    const path = this.pathOf(key)
    let bytes: Buffer
    try {
      bytes = await readFile(path)
      const now = new Date()
      await utimes(path, now, now)
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null
      throw error
    }
    if (bytes.length !== count * 2 + digestBytes) return null
    const samples = bytes.subarray(0, count * 2)
    if (!digest(samples).equals(bytes.subarray(count * 2))) return null
    return new Uint16Array(Uint8Array.from(samples).buffer)
  }

  async set(key: string, samples: Uint16Array): Promise<void> {
    const bytes = Buffer.from(samples.buffer, samples.byteOffset, samples.byteLength)
    await writeWhole(this.pathOf(key), Buffer.concat([bytes, digest(bytes)]))
    await this.prune()
  }

  private pathOf(key: string): string {
    return join(this.folder, `${createHash('sha256').update(key).digest('hex').slice(0, 40)}${ending}`)
  }

  private async prune(): Promise<void> {
    const names = (await readdir(this.folder)).filter((name) => name.endsWith(ending))
    const files = await Promise.all(
      names.map(async (name) => {
        const { size, mtimeMs } = await stat(join(this.folder, name))
        return { name, size, mtimeMs }
      }),
    )
    let bytes = files.reduce((sum, { size }) => sum + size, 0)
    for (const { name, size } of files.sort((a, b) => a.mtimeMs - b.mtimeMs)) {
      if (bytes <= this.mostBytes) return
      await rm(join(this.folder, name), { force: true })
      bytes -= size
    }
  }
}

const digestBytes = 20
const digest = (bytes: Uint8Array) => createHash('sha1').update(bytes).digest()
