/** Look table: colour through a table, in the encoding that the table was made for. */

import { decodeSteps, encodeSteps } from '../colour'
import { colour, combine, table } from '../graph/steps'
import type { PictureTreatment } from './treatment'

export const lookTable: PictureTreatment<'look-table'> = {
  kind: 'look-table',
  label: 'Look table',
  help: 'Takes colour through a .cube, CLF or CDL, encoded as the table source claims, and back to light.',
  does: ['look', 'grade', 'LUT', 'table'],
  stations: ['finish'],
  side: 'frame',
  parameters: [],
  sources: [{ name: 'table', label: 'Table', help: 'A .cube, .clf, .cc, .ccc or .cdl.', takes: 'table' }],
  build: (input, _values, { sources, opaque }) => {
    const { encoding } = sources.table.request.claims
    const encode = encodeSteps(encoding)
    const decode = decodeSteps(encoding)
    if (opaque) return colour(table(colour(input, encode), sources.table), decode)
    // Light without coverage goes through as it is; what is empty stays empty, whatever the table makes of black.
    const straight = colour(input, [{ do: 'unpremultiply' }, ...encode])
    const looked = colour(table(straight, sources.table), [...decode, { do: 'premultiply-covered' }])
    return combine('where-not-empty', [looked, input])
  },
}
