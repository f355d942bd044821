/** What two states of a shot differ in, in words: "veil red of Diving bell 0.0215 to 0.0240". */

import { blends } from '../set/blends'
import type { Curve } from '../motion/curve'
import { treatments, type Description, type ParameterDescription } from '../treatments'
import {
  elementDescription,
  inputDescriptions,
  limitDescription,
  matteDescriptions,
  placingDescription,
  shapeDescription,
  shutterDescription,
} from '../set/owners'
import { allOf, elementsInOrder, find, parentOf } from './find'
import { nameOfUse } from './parameters'
import type {
  Box,
  Choices,
  Element,
  Marker,
  Matte,
  Parameters,
  Placing,
  Point,
  Sample,
  Shot,
  Source,
  Table,
  Track,
  Witness,
} from './types'

const channels = ['red', 'green', 'blue']

/** @param most no more than so many; how many more there are is said at the end */
export function differences(before: Shot, after: Shot, most = 200): readonly string[] {
  const all = [
    ...ofHead(before, after),
    ...ofThings(before.sources, after.sources, (name) => `source ${name}`, ofSource),
    ...ofThings(
      before.elements,
      after.elements,
      (name) => name,
      (a, b) => ofElement(before, after, a, b),
    ),
    ...ofOrder(before, after),
    ...ofUses(before, after),
    ...ofSettings(before, after),
    ...ofThings(
      before.tries,
      after.tries,
      (name) => name,
      () => [],
    ),
    ...ofThings(
      before.samples,
      after.samples,
      (name) => `sample ${name}`,
      (a, b) => (sameSample(a, b) ? [] : [`place of sample ${b.name}`]),
    ),
    ...ofThings(
      before.markers,
      after.markers,
      (name) => `marker ${name}`,
      (a, b) => [
        ...(a.frame === b.frame ? [] : [`marker ${b.name} from frame ${a.frame} to ${b.frame}`]),
        ...(strokesOf(a) === strokesOf(b) ? [] : [`drawing of marker ${b.name}`]),
      ],
    ),
    ...ofThings(
      before.witnesses,
      after.witnesses,
      (name) => `witness ${name}`,
      (a, b) => (JSON.stringify(witnessParts(a)) === JSON.stringify(witnessParts(b)) ? [] : [`witness ${b.name}`]),
    ),
    ...ofThings(
      before.referenceObjects,
      after.referenceObjects,
      (name) => `reference object ${name}`,
      (a, b) =>
        [a.photographed, a.rendered, a.insteadOf].join() === [b.photographed, b.rendered, b.insteadOf].join()
          ? []
          : [`reference object ${b.name}`],
    ),
    ...ofThings(before.tracks, after.tracks, (name) => `track ${name}`, ofTrack),
    ...ofThings(before.mattes, after.mattes, (name) => `matte ${name}`, ofMatte),
  ]
  return all.length <= most ? all : [...all.slice(0, most), `and ${all.length - most} more`]
}

function ofTrack(a: Track, b: Track): string[] {
  const settings = ({ model, radius, search }: Track) => [model, radius, search].join()
  const frames = new Set([...Object.keys(a.points), ...Object.keys(b.points)])
  const other = [...frames].filter((frame) => {
    const [one, now] = [a.points[frame], b.points[frame]] as (Track['points'][string] | undefined)[]
    return one?.x !== now?.x || one?.y !== now?.y
  })
  return [
    ...(settings(a) === settings(b) ? [] : [`how track ${b.name} is looked for`]),
    ...(other.length === 0 ? [] : [`track ${b.name} on ${other.length === 1 ? 'a frame' : `${other.length} frames`}`]),
  ]
}

function ofMatte(a: Matte, b: Matte): string[] {
  const known = matteDescriptions[b.kind].parameters
  const own = a.kind === b.kind ? ofParameters(known, a.parameters, b.parameters, `matte ${b.name}`) : []
  const rest = (matte: Matte) => {
    const { name: _name, rank: _rank, parameters: _parameters, ...more } = matte
    return inOneOrder(matte.kind === 'drawn' ? { ...more, shapes: null } : more)
  }
  const shapes =
    a.kind === 'drawn' && b.kind === 'drawn'
      ? ofThings(
          a.shapes,
          b.shapes,
          (name) => `${name} of matte ${b.name}`,
          (one, now) => [
            ...ofParameters(
              shapeDescription.parameters,
              one.parameters,
              now.parameters,
              `${now.name} of matte ${b.name}`,
            ),
            ...(inOneOrder([one.points, one.keyframes, one.how, one.profile, one.from, one.to]) ===
            inOneOrder([now.points, now.keyframes, now.how, now.profile, now.from, now.to])
              ? []
              : [`outline of ${now.name} of matte ${b.name}`]),
          ],
        )
      : []
  return [...own, ...shapes, ...(rest(a) === rest(b) ? [] : [`what matte ${b.name} is made of`])]
}

/** As text with keys in one order: databases put them in an order of their own. */
const inOneOrder = (value: unknown): string =>
  JSON.stringify(value, (_key, one: unknown) =>
    one !== null && typeof one === 'object' && !Array.isArray(one)
      ? Object.fromEntries(Object.entries(one).sort(([p], [q]) => (p < q ? -1 : 1)))
      : one,
  )

const strokesOf = ({ strokes }: Marker) =>
  Object.keys(strokes?.byId ?? {})
    .sort()
    .join()

/** In one order: databases put keys in an order of their own. */
const witnessParts = ({ purpose, reference: r, adjusted: a, lit, element, tolerance, on, frames }: Witness) => [
  ...[purpose, element, tolerance ?? null, on ?? null, frames?.first ?? null, frames?.last ?? null],
  ...[r.x, r.y, r.width, r.height, r.follows ?? null, r.along ?? null],
  ...[a.x, a.y, a.width, a.height, a.follows ?? null, a.along ?? null],
  ...(lit ? [lit.x, lit.y, lit.width, lit.height] : []),
]

function sameSample(a: Sample, b: Sample): boolean {
  const text = ({ x, y, width, height, follows }: Sample) =>
    [x, y, width, height, follows?.element, follows?.track, follows?.frame].join()
  return text(a) === text(b)
}

const rangeText = ({ first, last }: Shot['frames']) => `${first} to ${last}`
const rateText = ({ numerator, denominator }: Shot['rate']) =>
  denominator === 1 ? String(numerator) : `${numerator}/${denominator}`

function ofHead(a: Shot, b: Shot): string[] {
  const lines: (string | false)[] = [
    a.name !== b.name && `name ${a.name} to ${b.name}`,
    rangeText(a.frames) !== rangeText(b.frames) && `frames ${rangeText(a.frames)} to ${rangeText(b.frames)}`,
    rateText(a.rate) !== rateText(b.rate) && `frames a second ${rateText(a.rate)} to ${rateText(b.rate)}`,
    a.workingSpace !== b.workingSpace && `working space ${a.workingSpace} to ${b.workingSpace}`,
  ]
  return [
    ...lines.filter((line) => line !== false),
    ...ofParameters(shutterDescription.parameters, a.shutter.parameters, b.shutter.parameters, 'the shutter'),
  ]
}

interface Named {
  readonly id: string
  readonly name: string
}

/** What came, what went, what is called otherwise, and what differs in what stayed. */
function ofThings<T extends Named>(
  before: Table<T>,
  after: Table<T>,
  called: (name: string) => string,
  within: (a: T, b: T) => readonly string[],
): string[] {
  const gone = allOf(before).filter(({ id }) => !find(after, id))
  const come = allOf(after).filter(({ id }) => !find(before, id))
  const stayed = allOf(after).flatMap((b) => {
    const a = find(before, b.id)
    if (!a || a === b) return []
    return [...(a.name === b.name ? [] : [`${called(a.name)} is called ${b.name}`]), ...within(a, b)]
  })
  return [
    ...gone.map(({ name }) => `${called(name)} removed`),
    ...come.map(({ name }) => `${called(name)} added`),
    ...stayed,
  ]
}

function ofSource(a: Source, b: Source): string[] {
  const of = (name: string, from: unknown, to: unknown) => {
    const text = (value: unknown) =>
      value === undefined || value === null ? 'none' : typeof value === 'object' ? JSON.stringify(value) : String(value)
    return text(from) === text(to) ? [] : [`${name} of ${b.name} ${text(from)} to ${text(to)}`]
  }
  return [
    ...of('files', a.path, b.path),
    ...of('frames', a.frames && rangeText(a.frames), b.frames && rangeText(b.frames)),
    ...of('encoding', a.claims.encoding, b.claims.encoding),
    ...of('primaries', a.claims.primaries, b.claims.primaries),
    ...of('alpha', a.claims.alpha, b.claims.alpha),
    ...of('offset', a.offset ?? 0, b.offset ?? 0),
    ...of('rate', a.rate && rateText(a.rate), b.rate && rateText(b.rate)),
    ...of('missing frames', a.missing ?? 'stop', b.missing ?? 'stop'),
    ...of('enlargement', a.enlarge ?? 1, b.enlarge ?? 1),
    ...of('pixel aspect', a.pixelAspect, b.pixelAspect),
    ...of('comparing only,', a.forComparing ?? false, b.forComparing ?? false),
    ...of('making', a.made, b.made),
    ...of('green upwards', a.greenUp ?? false, b.greenUp ?? false),
    ...of('place in the frame', a.framing ?? 'centred', b.framing ?? 'centred'),
  ]
}

function ofElement(before: Shot, after: Shot, a: Element, b: Element): string[] {
  const passes = ({ inputs }: Element) =>
    allOf(inputs)
      .map((input) =>
        'part' in input
          ? JSON.stringify([input.source, input.part, input.channels, input.timing])
          : JSON.stringify([input.kind, 'element' in input ? [input.element, input.timing] : null]),
      )
      .sort()
      .join(', ')
  const groupName = (shot: Shot, element: Element) => {
    const parent = parentOf(shot, element)
    return parent === null ? 'no group' : (find(shot.elements, parent)?.name ?? parent)
  }
  const shown = ({ blend }: Element) => JSON.stringify([blend.shows?.source, blend.shows?.part])
  const sameBlend = a.blend.kind === b.blend.kind
  return [
    ...(a.visible === b.visible ? [] : [`${b.name} ${b.visible ? 'shown' : 'hidden'}`]),
    ...(sameBlend ? [] : [`blend of ${b.name} ${blends[a.blend.kind].label} to ${blends[b.blend.kind].label}`]),
    ...(shown(a) === shown(b) ? [] : [`what ${b.name} reveals`]),
    ...(groupName(before, a) === groupName(after, b)
      ? []
      : [`${b.name} from ${groupName(before, a)} to ${groupName(after, b)}`]),
    ...(a.note === b.note ? [] : [`note on ${b.name}`]),
    ...((a.tags ?? []).join() === (b.tags ?? []).join() ? [] : [`tags of ${b.name}`]),
    ...(a.label === b.label ? [] : [`label of ${b.name}`]),
    ...(a.ownGlass === b.ownGlass ? [] : [`${b.name} ${b.ownGlass ? 'without' : 'through'} the glass of the shot`]),
    ...ofPlacing(after, a, b),
    ...(passes(a) === passes(b) ? [] : [`what ${b.name} is made of`]),
    ...ofParameters(elementDescription.parameters, a.parameters, b.parameters, b.name),
    ...(sameBlend ? ofParameters(blends[b.blend.kind].parameters, a.blend.parameters, b.blend.parameters, b.name) : []),
    ...allOf(b.inputs).flatMap((input) => {
      const was = find(a.inputs, input.id)
      if (was?.kind !== input.kind) return []
      const described: Description = inputDescriptions[input.kind]
      return [
        ...ofParameters(described.parameters, was.parameters, input.parameters, b.name),
        ...ofMore(described, was as WithMore, input as WithMore, b.name),
      ]
    }),
  ]
}

function ofPlacing(after: Shot, { placing: a }: Element, { name, placing: b }: Element): string[] {
  if (!a || !b) return a === b ? [] : [`${name} ${b ? 'placed' : 'lies as it came'}`]
  const withName = b.with === undefined ? 'by itself' : `with ${find(after.elements, b.with)?.name ?? b.with}`
  const pinText = ({ pin }: Placing) =>
    pin && [pin.by, pin.frame, pin.beyond, pin.fade, pin.smooth, ...pin.tracks].join()
  const box = ({ x, y, width, height }: Box) => [x, y, width, height].join()
  return [
    ...(a.with === b.with ? [] : [`${name} moves ${withName}`]),
    ...(pinText(a) === pinText(b) ? [] : [b.pin ? `pin of ${name}` : `${name} unpinned`]),
    ...(a.filter === b.filter ? [] : [`filter of ${name}`]),
    ...(a.shutter === b.shutter ? [] : [`motion blur of ${name}`]),
    ...(box(a.box) === box(b.box) ? [] : [`box of ${name}`]),
    ...ofParameters(placingDescription.parameters, a.parameters, b.parameters, name),
  ]
}

interface WithMore {
  readonly choices?: Choices
  readonly points?: Table<Point>
}

/** What is chosen by name, and points. */
function ofMore({ choices = [], points }: Description, a: WithMore, b: WithMore, of: string): string[] {
  const label = (name: string, value: string | undefined) =>
    choices.find((one) => one.name === name)?.options.find((one) => one.name === value)?.label ?? 'none'
  const chosen = choices
    .filter(({ name }) => a.choices?.[name] !== b.choices?.[name])
    .map(
      ({ name, label: called }) =>
        `${called.toLowerCase()} of ${of} ${label(name, a.choices?.[name])} to ${label(name, b.choices?.[name])}`,
    )
  if (!points) return chosen
  const [was, is] = [a.points?.byId ?? {}, b.points?.byId ?? {}]
  const what = points.label.toLowerCase()
  const counted = (from: typeof was, to: typeof was) => Object.keys(from).filter((id) => !Object.hasOwn(to, id)).length
  const [gone, come] = [counted(was, is), counted(is, was)]
  const stayed = Object.values(is).flatMap((one) =>
    Object.hasOwn(was, one.id)
      ? ofParameters(points.parameters, was[one.id].parameters, one.parameters, `a ${what} of ${of}`)
      : [],
  )
  return [
    ...chosen,
    ...(gone > 0 ? [`${gone} ${what} removed from ${of}`] : []),
    ...(come > 0 ? [`${come} ${what} added to ${of}`] : []),
    ...stayed,
  ]
}

/** Elements that are in both, in another order. */
function ofOrder(before: Shot, after: Shot): string[] {
  const order = (shot: Shot, other: Shot) =>
    elementsInOrder(shot)
      .map(({ element }) => element)
      .filter(({ id }) => find(other.elements, id))
  const [was, is] = [order(before, after), order(after, before)]
  return was.every(({ id }, i) => id === is[i]?.id) ? [] : ['the order of elements']
}

function ofUses(before: Shot, after: Shot): string[] {
  const label = (shot: Shot, treatment: string) => {
    const settings = find(shot.treatments, treatment)
    return settings ? treatments[settings.kind].label.toLowerCase() : 'a treatment'
  }
  const name = (shot: Shot, id: string) => {
    const use = find(shot.uses, id)
    return use ? `${label(shot, use.treatment)} of ${nameOfUse(shot, use)}` : id
  }
  const kept = (shot: Shot, id: string) => {
    const owner = find(shot.uses, id)?.owner
    return (
      owner !== undefined &&
      (owner.kind !== 'element' || (find(before.elements, owner.id) && find(after.elements, owner.id)))
    )
  }
  // What comes and goes with its element is said by the element.
  const gone = allOf(before.uses).filter(({ id }) => !find(after.uses, id) && kept(before, id))
  const come = allOf(after.uses).filter(({ id }) => !find(before.uses, id) && kept(after, id))
  const stayed = allOf(after.uses).flatMap((b) => {
    const a = find(before.uses, b.id)
    if (!a || a === b) return []
    const limits = [a, b].map(({ limit }) => JSON.stringify(limit && { matte: limit.matte, inverted: limit.inverted }))
    return [
      ...(a.on === b.on ? [] : [`${name(after, b.id)} ${b.on ? 'on' : 'off'}`]),
      ...(limits[0] === limits[1] ? [] : [`limit of ${name(after, b.id)}`]),
      ...(a.limit && b.limit
        ? ofParameters(limitDescription.parameters, a.limit.parameters, b.limit.parameters, name(after, b.id))
        : []),
    ]
  })
  return [
    ...gone.map(({ id }) => `${name(before, id)} removed`),
    ...come.map(({ id }) => `${name(after, id)} added`),
    ...stayed,
  ]
}

function ofSettings(before: Shot, after: Shot): string[] {
  return allOf(after.treatments).flatMap((b) => {
    const a = find(before.treatments, b.id)
    if (!a || a === b || a.kind !== b.kind) return []
    const owners = [
      ...new Set(
        allOf(after.uses)
          .filter(({ treatment }) => treatment === b.id)
          .map((use) => nameOfUse(after, use)),
      ),
    ]
    const of = owners.join(' and ') || treatments[b.kind].label
    const read =
      JSON.stringify(a.sources) === JSON.stringify(b.sources)
        ? []
        : [`what ${treatments[b.kind].label.toLowerCase()} of ${of} reads`]
    const has = (what: 'lines' | 'pin', words: string) =>
      JSON.stringify(a[what]) === JSON.stringify(b[what])
        ? []
        : [`${words} of ${treatments[b.kind].label.toLowerCase()} of ${of}`]
    const measured = [...has('lines', 'straight lines'), ...has('pin', 'tracks')]
    const tries = ofThings(
      a.tries ?? { byId: {} },
      b.tries ?? { byId: {} },
      (name) => `try ${name} of ${treatments[b.kind].label.toLowerCase()} of ${of}`,
      () => [],
    )
    const described = treatments[b.kind]
    return [
      ...read,
      ...measured,
      ...tries,
      ...ofParameters(described.parameters, a.parameters, b.parameters, of),
      ...ofMore(described, a, b, of),
    ]
  })
}

/** A channel each, or all together where all changed alike. */
function ofParameters(
  described: readonly ParameterDescription[],
  before: Parameters,
  after: Parameters,
  of: string,
): string[] {
  return described.flatMap(({ name, label, step }) => {
    const [was = [], is = []] = [before[name], after[name]]
    const digits = Math.max(0, Math.ceil(-Math.log10(step)))
    const lines = is.flatMap((curve, channel) => {
      const from = was[channel]
      if (from === undefined || same(from, curve)) return []
      return [{ channel, change: changeText(from, curve, digits) }]
    })
    const alike = lines.length === is.length && lines.every(({ change }) => change === lines[0].change)
    if (lines.length === 0) return []
    const called = label.toLowerCase()
    if (alike) return [`${called} of ${of} ${lines[0].change}`]
    return lines.map(({ channel, change }) => `${called} ${channels[channel]} of ${of} ${change}`)
  })
}

function same(a: Curve, b: Curve): boolean {
  if (typeof a === 'number' || typeof b === 'number') return a === b
  const [left, right] = [Object.keys(a.keyframes), Object.keys(b.keyframes)]
  return (
    a.beyond === b.beyond &&
    left.length === right.length &&
    left.every((frame) => JSON.stringify(a.keyframes[frame]) === JSON.stringify(b.keyframes[frame]))
  )
}

function changeText(from: Curve, to: Curve, digits: number): string {
  if (typeof from === 'number' && typeof to === 'number') return `${from.toFixed(digits)} to ${to.toFixed(digits)}`
  const text = (curve: Curve) =>
    typeof curve === 'number' ? curve.toFixed(digits) : `${Object.keys(curve.keyframes).length} keyframes`
  return text(from) === text(to) ? 'in its keyframes' : `${text(from)} to ${text(to)}`
}
