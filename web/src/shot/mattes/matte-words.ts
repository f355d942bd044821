/** What is said of mattes. */

import { allOf, type Matte, type MatteWay } from '../../../../core/shot'

const count = (many: number, one: string, more: string) => `${many} ${many === 1 ? one : more}`

/** In a list, beside the name. */
export function kindWords(matte: Matte): string {
  switch (matte.kind) {
    case 'drawn':
      return count(allOf(matte.shapes).length, 'shape', 'shapes')
    case 'painted':
      return count(allOf(matte.strokes).length, 'stroke', 'strokes')
    case 'channel':
      return 'channel'
    case 'depth':
      return 'depths'
    case 'objects':
      return count(Object.keys(matte.objects).length, 'object', 'objects')
    case 'band':
      return 'edge'
    case 'alpha':
      return 'alpha'
    case 'keyed':
      return 'keyed'
    case 'combined':
      return `of ${count(allOf(matte.parts).length, 'matte', 'mattes')}`
  }
}

export const wayWords: Readonly<Record<MatteWay, string>> = {
  add: 'added',
  subtract: 'subtracted',
  intersect: 'intersected',
}
