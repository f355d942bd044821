/** Colour tables: .cube, CLF, CDL; text to operations. */

import { readCdl } from './cdl'
import { readClf } from './clf'
import { readCube } from './cube'
import { UnusableTableError } from './errors'
import type { TableOperation } from './operations'

export { UnusableTableError } from './errors'
export type { TableOperation, Triple } from './operations'

/** By the extension: these formats have no mark of their own at the beginning. @throws UnusableTableError */
export function readTable(text: string, file: string): TableOperation[] {
  const extension = /\.([a-z]+)$/i.exec(file)?.[1].toLowerCase()
  switch (extension) {
    case 'cube':
      return readCube(text, file)
    case 'clf':
      return readClf(text, file)
    case 'cc':
    case 'ccc':
    case 'cdl':
      return readCdl(text, file)
    default:
      throw new UnusableTableError(file, 'only .cube, .clf, .cc, .ccc and .cdl are read')
  }
}
