/** Reads an EXR file from disk in pieces, and the platform's zlib for it. */

import { open, type FileHandle } from 'node:fs/promises'
import { promisify } from 'node:util'
import { deflate as deflateCallback, inflateSync, type ZlibOptions } from 'node:zlib'
import type { ByteSource, Deflate, Inflate } from '../../formats/exr'

const deflateAsync = promisify<Uint8Array, ZlibOptions, Buffer>(deflateCallback)

/**
 * Frames are read on threads of their own, so this holds up nobody. One chunk for the whole block, since zlib's usual
 * 16 kB chunks cost more than the inflating. More than `size` bytes out of a stream is an error.
 */
export const inflate: Inflate = (bytes, size) =>
  inflateSync(bytes, { maxOutputLength: Math.max(1, size), chunkSize: Math.max(64, size) })

/** On zlib's own threads. Level 4: on grainy plates higher levels cost much time for a percent of size. */
export const deflate: Deflate = (bytes) => deflateAsync(bytes, { level: 4, chunkSize: Math.max(1024, bytes.length) })

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
