/** Edits of the straight lines from which a lens is measured. */

import { object, string } from 'yup'
import { treatments } from '../../treatments'
import { allOf } from '../find'
import { ImpossibleEditError } from '../impossible-edit'
import { mostLines } from '../limits'
import { byName, id, lineSchema, orNull } from '../schema'
import type { StraightLine, Table } from '../types'
import { editKind, treatmentIn } from './kind'

/** New and changed ones by id; null takes one away. */
export interface SetLines {
  readonly kind: 'set-lines'
  readonly treatment: string
  readonly lines: Readonly<Record<string, StraightLine | null>>
}

export const setLines = editKind<SetLines>({
  kind: 'set-lines',
  schema: object({ kind: string().required(), treatment: id(), lines: byName(orNull(lineSchema)) })
    .noUnknown()
    .strict()
    .required(),
  apply(draft, { treatment, lines }) {
    const settings = treatmentIn(draft, treatment)
    const { label, lines: has } = treatments[settings.kind]
    if (!has) throw new ImpossibleEditError(`${label} is not measured from lines.`)
    const all = { ...settings.lines?.byId }
    for (const [name, line] of Object.entries(lines)) {
      if (line === null) delete all[name]
      else if (line.id !== name) throw new ImpossibleEditError(`Line "${line.id}" cannot be kept as "${name}".`)
      else all[name] = { ...line, points: [...line.points] }
    }
    if (Object.keys(all).length > mostLines)
      throw new ImpossibleEditError(`A lens keeps at most ${mostLines} lines. Remove some first.`)
    settings.lines = { byId: all }
    if (allOf(settings.lines as Table<StraightLine>).length === 0) delete settings.lines
  },
  sentence(_shot, { lines }) {
    const all = Object.values(lines)
    const gone = all.filter((line) => line === null).length
    const count = (some: number) => `${some} straight ${some === 1 ? 'line' : 'lines'}`
    if (gone === all.length) return `Remove ${count(gone)}`
    return gone === 0 ? `Keep ${count(all.length)}` : `Other straight lines: ${all.length - gone}`
  },
})
