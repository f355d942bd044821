/** What tells a file from another of the same name: its size, and a hash of its beginning and its end. */

import { createHash } from 'node:crypto'
import { open } from 'node:fs/promises'
import type { FirstFile } from '../../core/shot'

const pieceBytes = 64 * 1024

/** @param path absolute @returns null where there is no such file */
export async function firstFileAt(path: string): Promise<FirstFile | null> {
  const handle = await open(path, 'r').catch(() => null)
  if (!handle) return null
  try {
    const { size } = await handle.stat()
    const hash = createHash('sha256')
    for (const from of size > pieceBytes ? [0, Math.max(pieceBytes, size - pieceBytes)] : [0]) {
      const piece = Buffer.alloc(Math.min(pieceBytes, size - from))
      const { bytesRead } = await handle.read(piece, 0, piece.length, from)
      hash.update(piece.subarray(0, bytesRead))
    }
    return { size, hash: hash.digest('hex').slice(0, 32) }
  } finally {
    await handle.close()
  }
}
