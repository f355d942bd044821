/** What of an element stays the same while it is moved by hand. */

import { useRef } from 'react'
import type { Element } from '../../../../core/shot'

export type StillElement = Omit<Element, 'placing'>

/** @returns the same object as long as nothing but its placing changes, so that what shows it is not drawn anew */
export function useStill({ placing: _placing, ...rest }: Element): StillElement {
  const before = useRef<StillElement>(rest)
  const names = Object.keys(rest) as (keyof StillElement)[]
  const same =
    names.length === Object.keys(before.current).length && names.every((name) => rest[name] === before.current[name])
  if (!same) before.current = rest
  return before.current
}
