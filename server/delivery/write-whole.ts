/** Writes files so that nobody ever sees half of one. */

import { randomUUID } from 'node:crypto'
import { mkdir, rename, rm, writeFile } from 'node:fs/promises'
import { dirname } from 'node:path'

/** Writes under another name first, so that nobody ever sees half a file. */
export async function writeWhole(path: string, bytes: Uint8Array | string): Promise<void> {
  await mkdir(dirname(path), { recursive: true })
  const unfinished = `${path}.unfinished-${randomUUID()}`
  try {
    await writeFile(unfinished, bytes)
    await rename(unfinished, path)
  } catch (error) {
    await rm(unfinished, { force: true })
    throw error
  }
}
