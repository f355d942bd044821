/** How work stands, with what it has so far. */

import type { WorkStatus } from '../../core/work'
import type { WorkStore } from './work-store'

/**
 * One after the other: whatever the status counts as done has its result then, though items go on being done in between.
 *
 * @throws NoSuchWorkError
 */
export async function statusAndResults(
  work: Pick<WorkStore, 'status' | 'resultsOf'>,
  id: string,
): Promise<{ readonly status: WorkStatus; readonly results: ReadonlyMap<number, object> }> {
  const status = await work.status(id)
  return { status, results: await work.resultsOf(id) }
}
