/** What does not fit in a source's pixels and where they lie: size, odd values, frames out of line, edges, overscan. */

import { overscanOf } from '../lens'
import { valuesAt } from '../plan/values'
import { find, type Shot, type TreatmentSettings } from '../shot'
import { lensOf, treatments } from '../treatments'
import { frameList, type Check, type Draft } from './finding'
import type { SourceReport } from './report'
import { bendsOver } from './uses'

export const size: Check = ({ shot, source, header, uses }) => {
  const { width, height } = header.parts[0].displayWindow
  const { frameSize } = shot
  const enlarge = source.enlarge ?? 1
  const drafts: Draft[] = []
  // A map is never enlarged.
  if (uses.some(({ takes }) => takes === 'vec2')) return sizeOfMap(width, height, frameSize)
  if (uses.length > 0 && (width * enlarge !== frameSize.width || height * enlarge !== frameSize.height)) {
    const factor = ([1, 2, 4] as const).find((n) => width * n === frameSize.width && height * n === frameSize.height)
    drafts.push({
      kind: 'size',
      severity: 'wrong',
      what: `It is ${width} x ${height}, the frame ${frameSize.width} x ${frameSize.height}`,
      where: 'the whole source',
      why: factor
        ? 'A render at part of the size comes out too small.'
        : 'It lies in the middle of the frame, at another size.',
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

/** A map that is not of the frame's size. */
export const sizeOfMap = (width: number, height: number, frame: Shot['frameSize']): readonly Draft[] =>
  width === frame.width && height === frame.height
    ? []
    : [
        {
          kind: 'size',
          severity: 'wrong',
          what: `It is ${width} x ${height}, the frame ${frame.width} x ${frame.height}`,
          where: 'the whole source',
          why: 'A map names a place for each pixel of the frame: at another size it bends wrongly. Have it written at the frame’s size, beyond it by its data window only.',
          fix: null,
        },
      ]

/** A map that leaves pixels without a place, or grows the wrong way. */
export const map: Check = ({ source, report: { map: found } }) => {
  if (!found) return []
  const drafts: Draft[] = []
  const { holes, upsideDown } = found
  if (holes)
    drafts.push({
      kind: 'map-holes',
      severity: 'wrong',
      what: `It names no place for ${holes.count} ${holes.count === 1 ? 'pixel' : 'pixels'} of the frame`,
      where: `first at ${holes.x} ${holes.y}, ${frameList([holes.frame])}`,
      why: 'What is bent by it is empty there. Have the map written for the whole frame.',
      fix: null,
    })
  if (upsideDown !== (source.greenUp === true))
    drafts.push({
      kind: 'map-upside-down',
      severity: 'wrong',
      what: `It lies upside down: ${upsideDown ? 'its green grows upwards' : 'its green grows downwards, as most do'}`,
      where: 'the whole source',
      why: 'What is bent by it is turned over.',
      fix: {
        label: `Take green as growing ${upsideDown ? 'upwards' : 'downwards'}`,
        edit: { kind: 'set-source', source: source.id, changes: { greenUp: upsideDown ? true : null } },
      },
    })
  return drafts
}

export const odd: Check = ({ report }) => {
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

export const run: Check = ({ report: { run: found } }) => {
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

export const edges: Check = ({ report }) => {
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

/** Which places of the straight picture a lens's numbers, or its map, name on the first frame; in shares of the frame. */
function namedBy({ kind, parameters, sources = {} }: TreatmentSettings, shot: Shot, all: readonly SourceReport[]) {
  if (kind !== 'lens') return namedByMap(shot, Object.values(sources), all)
  const { frameSize, frames } = shot
  const values = valuesAt(treatments.lens.parameters, parameters, frames.first)
  const needed = overscanOf(lensOf(values, { x: 0, y: 0, ...frameSize }, 1), frameSize)
  return (
    needed && {
      left: needed.x / frameSize.width,
      right: (needed.x + needed.width) / frameSize.width,
      top: needed.y / frameSize.height,
      bottom: (needed.y + needed.height) / frameSize.height,
    }
  )
}

function namedByMap(shot: Shot, maps: readonly string[], all: readonly SourceReport[]) {
  const report = all.find(({ source }) => maps.includes(source))
  const names = report?.map?.names
  if (!names || !find(shot.sources, report.source)?.greenUp) return names
  return { ...names, top: 1 - names.bottom, bottom: 1 - names.top }
}

/** Lens maps name places beyond the frame: what they bend must have been rendered that far. */
export const overscan: Check = ({ shot, source, header }, all) => {
  const drafts: Draft[] = []
  for (const settings of bendsOver(shot, source.id)) {
    const names = namedBy(settings, shot, all)
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
      what: `It is rendered too tight for its ${treatments[settings.kind].label.toLowerCase()}: ${sides.map(([side, by]) => `${Math.ceil(by)} px short ${side === 'upper' || side === 'lower' ? `at the ${side} edge` : `on the ${side}`}`).join(', ')}`,
      where: `data window ${data.width} x ${data.height} at ${data.x} ${data.y}`,
      why: 'Bent as the lens bends, its edge comes into the frame.',
      fix: null,
    })
  }
  return drafts
}
