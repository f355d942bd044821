/** Look table: colour through a table, in the encoding that the table was made for. */

import { decodeSteps, encodeSteps } from '../colour'
import { colour, table } from '../graph/steps'
import type { Treatment } from './treatment'

export const lookTable: Treatment<'look-table'> = {
  kind: 'look-table',
  label: 'Look table',
  help: 'Takes colour through a .cube, CLF or CDL, encoded as the table source claims, and back to light.',
  station: 'finish',
  parameters: [],
  sources: [{ name: 'table', label: 'Table', help: 'A .cube, .clf, .cc, .ccc or .cdl.', takes: 'table' }],
  build: (input, _values, { sources, opaque }) => {
    const { encoding } = sources.table.request.claims
    const straight = opaque ? [] : [{ do: 'unpremultiply' } as const]
    const back = opaque ? [] : [{ do: 'premultiply' } as const]
    const looked = table(colour(input, [...straight, ...encodeSteps(encoding)]), sources.table)
    return colour(looked, [...decodeSteps(encoding), ...back])
  },
}
