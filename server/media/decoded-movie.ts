/** What is known of the movie that a sequence was decoded from. It lies beside the frames, so that it is found wherever they are read. */

import { readFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import { array, number, object, string } from 'yup'
import type { DecodedMovie } from '../../core/check'
import { writeWhole } from '../delivery/write-whole'
import { pathInside, type MediaPlace } from './read-frame'

const fileName = 'movie.json'

const schema = object({
  movie: string().required(),
  uneven: array(object({ picture: number().required(), frames: number().required() })).required(),
})

/** @param folder the whole path of the folder of the frames */
export async function noteDecodedMovie(folder: string, decoded: DecodedMovie, attempt: string): Promise<void> {
  await writeWhole(join(folder, fileName), `${JSON.stringify(decoded, null, 2)}\n`, attempt)
}

/** @param pattern of the frames @returns null for frames that come from no movie */
export async function decodedMovie(place: MediaPlace, pattern: string): Promise<DecodedMovie | null> {
  try {
    const path = await pathInside(place, join(dirname(pattern), fileName))
    return schema.validateSync(JSON.parse(await readFile(path, 'utf8')), { strict: true })
  } catch {
    // A folder may hold a file of that name that is somebody else's.
    return null
  }
}
