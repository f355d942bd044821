/** What a witness read on all frames, its reference side averaged over those that agree. */

import { referenceOverFrames, type SideReading } from '../match'
import type { Witness } from '../shot'

/**
 * @param readings by frame, of frames on which it counts
 * @returns the same frames, in order
 */
export function readingsOverFrames<R extends { readonly reference: SideReading | null }>(
  { purpose }: Pick<Witness, 'purpose'>,
  readings: ReadonlyMap<number, R>,
): ReadonlyMap<number, R> {
  const inOrder = [...readings].sort(([a], [b]) => a - b)
  const references = referenceOverFrames(
    purpose,
    inOrder.map(([frame, { reference }]) => ({ frame, side: reference })),
  )
  return new Map(inOrder.map(([frame, read], i) => [frame, { ...read, reference: references[i] }]))
}
