/** Mattes that can be made of what is there, for a menu. */

import { type SourceReport } from '../../../../core/check'
import {
  elementsInOrder,
  find,
  firstRanks,
  initialChoices,
  type Matte,
  matteBase,
  mattesOf,
  mediaKind,
  newId,
  newPaintedMatte,
  type ObjectsMatte,
  type Shot,
  type Source,
  tableOf,
} from '../../../../core/shot'
import { matteDescriptions } from '../../../../core/set/owners'

interface NewMatte {
  readonly text: string
  readonly matte: () => Matte
}

/** The first pass of ids that a source has, by its names: ranks `<name>00`, `<name>01`, or one channel called id. */
function idPassOf({ id, name }: Source, reports: readonly SourceReport[]): readonly IdPass[] {
  const parts = reports.find(({ source }) => source === id)?.header?.parts ?? []
  const first = parts.find((part) => part.name !== null && /\D00$/.test(part.name) && part.channels.length % 2 === 0)
  const stem = first?.name?.slice(0, -2)
  const order = (channel: string) => 'rgba'.indexOf(channel.charAt(0).toLowerCase())
  if (stem !== undefined) {
    const layers = parts
      .filter((part) => part.name?.startsWith(stem) && /^\d\d$/.test(part.name.slice(stem.length)))
      .map((part) => ({
        part: part.name,
        channels: part.channels.map((channel) => channel.name).sort((a, b) => order(a) - order(b)),
      }))
    return [{ source: id, sourceName: name, layers, ranked: true }]
  }
  for (const part of parts) {
    const channel = part.channels.find((one) => /^(object_?)?id$/i.test(one.name))
    if (channel)
      return [{ source: id, sourceName: name, layers: [{ part: part.name, channels: [channel.name] }], ranked: false }]
  }
  return []
}

interface IdPass {
  readonly source: string
  readonly sourceName: string
  readonly layers: ObjectsMatte['layers']
  readonly ranked: boolean
}

interface DepthChannel {
  readonly source: string
  readonly sourceName: string
  readonly part: string | null
  readonly channel: string
}

/** Channels of depth, by their names: the standard's own, or of a part that is called so. */
function depthsOf({ id, name }: Source, reports: readonly SourceReport[]): readonly DepthChannel[] {
  const parts = reports.find(({ source }) => source === id)?.header?.parts ?? []
  return parts.flatMap((part) =>
    part.channels
      .filter((channel) => /(^|\.)z$/i.test(channel.name) || /depth/i.test(`${part.name ?? ''}.${channel.name}`))
      .slice(0, 1)
      .map((channel) => ({ source: id, sourceName: name, part: part.name, channel: channel.name })),
  )
}

/** @param selected the element that is selected */
export function newMattes(
  shot: Shot,
  selected: string | null,
  sources: readonly Source[],
  reports: readonly SourceReport[] = [],
): readonly NewMatte[] {
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
    ...sources
      .filter(({ forComparing }) => !forComparing)
      .flatMap((source) => depthsOf(source, reports))
      .map(({ sourceName, ...of }): NewMatte => ({
        text: `Depths of ${sourceName}`,
        matte: () => ({ ...matteBase(shot, 'depth', 'Depths'), ...of }),
      })),
    ...sources
      .filter(({ forComparing }) => !forComparing)
      .flatMap((source) => idPassOf(source, reports))
      .map(({ sourceName, ...of }): NewMatte => ({
        text: `Objects of ${sourceName}`,
        matte: () => ({ ...matteBase(shot, 'objects', 'Objects'), ...of, objects: {} }),
      })),
    ...mattes.map(({ id, name }): NewMatte => ({
      text: `The edge of ${name}`,
      matte: () => ({ ...matteBase(shot, 'band', 'Edge'), matte: id }),
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
