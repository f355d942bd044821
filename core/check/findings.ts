/**
 * Claims check: what does not fit together, source by source. Each finding says where it is, why it matters, and offers a
 * way out as an edit where there is one.
 */

import { encodings, primaries, type EncodingName } from '../colour'
import type { Edit, Rational, Shot, Source } from '../shot'
import type { PictureHeader, SourceReport, Use } from './report'
import { usesOf } from './uses'

export interface Finding {
  /** the same for the same trouble of the same source, run after run */
  readonly id: string
  readonly source: string
  readonly kind: string
  /** `wrong`: the picture will be wrong; `look`: an eye should judge */
  readonly severity: 'wrong' | 'look'
  readonly what: string
  readonly where: string
  readonly why: string
  readonly fix: { readonly label: string; readonly edit: Edit } | null
}

interface Judged {
  readonly shot: Shot
  readonly source: Source
  readonly report: SourceReport
  readonly uses: readonly Use[]
  readonly header: PictureHeader
}

type Draft = Omit<Finding, 'id' | 'source'>
type Check = (judged: Judged, all: readonly SourceReport[]) => readonly Draft[]

/** A list of frames in words: `1003, 1007 to 1012 and 4 more`. */
export function frameList(frames: readonly (number | null)[], most = 4): string {
  const numbers = frames.filter((frame) => frame !== null)
  if (numbers.length === 0) return 'the still'
  const runs: [number, number][] = []
  for (const n of numbers) {
    const last = runs.at(-1)
    if (last && last[1] === n - 1) last[1] = n
    else runs.push([n, n])
  }
  const text = runs.slice(0, most).map(([a, b]) => (a === b ? `${a}` : b === a + 1 ? `${a}, ${b}` : `${a} to ${b}`))
  const rest = runs.slice(most).reduce((sum, [a, b]) => sum + b - a + 1, 0)
  return `${numbers.length === 1 ? 'frame' : 'frames'} ${text.join(', ')}${rest > 0 ? ` and ${rest} more` : ''}`
}

export const perSecond = ({ numerator, denominator }: Rational) => numerator / denominator
const rateText = (rate: number) => `${Number(rate.toFixed(3))}`
const isPicture = (uses: readonly Use[]) => uses.length === 0 || uses.some(({ takes }) => takes === 'rgba')

const files: Check = ({ source, report }) => {
  const drafts: Draft[] = []
  const { missing, unreadable, misnamed, header, changes } = report
  if (missing.length > 0)
    drafts.push({
      kind: 'missing-frames',
      severity: source.missing ? 'look' : 'wrong',
      what: `${missing.length} ${missing.length === 1 ? 'frame is' : 'frames are'} missing inside its range`,
      where: frameList(missing),
      why:
        source.missing === 'repeat'
          ? 'The frame before is shown instead.'
          : source.missing === 'empty'
            ? 'Nothing is shown there.'
            : 'The picture stops there with an error.',
      fix: source.missing
        ? null
        : {
            label: 'Repeat the frame before',
            edit: { kind: 'set-source', source: source.id, changes: { missing: 'repeat' } },
          },
    })
  for (const { frame, sentence } of unreadable.slice(0, 5))
    drafts.push({
      kind: `unreadable-${frame ?? 'still'}`,
      severity: 'wrong',
      what: sentence,
      where: frameList([frame]),
      why: 'The frame cannot be shown or delivered.',
      fix: null,
    })
  if (misnamed && header)
    drafts.push({
      kind: 'misnamed',
      severity: 'look',
      what: `The name says ${misnamed}, the file is ${header.format.toUpperCase()}`,
      where: source.path,
      why: 'It is read for what it is here; other programs may refuse it or read it wrongly.',
      fix: null,
    })
  if (changes.length > 0)
    drafts.push({
      kind: 'changes',
      severity: 'wrong',
      what: `Its files are not alike: ${changes[0].what}`,
      where: frameList(changes.map(({ frame }) => frame)),
      why: 'Two renders or two clips were mixed: size, place or passes jump there.',
      fix: null,
    })
  return drafts
}

const rate: Check = ({ shot, source, header }) => {
  const wanted = perSecond(shot.rate)
  const given = source.rate ? perSecond(source.rate) : header.says.rate
  if (given === null || !source.frames || Math.abs(given - wanted) < 0.002) return []
  return [
    {
      kind: 'rate',
      severity: 'wrong',
      what: `It runs at ${rateText(given)} frames a second, the shot at ${rateText(wanted)}`,
      where: 'the whole source',
      why: 'Frame for frame its movement drifts against the plate.',
      fix: {
        label: `Take it frame for frame at ${rateText(wanted)}`,
        edit: { kind: 'set-source', source: source.id, changes: { rate: shot.rate } },
      },
    },
  ]
}

const range: Check = ({ shot, source, uses, report }) => {
  if (!source.frames || uses.length === 0) return []
  const { offset = 0, frames } = source
  const [first, last] = [frames.first + offset, frames.last + offset]
  const drafts: Draft[] = []
  if (first > shot.frames.first || last < shot.frames.last) {
    const length = shot.frames.last - shot.frames.first
    const moved = shot.frames.first - frames.first
    const fits = frames.last - frames.first >= length && moved !== offset
    drafts.push({
      kind: 'range',
      severity: 'wrong',
      what: `It covers shot frames ${first} to ${last}, the shot has ${shot.frames.first} to ${shot.frames.last}`,
      where: first > shot.frames.first ? `before frame ${first}` : `after frame ${last}`,
      why: 'Elements that read it are not there on those frames.',
      fix: fits
        ? {
            label: `Let file ${frames.first} serve frame ${shot.frames.first}`,
            edit: { kind: 'set-source', source: source.id, changes: { offset: moved } },
          }
        : null,
    })
  }
  const there = report.frames.filter((frame) => frame !== null)
  const beyond = there.filter((frame) => frame < frames.first || frame > frames.last)
  if (beyond.length > 0)
    drafts.push({
      kind: 'more-frames',
      severity: 'look',
      what: `There are ${beyond.length} more files than its range says`,
      where: frameList(beyond),
      why: 'They are not used; the range may have been taken before the render was done.',
      fix: {
        label: `Take all, ${Math.min(...there)} to ${Math.max(...there)}`,
        edit: {
          kind: 'set-source',
          source: source.id,
          changes: { frames: { first: Math.min(...there), last: Math.max(...there) } },
        },
      },
    })
  return drafts
}

const size: Check = ({ shot, source, header, uses }) => {
  const { width, height } = header.parts[0].displayWindow
  const { frameSize } = shot
  const enlarge = source.enlarge ?? 1
  const drafts: Draft[] = []
  if (uses.length > 0 && (width * enlarge !== frameSize.width || height * enlarge !== frameSize.height)) {
    const factor = ([1, 2, 4] as const).find((n) => width * n === frameSize.width && height * n === frameSize.height)
    drafts.push({
      kind: 'size',
      severity: 'wrong',
      what: `It is ${width} x ${height}, the frame ${frameSize.width} x ${frameSize.height}`,
      where: 'the whole source',
      why: factor
        ? 'A render at part of the size lands too small.'
        : 'It lands in the upper left corner, at another size.',
      fix: factor
        ? {
            label: factor === 1 ? 'Take it as it is' : `Enlarge it ${factor} times on its pixel grid`,
            edit: { kind: 'set-source', source: source.id, changes: { enlarge: factor } },
          }
        : null,
    })
  }
  const aspect = source.pixelAspect ?? header.says.pixelAspect
  if (aspect !== null && Math.abs(aspect - shot.pixelAspect) > 0.002)
    drafts.push({
      kind: 'pixel-aspect',
      severity: 'wrong',
      what: `Its pixels are ${Number(aspect.toFixed(3))} times as wide as high, the shot's ${shot.pixelAspect}`,
      where: 'the whole source',
      why: 'Circles of the one are ovals in the other.',
      fix: {
        label: `Take them for ${shot.pixelAspect}`,
        edit: { kind: 'set-source', source: source.id, changes: { pixelAspect: shot.pixelAspect } },
      },
    })
  return drafts
}

/** A candidate is preferred to the claim when it is better by this, in stops. */
const clearlyBetter = 1

const encoding: Check = ({ source, report, header, uses }) => {
  if (!isPicture(uses) || !report.encodings) return []
  const claimed = source.claims.encoding
  const setTo = (name: EncodingName): Draft['fix'] => ({
    label: `Read it as ${encodings[name].label}`,
    edit: { kind: 'set-claims', source: source.id, claims: { encoding: name } },
  })
  const [best] = report.encodings
  const own = report.encodings.find((candidate) => candidate.encoding === claimed)
  const familyClaimed = encodings[claimed].family
  if (own && own.cost - best.cost > clearlyBetter && encodings[best.encoding].family !== familyClaimed) {
    const [low, high] = report.levels ?? [0, 1]
    const looks =
      encodings[best.encoding].family === 'linear'
        ? 'scene-linear'
        : low > 0.05 && high < 0.9
          ? 'log'
          : 'display-encoded'
    return [
      {
        kind: `looks-${looks}`,
        severity: 'wrong',
        what: `It looks ${looks}, and is read as ${encodings[claimed].label}`,
        where: `code values from ${low.toFixed(3)} to ${high.toFixed(3)}`,
        why: 'Every sum of light is wrong: blacks float or sink, edges and blurs go dark or bright.',
        fix: setTo(header.says.encoding && header.says.encoding !== claimed ? header.says.encoding : best.encoding),
      },
    ]
  }
  const says = header.says.encoding
  if (says === null || says === claimed) return []
  return [
    {
      kind: 'encoding-said',
      severity: 'look',
      what: `The file says ${encodings[says].label}, and is read as ${encodings[claimed].label}`,
      where: 'the whole source',
      why: 'One of the two is wrong; the line-up shows both.',
      fix: setTo(says),
    },
  ]
}

const primariesSaid: Check = ({ source, header, uses }) => {
  const said = header.says.primaries
  if (!isPicture(uses) || said === null || said === source.claims.primaries) return []
  return [
    {
      kind: 'primaries',
      severity: 'wrong',
      what: `The file says ${primaries[said].label}, and is read as ${primaries[source.claims.primaries].label}`,
      where: 'the whole source',
      why: 'Saturation and hue are off, most where colours are strong.',
      fix: {
        label: `Read it as ${primaries[said].label}`,
        edit: { kind: 'set-claims', source: source.id, claims: { primaries: said } },
      },
    },
  ]
}

const alpha: Check = ({ source, report, header, uses }) => {
  if (!uses.some(({ takes }) => takes === 'rgba')) return []
  const claimed = source.claims.alpha
  const setTo = (kind: 'premultiplied' | 'straight'): Draft['fix'] => ({
    label: `Read its alpha as ${kind}`,
    edit: { kind: 'set-claims', source: source.id, claims: { alpha: kind } },
  })
  if (claimed === 'none')
    return header.says.alpha === 'none'
      ? []
      : [
          {
            kind: 'alpha-unused',
            severity: 'look',
            what: 'The file has an alpha that is not read',
            where: 'the whole source',
            why: 'What lands over covers the whole frame.',
            fix: setTo(report.alpha?.kind ?? 'premultiplied'),
          },
        ]
  const measured = report.alpha?.kind
  if (!measured || measured === claimed) return []
  return [
    {
      kind: `looks-${measured}`,
      severity: 'wrong',
      what: `Its alpha looks ${measured}, and is read as ${claimed}`,
      where: `${report.alpha?.pixels} edge pixels, ${Math.round((report.alpha?.agree ?? 0) * 100)} % of them`,
      why: measured === 'straight' ? 'Edges get a bright fringe.' : 'Edges get a dark fringe.',
      fix: setTo(measured),
    },
  ]
}

const odd: Check = ({ report }) => {
  const drafts: Draft[] = []
  const kinds = [
    ['notNumbers', 'values that are not numbers', 'A blur or a warp spreads them over its whole reach.'],
    ['infinite', 'infinite values', 'A blur or a warp makes them spots, or not numbers.'],
    ['negative', 'negative values', 'Multiplied or raised to a power they turn dark or into noise.'],
  ] as const
  for (const [kind, name, why] of kinds) {
    const found = report.odd.filter((one) => one[kind] && (kind !== 'negative' || one.negativeShare > 0.001))
    const first = found[0]?.[kind]
    if (!first) continue
    const part = found[0].part === null ? '' : ` of ${found[0].part}`
    drafts.push({
      kind: kind === 'notNumbers' ? 'not-numbers' : kind,
      severity: kind === 'negative' ? 'look' : 'wrong',
      what: `It has ${name}: ${first.count} on ${frameList([found[0].frame])}`,
      where: `first at ${first.x} ${first.y}, channel ${first.channel}${part}; ${frameList(found.map(({ frame }) => frame))}`,
      why,
      fix: null,
    })
  }
  return drafts
}

const run: Check = ({ report: { run: found } }) => {
  const drafts: Draft[] = []
  if (found.repeated.length > 0)
    drafts.push({
      kind: 'repeated-frames',
      severity: 'look',
      what: `${found.repeated.length} ${found.repeated.length === 1 ? 'frame repeats' : 'frames repeat'} the one before`,
      where: frameList(found.repeated),
      why: 'Movement stutters, and grain stands still: a wrong rate was converted, or a file copied.',
      fix: null,
    })
  if (found.black.length > 0)
    drafts.push({
      kind: 'black-frames',
      severity: 'wrong',
      what: `${found.black.length} ${found.black.length === 1 ? 'frame is' : 'frames are'} black`,
      where: frameList(found.black),
      why: 'A render failed or a clip was cut.',
      fix: null,
    })
  if (found.jumps.length > 0)
    drafts.push({
      kind: 'level-jump',
      severity: 'look',
      what: `Its level jumps by ${found.jumps[0].stops > 0 ? '+' : ''}${found.jumps[0].stops.toFixed(2)} stops`,
      where: frameList(found.jumps.map(({ frame }) => frame)),
      why: 'A match made on one side does not hold on the other.',
      fix: null,
    })
  return drafts
}

const edges: Check = ({ report }) => {
  const part = (name: string | null) => (name === null ? '' : ` of ${name}`)
  return [
    ...report.edges.map((edge): Draft => ({
      kind: `straight-edge${edge.part ? `-${edge.part}` : ''}`,
      severity: 'wrong',
      what: `It ends along a straight line inside the frame`,
      where: `from ${edge.from.x} ${edge.from.y} to ${edge.to.x} ${edge.to.y}${part(edge.part)}, ${frameList([edge.frame])}`,
      why: 'The plane that caught it was too small: the line shows on the plate as soon as it is cranked.',
      fix: null,
    })),
    ...report.cutWindows.map((cut): Draft => ({
      kind: `cut-window${cut.part ? `-${cut.part}` : ''}`,
      severity: 'wrong',
      what: `Its data window ends inside the frame while the picture goes on (${cut.sides.join(', ')})`,
      where: `${frameList([cut.frame])}${part(cut.part)}`,
      why: 'The element is cut off there with a hard edge.',
      fix: null,
    })),
  ]
}

/** Lens maps name places beyond the frame: what they bend must have been rendered that far. */
const overscan: Check = ({ shot, source, header }, all) => {
  const drafts: Draft[] = []
  const maps = new Set(
    shot.elements
      .filter((element) => element.source === source.id)
      .flatMap(({ treatments: settings }) => settings.filter(({ enabled }) => enabled))
      .flatMap(({ sources = {} }) => Object.values(sources)),
  )
  for (const map of maps) {
    const names = all.find((report) => report.source === map)?.names
    if (!names) continue
    const { dataWindow: data, displayWindow: display } = header.parts[0]
    const short = {
      left: data.x - (display.x + names.left * display.width),
      right: display.x + names.right * display.width - (data.x + data.width),
      upper: data.y - (display.y + names.top * display.height),
      lower: display.y + names.bottom * display.height - (data.y + data.height),
    }
    const sides = Object.entries(short).filter(([, by]) => by > 1)
    const cropped = data.width < display.width || data.height < display.height
    if (sides.length === 0 || cropped) continue
    drafts.push({
      kind: 'overscan',
      severity: 'wrong',
      what: `It is rendered too tight for its lens map: ${sides.map(([side, by]) => `${Math.ceil(by)} px short ${side === 'upper' || side === 'lower' ? `at the ${side} edge` : `on the ${side}`}`).join(', ')}`,
      where: `data window ${data.width} x ${data.height} at ${data.x} ${data.y}`,
      why: 'Bent as the lens bends, its edge comes into the frame.',
      fix: null,
    })
  }
  return drafts
}

const checks: readonly Check[] = [rate, range, size, encoding, primariesSaid, alpha, odd, run, edges, overscan]

/** @returns what does not fit, the worst first; sources in the shot's order */
export function checkShot(shot: Shot, reports: readonly SourceReport[]): Finding[] {
  const uses = usesOf(shot)
  const found = shot.sources.flatMap((source) => {
    const report = reports.find((one) => one.source === source.id)
    if (!report) return []
    const { header } = report
    const judged = header && { shot, source, report, uses: uses.get(source.id) ?? [], header }
    const drafts = [
      ...files({ shot, source, report, uses: uses.get(source.id) ?? [], header: header as PictureHeader }, reports),
      ...(judged ? checks.flatMap((check) => check(judged, reports)) : []),
    ]
    return drafts.map((draft): Finding => ({ ...draft, id: `${source.id}:${draft.kind}`, source: source.id }))
  })
  return [
    ...found.filter(({ severity }) => severity === 'wrong'),
    ...found.filter(({ severity }) => severity === 'look'),
  ]
}
