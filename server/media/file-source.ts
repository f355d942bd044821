/** Reads a file from disk in pieces. */

import { open, type FileHandle } from 'node:fs/promises'
import type { ByteSource } from '../../formats/exr'

/** The file is not there, or may not be read. */
export class MissingFileError extends Error {
  override readonly name = 'MissingFileError'
}

/** Opens a file for as long as `use` takes. @throws MissingFileError */
export async function withFile<T>(path: string, name: string, use: (source: ByteSource) => Promise<T>): Promise<T> {
  let handle: FileHandle
  try {
    handle = await open(path, 'r')
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code
    if (code === 'ENOENT')
      throw new MissingFileError(
        `${name} does not exist. Render it, copy it there, or change the source's frame range.`,
      )
    throw new MissingFileError(`${name} cannot be opened (${code ?? String(error)}). Check its permissions.`)
  }
  try {
    const stat = await handle.stat()
    if (!stat.isFile()) throw new MissingFileError(`${name} is not a file. Choose a file or a sequence.`)
    return await use({
      name,
      size: stat.size,
      state: `${path} ${stat.size} ${stat.mtimeMs} ${stat.ino}`,
      read: async (offset, length) => {
        const bytes = new Uint8Array(length)
        let done = 0
        while (done < length) {
          const { bytesRead } = await handle.read(bytes, done, length - done, offset + done)
          if (bytesRead === 0) break
          done += bytesRead
        }
        return done === length ? bytes : bytes.subarray(0, done)
      },
    })
  } finally {
    await handle.close()
  }
}
