/** Which frames of a shot's sources exist, each with a fingerprint of its file. */

import type { Shot, Source } from '../shot'
import { absent, type Fingerprint } from './plan'

/** By source id: frame number (`still` for a still) to fingerprint; frames that are not there are absent. */
export type Catalog = Readonly<Record<string, Readonly<Record<string, string>>>>

export const stillKey = 'still'

/** A frame that is not there has a fingerprint of its own, and fails when it is read. */
export function fingerprintFrom(catalog: Catalog): Fingerprint {
  return (source: Source, frame: number | null) =>
    catalog[source.id]?.[frame === null ? stillKey : String(frame)] ?? absent
}

/** The first frame whose plate is there; the shot's first when none is. */
export function firstFrameThere({ elements, frames }: Shot, catalog: Catalog): number {
  const there = Object.keys(catalog[elements[0].source] ?? {}).map(Number)
  return there.length > 0 ? Math.min(...there) : frames.first
}
