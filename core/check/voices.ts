/** Claims in three voices: what the file says, what the pixels say, what you say; and whether they agree. */

import { encodings, primaries } from '../colour'
import type { Shot, Source } from '../shot'
import { perSecond } from './finding'
import type { SourceReport } from './report'

export interface Voices {
  readonly claim: 'encoding' | 'primaries' | 'alpha' | 'rate' | 'range' | 'size' | 'pixel aspect' | 'green grows'
  /** null where the voice is silent */
  readonly file: string | null
  readonly pixels: string | null
  readonly you: string
  readonly agree: boolean
}

const number = (value: number) => `${Number(value.toFixed(3))}`
const rangeText = (first: number, last: number) => `${first} to ${last}`

/** @param report null while nothing was measured yet */
export function voicesOf(shot: Shot, source: Source, report: SourceReport | null): Voices[] {
  const says = report?.header?.says ?? null
  const { claims, frames, offset = 0, enlarge = 1 } = source
  const voices: Voices[] = []
  const add = (claim: Voices['claim'], file: string | null, pixels: string | null, you: string, agree: boolean) =>
    voices.push({ claim, file, pixels, you, agree })
  const best = report?.encodings?.[0]
  const own = report?.encodings?.find((candidate) => candidate.encoding === claims.encoding)
  const likely = best && own && own.cost - best.cost > 1 ? best.encoding : null
  add(
    'encoding',
    says?.encoding ? encodings[says.encoding].label : null,
    best ? (likely ? `more like ${encodings[likely].label}` : `fit ${encodings[claims.encoding].label}`) : null,
    encodings[claims.encoding].label,
    !likely && (!says?.encoding || says.encoding === claims.encoding),
  )
  add(
    'primaries',
    says?.primaries ? primaries[says.primaries].label : null,
    null,
    primaries[claims.primaries].label,
    !says?.primaries || says.primaries === claims.primaries,
  )
  const measured = report?.alpha?.kind ?? null
  add(
    'alpha',
    says ? (says.alpha === 'none' ? 'none' : 'has one') : null,
    measured,
    claims.alpha,
    (!measured || claims.alpha === 'none' || measured === claims.alpha) &&
      (!says || (says.alpha === 'none') === (claims.alpha === 'none')),
  )
  if (frames) {
    const rate = source.rate ? perSecond(source.rate) : perSecond(shot.rate)
    add(
      'rate',
      says?.rate ? number(says.rate) : null,
      null,
      number(rate),
      !says?.rate || Math.abs(says.rate - rate) < 0.002,
    )
    const there = report?.frames.filter((frame) => frame !== null) ?? []
    const [first, last] = [frames.first + offset, frames.last + offset]
    add(
      'range',
      there.length > 0 ? rangeText(Math.min(...there), Math.max(...there)) : null,
      report ? (report.missing.length > 0 ? `${report.missing.length} missing` : 'none missing') : null,
      offset === 0 ? rangeText(first, last) : `${rangeText(first, last)} (${offset > 0 ? '+' : ''}${offset})`,
      first <= shot.frames.first && last >= shot.frames.last && (report?.missing.length ?? 0) === 0,
    )
  }
  const display = report?.header?.parts[0].displayWindow
  const { width, height } = shot.frameSize
  add(
    'size',
    display ? `${display.width} x ${display.height}` : null,
    null,
    enlarge === 1 ? `${width} x ${height}` : `${width} x ${height} from 1/${enlarge}`,
    !display || (display.width * enlarge === width && display.height * enlarge === height),
  )
  const aspect = source.pixelAspect ?? shot.pixelAspect
  add(
    'pixel aspect',
    says?.pixelAspect ? number(says.pixelAspect) : null,
    null,
    number(aspect),
    !says?.pixelAspect || Math.abs(says.pixelAspect - aspect) < 0.002,
  )
  if (report?.map) {
    const way = (up: boolean) => (up ? 'upwards' : 'downwards')
    const you = source.greenUp === true
    add('green grows', null, way(report.map.upsideDown), way(you), report.map.upsideDown === you)
  }
  return voices
}
