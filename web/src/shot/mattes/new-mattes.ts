/** Mattes that can be made of what is there, for a menu. */

import { mediaKind } from '../../../../core/check'
import { matteDescriptions } from '../../../../core/set/owners'
import {
  elementsInOrder,
  find,
  firstRanks,
  initialChoices,
  matteBase,
  mattesOf,
  newId,
  newPaintedMatte,
  tableOf,
  type Matte,
  type Shot,
  type Source,
} from '../../../../core/shot'

interface NewMatte {
  readonly text: string
  readonly matte: () => Matte
}

/** @param selected the element that is selected */
export function newMattes(shot: Shot, selected: string | null, sources: readonly Source[]): readonly NewMatte[] {
  const keyed = (element: string, name: string): NewMatte => ({
    text: `The brightness of ${name}`,
    matte: () => ({
      ...matteBase(shot, 'keyed', 'Key'),
      element,
      choices: initialChoices(matteDescriptions.keyed),
    }),
  })
  const plate = find(shot.elements, shot.plate)
  const own = selected === null || selected === shot.plate ? undefined : find(shot.elements, selected)
  const mattes = mattesOf(shot)
  const ranks = firstRanks(mattes.length)
  return [
    { text: 'Strokes, to be painted', matte: () => newPaintedMatte(shot) },
    ...(plate ? [keyed(plate.id, 'the plate')] : []),
    ...(own ? [keyed(own.id, own.name)] : []),
    ...elementsInOrder(shot)
      .filter(({ element }) => element.id !== shot.plate)
      .map(({ element }): NewMatte => ({
        text: `The alpha of ${element.name}`,
        matte: () => ({ ...matteBase(shot, 'alpha'), element: element.id }),
      })),
    ...sources
      .filter(({ path, forComparing }) => mediaKind(path) === 'picture' && !forComparing)
      .map(({ id, name }): NewMatte => ({
        text: `A channel of ${name}`,
        matte: () => ({ ...matteBase(shot, 'channel'), source: id, part: null, channel: null }),
      })),
    ...(mattes.length > 1
      ? [
          {
            text: 'Other mattes, combined',
            matte: (): Matte => ({
              ...matteBase(shot, 'combined'),
              parts: tableOf(
                mattes.slice(0, 2).map(({ id }, i) => ({ id: newId(), rank: ranks[i], matte: id, how: 'add' })),
              ),
            }),
          },
        ]
      : []),
  ]
}
