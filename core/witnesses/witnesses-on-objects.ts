/** Witnesses on what was shot for reference: its regions that differ most, which tell a line best, and of those what can be judged. */

import { cutWindow } from '../image/cut'
import { contains, type Window } from '../image/window'
import { measureWindow } from '../measure/window-statistics'
import {
  chooseRegions,
  farthestApart,
  judged,
  purposes,
  readSide,
  referenceOverFrames,
  rgbOf,
  type Region,
  type SideReading,
  type WitnessPurpose,
} from '../match'
import { newId, type Element, type ReferenceObject, type Witness } from '../shot'
import type { SeenOnObject } from './on-objects'

/** Of these the first tell the line where pixels do not. */
const regionsOfAnObject = 40
/** Of each larger size. */
const largerOnes = 12
/** So many of an object are kept. */
const most = 6
/** Regions are so many times as wide as the smallest. */
const sizes = [1, 1.5, 2, 3, 4]
/**
 * Of the tolerance: two errors of a region that can be judged, what is left being for what drifts within it. The darkest and the
 * lightest may be noisier, since a gain and a gamma are told by how far they lie apart.
 */
const mostNoise = { ends: 0.5, between: 0.4 }

/** In pixels. */
function smallest(frameWidth: number): { readonly side: number; readonly margin: number } {
  return { side: Math.max(4, Math.round(frameWidth / 107)), margin: Math.max(1, Math.round(frameWidth / 320)) }
}

export interface WitnessesOnObject {
  /** the smallest regions, those that differ most first */
  readonly small: readonly Witness[]
  /** of any size, those that differ most of what grain leaves to be judged */
  readonly kept: readonly Witness[]
}

/**
 * Chosen on its first frame; where its camera sways, a margin keeps edges out.
 *
 * @param pictures of the object, as soft as they are by now
 */
export function witnessesOn(
  element: Element,
  object: ReferenceObject,
  pictures: readonly SeenOnObject[],
  frameWidth: number,
): WitnessesOnObject {
  const own = pictures.filter((one) => one.object === object.id).sort((a, b) => a.frame - b.frame)
  if (own.length === 0) return { small: [], kept: [] }
  const { side, margin } = smallest(frameWidth)
  const bySize = sizes.map((size, i) => {
    const wanted = { side: Math.round(size * side), margin, most: i === 0 ? regionsOfAnObject : largerOnes }
    return chooseRegions(own[0].sharp, own[0].window, wanted)
  })
  const [small] = bySize
  const read = bySize.flat().map((region) => ({ region, ...readOn(region, own) }))
  const judgeable = (noise: number) => read.filter((one) => canBeJudged(one, noise)).map(({ region }) => region)
  const noisy = judgeable(mostNoise.ends)
  // Where grain is too strong for all, the largest are nearest to being judged.
  const largest = bySize.findLast((regions) => regions.length > 0) ?? []
  const ends = farthestApart(noisy.length > 0 ? noisy : largest, 2)
  const kept = farthestApart([...ends, ...judgeable(mostNoise.between)], most)
  return { small: witnessesOf(element, object, small), kept: witnessesOf(element, object, kept) }
}

interface RegionRead {
  /** by frame, averaged over those that agree */
  readonly references: readonly (SideReading | null)[]
  /** of the render, on the first frame */
  readonly adjusted: SideReading | null
}

function readOn(region: Region, pictures: readonly SeenOnObject[]): RegionRead {
  const frames = pictures.map(({ frame, seen, window }) => ({ frame, side: readIn(seen, window, region) }))
  const [{ sharp, window }] = pictures
  return { references: referenceOverFrames('mid', frames), adjusted: readIn(sharp, window, region) }
}

/** @param noise of the tolerance; it is judged on every frame though it drifts by all that is left */
function canBeJudged({ references, adjusted }: RegionRead, noise: number): boolean {
  return references.every((reference) => {
    if (!reference || !adjusted) return false
    const tolerance = purposes.mid.usual(reference)
    const light = rgbOf((c) => reference.light[c] + (1 - noise) * tolerance[c])
    return judged({ purpose: 'mid' }, { reference, adjusted: { ...adjusted, light } }).verdict === 'agrees'
  })
}

/** @returns null where the object does not reach it on that frame: it may be held by hand */
const readIn = (light: Float32Array, window: Window, region: Window): SideReading | null =>
  contains(window, region) ? readSide(measureWindow(cutWindow(light, window, region), region, { noise: true })) : null

function witnessesOf(element: Element, object: ReferenceObject, regions: readonly Region[]): Witness[] {
  const lumas = regions.map(({ light }) => light[0] + light[1] + light[2])
  const [least, largest] = [Math.min(...lumas), Math.max(...lumas)]
  return regions.map((region, i): Witness => {
    const purpose: WitnessPurpose = lumas[i] <= 3 * least ? 'black' : lumas[i] >= largest / 1.5 ? 'white' : 'mid'
    const { x, y, width, height } = region
    const side = { x, y, width, height }
    return {
      ...{ id: newId(), name: `${object.name} ${i + 1}`, rank: 'a0', purpose, element: element.id, on: object.id },
      ...{ reference: side, adjusted: side },
    }
  })
}
