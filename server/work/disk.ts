/** What a disk says that has no room, or may not be written. */

import { HeldUpError } from './kind'

const fullDiskSeconds = 5

/** @param folder as people know it @returns null for what is no word of the disk */
export function heldUpByDisk(error: unknown, folder: string): Error | null {
  const code = (error as NodeJS.ErrnoException | null)?.code
  if (code === 'ENOSPC' || code === 'EDQUOT')
    return new HeldUpError(
      `The disk is full: ${folder} has no room for the next file. Make room; the work goes on by itself.`,
      fullDiskSeconds,
    )
  if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS')
    return new Error(`The folder ${folder} cannot be written (${code}). Check its permissions and retry.`)
  return null
}
