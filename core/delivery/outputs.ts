/** What a delivery makes of each frame, and what cannot be made. */

import { type Scale } from '../graph/steps'
import { find, isGroup, mediaKind, mostFrames, plateSource, type Shot } from '../shot'
import type { ExrCompression, OutputEncoding, OutputFormat, SampleChoice } from './choices'
import { nameFrom, patternFault } from './pattern'

/** What of the shot is delivered. `matte` is the coverage of an element, alone; `shot-matte` a matte of the shot. */
export type OutputOf =
  { readonly what: 'composite' } | { readonly what: 'element' | 'matte' | 'shot-matte'; readonly id: string }

/** Whether it is one channel of coverage. */
export const isCoverage = ({ what }: OutputOf): boolean => what === 'matte' || what === 'shot-matte'

interface OutputBase {
  readonly of: OutputOf
  /** stands for {output} in the pattern */
  readonly name: string
  readonly pattern: string
}

/** Each format with the choices that it has. */
export type DeliveryOutput = OutputBase &
  (
    | {
        readonly format: 'exr'
        readonly encoding: OutputEncoding
        readonly compression: ExrCompression
        readonly samples: SampleChoice
        /** the data window: the frame, or no more than what is not empty */
        readonly window: 'frame' | 'content'
      }
    | { readonly format: 'dpx'; readonly encoding: OutputEncoding; readonly bits: 10 | 16 }
    | { readonly format: 'png' | 'tiff'; readonly encoding: OutputEncoding; readonly bits: 8 | 16 }
    /** H.264, for looking at */
    | {
        readonly format: 'movie'
        /** burns in shot, version and frame */
        readonly line: boolean
        /** the table that it is seen through, a source; absent: none, as an sRGB screen shows it */
        readonly table?: string
      }
    /** all witnesses and checks of the delivered frames, as a page and as JSON */
    | { readonly format: 'proof' }
  )

export interface WantedDelivery {
  readonly first: number
  readonly last: number
  readonly scale: Scale
  readonly outputs: readonly DeliveryOutput[]
}

export const sequencePattern = '{shot}_{output}_{version}.{frame}'
/** Of what holds all frames. */
export const moviePattern = '{shot}_{output}_{version}'

/** A movie and a proof are one file of all frames, made when these are there. */
export const holdsAllFrames = (format: OutputFormat): format is 'movie' | 'proof' =>
  format === 'movie' || format === 'proof'

export const usualOutput: Extract<DeliveryOutput, { readonly format: 'exr' }> = {
  of: { what: 'composite' },
  name: 'comp',
  pattern: sequencePattern,
  format: 'exr',
  encoding: 'linear',
  compression: 'zip',
  samples: 'plate',
  window: 'frame',
}

export const extensions: Readonly<Record<OutputFormat, string>> = {
  exr: 'exr',
  dpx: 'dpx',
  png: 'png',
  tiff: 'tif',
  movie: 'mp4',
  proof: 'html',
}

function nameOfOutput(shot: Shot, of: OutputOf): string {
  if (of.what === 'composite') return 'composite'
  if (of.what === 'shot-matte') return `matte ${find(shot.mattes, of.id)?.name ?? 'that was removed'}`
  const name = find(shot.elements, of.id)?.name ?? 'a removed element'
  return of.what === 'matte' ? `matte of ${name}` : name
}

const tableName = (shot: Shot, table: string | undefined) =>
  table === undefined ? 'the view' : `the table ${find(shot.sources, table)?.name ?? 'that was removed'}`

/** In words, for lists. */
export function outputSentence(shot: Shot, output: DeliveryOutput): string {
  const { of } = output
  const what = nameOfOutput(shot, of)
  if (output.format === 'proof') return 'proof: every witness and check on every frame'
  if (output.format === 'movie')
    return `${what}: preview movie, through ${tableName(shot, output.table)}${output.line ? ', with a line of text' : ''}`
  const encodings = { linear: 'scene-linear', plate: "in the plate's encoding", view: 'through the view' }
  const encoded = encodings[output.encoding]
  if (output.format !== 'exr') return `${what}: ${output.format.toUpperCase()} of ${output.bits} bits, ${encoded}`
  const samples = { plate: 'samples as the plate', half: 'half floats', float: 'floats' }[output.samples]
  const packed = output.compression === 'none' ? 'not compressed' : output.compression.toUpperCase()
  return `${what}: EXR, ${encoded}, ${samples}, ${packed}${output.window === 'content' ? ', cut to its content' : ''}`
}

const mostOutputs = 20
/** What MP4 can say; nothing is filmed quicker. */
const mostRate = 1000
const mostRatePart = 1_000_000

/** @returns why the delivery cannot be made, in a sentence, or null */
export function deliveryFault(shot: Shot, { first, last, scale, outputs }: WantedDelivery): string | null {
  const { frames } = shot
  if (last - first >= mostFrames) return `A delivery has at most ${mostFrames} frames. Deliver the range in parts.`
  if (first > last || first < frames.first || last > frames.last)
    return `Frames ${first} to ${last} are not inside the shot's range, ${frames.first} to ${frames.last}. Choose frames inside it.`
  if (outputs.length === 0) return 'The delivery has no output. Add one.'
  if (outputs.length > mostOutputs) return `A delivery has at most ${mostOutputs} outputs. Make several deliveries.`
  for (const output of outputs) {
    const fault = outputFault(shot, output, scale)
    if (fault) return fault
  }
  const names = outputs.map((output) => fileName(shot.name, output, 1, first))
  const twice = names.find((name, i) => names.slice(0, i).some((before) => before.toLowerCase() === name.toLowerCase()))
  if (twice !== undefined)
    return `Two outputs have the same name, ${twice}. Give one another name, or add {output} to its name.`
  return null
}

function outputFault(shot: Shot, output: DeliveryOutput, scale: Scale): string | null {
  const { of, name, pattern, format } = output
  if (!/^[\w][\w.-]{0,63}$/.test(name))
    return `The output "${name}" needs a short name of letters, digits, dashes and underlines.`
  const fault = patternFault(pattern, !holdsAllFrames(format))
  if (fault) return fault
  if (of.what === 'shot-matte' && !find(shot.mattes, of.id))
    return `The output ${name} is of a matte that is gone. Choose another one.`
  if (of.what === 'element' || of.what === 'matte') {
    const element = find(shot.elements, of.id)
    if (!element) return `The output ${name} is of an element that is gone. Choose another one.`
    if (of.what === 'matte' && isGroup(element))
      return `${element.name} is a group; mattes are delivered of single elements.`
    if (of.what === 'matte' && element.id === shot.plate) return 'The plate covers everything and has no matte.'
  }
  if (format === 'movie') return tableFault(shot, output) ?? movieFault(shot, scale)
  if (format === 'proof')
    return of.what === 'composite' ? null : `A proof is of the whole picture. Choose the composite for ${name}.`
  if (format !== 'exr' && output.encoding === 'linear')
    return `${format.toUpperCase()} holds values from 0 to 1 in even steps, too few in the dark for scene-linear light. Deliver ${name} as EXR, in the plate's encoding, or through the view.`
  if (output.encoding === 'plate' && !plateSource(shot))
    return `${shot.name} has no plate whose encoding ${name} could have. Choose another encoding.`
  return null
}

function tableFault(shot: Shot, { name, table }: { readonly name: string; readonly table?: string }): string | null {
  if (table === undefined) return null
  const source = find(shot.sources, table)
  if (!source) return `The table that ${name} is seen through is gone. Choose another one, or none.`
  return mediaKind(source.path) === 'table'
    ? null
    : `${source.name} is no colour table, so ${name} cannot be seen through it. Choose another source, or none.`
}

function movieFault({ frameSize, rate }: Shot, scale: Scale): string | null {
  const [width, height] = [frameSize.width, frameSize.height].map((size) => Math.ceil(size / scale))
  if (width % 2 === 1 || height % 2 === 1)
    return `A movie needs an even number of pixels both ways, and ${width} x ${height} is odd. Deliver at another size, or a sequence.`
  const perSecond = rate.numerator / rate.denominator
  if (!(perSecond > 0 && perSecond <= mostRate) || Math.max(rate.numerator, rate.denominator) > mostRatePart)
    return `A movie cannot say the rate ${rate.numerator}/${rate.denominator}. Correct the shot's rate, or deliver a sequence.`
  return null
}

/** @param frame left out of names that hold all frames */
export function fileName(shot: string, output: DeliveryOutput, version: number, frame: number): string {
  const one = holdsAllFrames(output.format) ? null : frame
  const name = nameFrom(output.pattern, { shot, version, output: output.name, frame: one })
  return `${name}.${extensions[output.format]}`
}
