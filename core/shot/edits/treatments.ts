/** Edits of treatments: where they act, how far, what they read. */

import { boolean, object, string } from 'yup'
import { treatments, type TreatmentKind } from '../../treatments'
import { belongsTo } from '../camera-places'
import { find } from '../find'
import { ImpossibleEditError } from '../impossible-edit'
import { limitsOfTreatment, limitsOfUse } from '../limits'
import { nameOfUse } from '../parameters'
import { id, limitSchema, pinSchema, treatmentSchema, useSchema } from '../schema'
import type { Limit, Pin, Shot, TreatmentSettings, Use, UseOwner } from '../types'
import { checkGroups, removeUnused } from './elements'
import { editKind, elementIn, put, sourceIn, sourceName, take, trackIn, treatmentIn, useIn } from './kind'

/** new settings and their first use */
export interface AddTreatment {
  readonly kind: 'add-treatment'
  readonly settings: TreatmentSettings
  readonly use: Use
}
/** another use of settings that are there: changed in one place, they change in all */
export interface ShareTreatment {
  readonly kind: 'share-treatment'
  readonly use: Use
}
/** the use; its settings too when nothing else uses them */
export interface RemoveTreatment {
  readonly kind: 'remove-treatment'
  readonly use: string
}
export interface TurnTreatment {
  readonly kind: 'turn-treatment'
  readonly use: string
  readonly on: boolean
}
/** which source it reads under a name of its description */
export interface SetTreatmentSource {
  readonly kind: 'set-treatment-source'
  readonly treatment: string
  readonly name: string
  /** null: it does without, where it can */
  readonly source: string | null
}
/** how far it counts where; null: everywhere and wholly */
export interface SetLimit {
  readonly kind: 'set-limit'
  readonly use: string
  readonly limit: Limit | null
}

/** whose motion it takes; null: nothing's */
export interface PinTreatment {
  readonly kind: 'pin-treatment'
  readonly treatment: string
  readonly pin: Pin | null
}

const fields = (shape: Parameters<typeof object>[0]) => object(shape).noUnknown().strict().required()
const say = (faults: readonly string[]) => {
  if (faults.length > 0) throw new ImpossibleEditError(`${faults[0]}.`)
}

function placeFault(kind: TreatmentKind, owner: UseOwner): string[] {
  return belongsTo(kind, owner) ? [] : [`${treatments[kind].label} does not belong to the ${owner.kind}`]
}

function labelOf(shot: Shot, use: string): { readonly label: string; readonly owner: string } {
  const found = find(shot.uses, use)
  const settings = found && find(shot.treatments, found.treatment)
  return {
    label: settings ? treatments[settings.kind].label : 'A treatment',
    owner: found ? nameOfUse(shot, found) : 'what is gone',
  }
}

export const addTreatment = editKind<AddTreatment>({
  kind: 'add-treatment',
  schema: fields({ kind: string().required(), settings: treatmentSchema, use: useSchema }),
  apply(draft, { settings, use }) {
    if (use.treatment !== settings.id) throw new ImpossibleEditError('The use is not of the treatment that is added.')
    if (use.owner.kind === 'element') elementIn(draft, use.owner.id)
    say([...placeFault(settings.kind, use.owner), ...limitsOfTreatment(settings), ...limitsOfUse(use)])
    put(draft.treatments, settings, 'treatment')
    put(draft.uses, use, 'use of a treatment')
    checkGroups(draft)
  },
  sentence: (shot, { settings, use }) =>
    `Add ${treatments[settings.kind].label.toLowerCase()} to ${nameOfUse(shot, use)}`,
})

export const shareTreatment = editKind<ShareTreatment>({
  kind: 'share-treatment',
  schema: fields({ kind: string().required(), use: useSchema }),
  apply(draft, { use }) {
    const { kind } = treatmentIn(draft, use.treatment)
    if (use.owner.kind === 'element') elementIn(draft, use.owner.id)
    say([...placeFault(kind, use.owner), ...limitsOfUse(use)])
    put(draft.uses, use, 'use of a treatment')
    checkGroups(draft)
  },
  sentence(shot, { use }) {
    const settings = find(shot.treatments, use.treatment)
    return `Share ${settings ? treatments[settings.kind].label.toLowerCase() : 'a treatment'} with ${nameOfUse(shot, use)}`
  },
})

export const removeTreatment = editKind<RemoveTreatment>({
  kind: 'remove-treatment',
  schema: fields({ kind: string().required(), use: id() }),
  apply(draft, { use }) {
    const { treatment } = useIn(draft, use)
    take(draft.uses, use)
    removeUnused(draft, treatment)
  },
  sentence(shot, { use }) {
    const { label, owner } = labelOf(shot, use)
    return `Remove ${label.toLowerCase()} of ${owner}`
  },
})

export const turnTreatment = editKind<TurnTreatment>({
  kind: 'turn-treatment',
  schema: fields({ kind: string().required(), use: id(), on: boolean().strict().required() }),
  apply(draft, { use, on }) {
    useIn(draft, use).on = on
    checkGroups(draft)
  },
  sentence(shot, { use, on }) {
    const { label, owner } = labelOf(shot, use)
    return `${label} of ${owner} ${on ? 'on' : 'off'}`
  },
})

export const pinTreatment = editKind<PinTreatment>({
  kind: 'pin-treatment',
  schema: fields({
    kind: string().required(),
    treatment: id(),
    pin: pinSchema().nullable().defined(),
  }),
  apply(draft, { treatment, pin }) {
    const settings = treatmentIn(draft, treatment)
    const { label, pinned } = treatments[settings.kind]
    if (!pinned) throw new ImpossibleEditError(`${label} takes no motion of tracks.`)
    for (const track of pin?.tracks ?? []) trackIn(draft, track)
    if (pin === null) delete settings.pin
    else Object.assign(settings, { pin })
  },
  sentence(shot, { treatment, pin }) {
    const settings = find(shot.treatments, treatment)
    const label = settings ? treatments[settings.kind].label : 'A treatment'
    const names = pin?.tracks.map((one) => find(shot.tracks, one)?.name ?? one).join(', ')
    return names === undefined ? `${label} by no tracks` : `${label} by ${names}`
  },
})

export const setTreatmentSource = editKind<SetTreatmentSource>({
  kind: 'set-treatment-source',
  schema: fields({
    kind: string().required(),
    treatment: id(),
    name: string().strict().max(64).required(),
    source: id().nullable(),
  }),
  apply(draft, { treatment, name, source }) {
    const settings = treatmentIn(draft, treatment)
    const { label, sources = [] } = treatments[settings.kind]
    const wanted = sources.find((one) => one.name === name)
    if (!wanted) throw new ImpossibleEditError(`${label} reads no "${name}".`)
    if (source !== null) Object.assign((settings.sources ??= {}), { [name]: sourceIn(draft, source).id })
    else if (wanted.without === undefined)
      throw new ImpossibleEditError(`${label} cannot do without ${wanted.label.toLowerCase()}. Choose another source.`)
    else {
      const { [name]: _gone, ...rest } = settings.sources ?? {}
      if (Object.keys(rest).length > 0) settings.sources = rest
      else delete settings.sources
    }
  },
  sentence(shot, { treatment, source }) {
    const settings = find(shot.treatments, treatment)
    const what = source === null ? 'No source' : sourceName(shot, source)
    return `${what} for ${settings ? treatments[settings.kind].label.toLowerCase() : treatment}`
  },
})

export const setLimit = editKind<SetLimit>({
  kind: 'set-limit',
  schema: fields({ kind: string().required(), use: id(), limit: limitSchema.nullable().defined() }),
  apply(draft, { use: named, limit }) {
    const use = useIn(draft, named)
    use.limit = limit as typeof use.limit
    say(limitsOfUse(use as Use))
  },
  sentence(shot, { use, limit }) {
    const { label, owner } = labelOf(shot, use)
    return `${limit ? 'Limit' : 'No limit for'} ${label.toLowerCase()} of ${owner}`
  },
})
