/** Writes files so that nobody ever sees half of one. */

import { randomUUID } from 'node:crypto'
import { mkdir, open, rename, rm } from 'node:fs/promises'
import { dirname } from 'node:path'

/** Files under such a name were never finished. */
export const unfinishedMark = '.unfinished-'

/**
 * Writes under another name first, and to the disk, before the file gets its name: neither a crash of the program nor of the
 * machine leaves half a file.
 *
 * @param attempt part of the unfinished name
 */
export async function writeWhole(
  path: string,
  bytes: Uint8Array | string,
  attempt: string = randomUUID(),
): Promise<void> {
  await mkdir(dirname(path), { recursive: true })
  const unfinished = `${path}${unfinishedMark}${attempt}`
  try {
    const file = await open(unfinished, 'w')
    try {
      await file.writeFile(bytes)
      await file.datasync()
    } finally {
      await file.close()
    }
    await rename(unfinished, path)
  } catch (error) {
    await rm(unfinished, { force: true })
    throw error
  }
}
