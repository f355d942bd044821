/** Whether the files of a picture stayed as they were while it was made. */

import { framesOf, type Step } from '../../core/graph/steps'
import { fingerprintOf } from '../media/catalog'
import { ChangedFileError } from '../media/picture-files'
import { pathInside, type MediaPlace } from '../media/read-frame'

/** @returns the state of every file that the steps read, by its path */
export async function statesOfFiles(place: MediaPlace, steps: readonly Step[]): Promise<ReadonlyMap<string, string>> {
  const paths = [...new Set(framesOf(steps).map(({ request }) => request.path))]
  const states = await Promise.all(
    paths.map(async (path) => {
      const state = await pathInside(place, path).then(fingerprintOf, () => null)
      return [path, state ?? 'not there'] as const
    }),
  )
  return new Map(states)
}

/** @throws ChangedFileError */
export function refuseChanged(before: ReadonlyMap<string, string>, now: ReadonlyMap<string, string>): void {
  const changed = [...before].find(([path, state]) => now.get(path) !== state)
  if (changed)
    throw new ChangedFileError(
      `${changed[0]} changed while it was delivered. Wait until it is written completely, then retry.`,
    )
}
