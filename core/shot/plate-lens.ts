/** The lens, by its numbers, through which an element or the plate is seen. */

import type { Lens } from '../graph/steps'
import { valueAt, type Curve } from '../motion/curve'
import { lensOf } from '../treatments'
import { goesThroughGlass } from './camera-places'
import { find, usesOf } from './find'
import type { Element, Shot, TreatmentSettings, Use } from './types'

export interface LensOver {
  /** the same for lenses that bend alike at all times */
  readonly key: string
  readonly at: (time: number) => Lens
}

/** Settings are never changed in place: each is made into lenses once for a size of frame. */
const made = new WeakMap<TreatmentSettings, Map<string, LensOver | null>>()

/**
 * @param element null: the plate, which is seen through the lens of the glass
 * @returns null where none is known: there is none, it is off or bends nothing, acts in part only, or is given by a map
 */
export function lensOver(shot: Shot, element: Element | null): LensOver | null {
  const own = element && lensAmong(shot, usesOf(shot, { kind: 'element', id: element.id }))
  if (own) return own
  if (element && !goesThroughGlass(shot, element, 'lens')) return null
  return lensAmong(shot, usesOf(shot, { kind: 'glass' }))
}

/** Whether an element is bent by a map: what is pinned behind one moves as on the plate, since a map's numbers are not known to the document. */
export function isBentByMap(shot: Shot, element: Element): boolean {
  const byMap = ({ on, treatment }: Use) => on && find(shot.treatments, treatment)?.kind === 'lens-map'
  return (
    usesOf(shot, { kind: 'element', id: element.id }).some(byMap) ||
    (goesThroughGlass(shot, element, 'lens-map') && usesOf(shot, { kind: 'glass' }).some(byMap))
  )
}

function lensAmong(shot: Shot, uses: readonly Use[]): LensOver | null {
  for (const { on, limit, treatment } of uses) {
    const settings = on && !limit ? find(shot.treatments, treatment) : undefined
    if (settings?.kind === 'lens') return lensBy(settings, shot.frameSize)
  }
  return null
}

const bending = ['k1', 'k2', 'k3', 'p1', 'p2']

function lensBy(settings: TreatmentSettings, { width, height }: Shot['frameSize']): LensOver | null {
  let sizes = made.get(settings)
  if (!sizes) made.set(settings, (sizes = new Map()))
  const size = `${width}x${height}`
  const known = sizes.get(size)
  if (known !== undefined) return known
  const curves = Object.entries(settings.parameters as Readonly<Record<string, readonly Curve[]>>)
  const isStill = curves.every(([, [curve]]) => typeof curve === 'number')
  const bendsNothing = curves.every(([name, [curve]]) => curve === 0 || !bending.includes(name))
  const lensAt = (time: number) => {
    const values = Object.fromEntries(curves.map(([name, [curve]]) => [name, [valueAt(curve, time)]]))
    return lensOf(values, { x: 0, y: 0, width, height }, 1)
  }
  const still = isStill ? lensAt(0) : null
  const times = new Map<number, Lens>()
  const at = (time: number) => {
    if (still) return still
    let lens = times.get(time)
    if (!lens) times.set(time, (lens = lensAt(time)))
    return lens
  }
  const found = bendsNothing ? null : { key: `${size} ${JSON.stringify(settings.parameters)}`, at }
  sizes.set(size, found)
  return found
}
