/** When a use of a source, or of another element, shows what. */

import { object, string } from 'yup'
import { find } from '../find'
import { ImpossibleEditError } from '../impossible-edit'
import { limitsOfElement } from '../limits'
import { id, timingChanges } from '../schema'
import type { Element, Timing } from '../types'
import { editKind, elementIn, elementName } from './kind'

export interface SetTiming {
  readonly kind: 'set-timing'
  readonly element: string
  readonly input: string
  /** null: as it is when nothing is said */
  readonly changes: { readonly [K in keyof Timing]?: Timing[K] | null }
}

const words: Readonly<Record<keyof Timing, string>> = {
  offset: 'Offset',
  speed: 'Speed',
  held: 'Held frame',
  beyond: 'What lies beyond the frames',
  from: 'First frame',
  to: 'Last frame',
}

export const setTiming = editKind<SetTiming>({
  kind: 'set-timing',
  schema: object({ kind: string().required(), element: id(), input: id(), changes: timingChanges() })
    .noUnknown()
    .strict()
    .required(),
  apply(draft, { element: named, input: wanted, changes }) {
    const element = elementIn(draft, named)
    const input = find((element as Element).inputs, wanted)
    if (input?.kind !== 'pass' && input?.kind !== 'element')
      throw new ImpossibleEditError(`${element.name} is not made of anything with a time of its own any more.`)
    const timing = Object.fromEntries(
      Object.entries({ ...input.timing, ...changes }).filter(([, value]) => value !== null),
    ) as Timing
    const writable = element.inputs.byId[wanted] as { timing?: { -readonly [K in keyof Timing]: Timing[K] } }
    if (Object.keys(timing).length === 0) delete writable.timing
    else if (!writable.timing) writable.timing = timing
    else {
      const kept = writable.timing
      for (const name of Object.keys(kept)) if (!Object.hasOwn(timing, name)) delete kept[name as 'held']
      Object.assign(kept, timing)
    }
    const [fault] = limitsOfElement(element as Element)
    if (fault !== undefined) throw new ImpossibleEditError(`${fault}.`)
  },
  sentence(shot, { element, changes }) {
    const names = Object.keys(changes) as (keyof Timing)[]
    return `${names.length === 1 ? words[names[0]] : 'Time'} of ${elementName(shot, element)}`
  },
})
