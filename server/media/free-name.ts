/** Files get names that nobody has. */

import { link, unlink } from 'node:fs/promises'
import { basename, extname, join } from 'node:path'

/**
 * Gives a file that has arrived its name. A name that is taken in between, by another upload or by anybody else, is never
 * overwritten: making a link fails then, and the next name is tried.
 *
 * @returns the name that it has now
 */
export async function layUnderFreeName(waiting: string, folder: string, name: string): Promise<string> {
  for (let n = 1; ; n++) {
    const free = n === 1 ? name : `${basename(name, extname(name))}-${n}${extname(name)}`
    try {
      await link(waiting, join(folder, free))
      await unlink(waiting)
      return free
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error
    }
  }
}
