/** Outputs as they are put together on the screen: what a change of format keeps, and what is usual. */

import {
  holdsAllFrames,
  moviePattern,
  sequencePattern,
  usualOutput,
  type DeliveryOutput,
  type OutputFormat,
  type OutputOf,
} from '../../../../core/delivery'
import { allOf, find, isGroup, mattesOf, type Shot } from '../../../../core/shot'

export const formatWords: Readonly<Record<OutputFormat, string>> = {
  exr: 'EXR',
  dpx: 'DPX',
  png: 'PNG',
  tiff: 'TIFF',
  movie: 'movie',
  proof: 'proof',
}

/** What can be delivered of the shot, by a text that a menu can hold. */
export function choicesOf(shot: Shot): readonly { readonly value: string; readonly label: string }[] {
  const elements = allOf(shot.elements)
  return [
    { value: 'composite', label: 'composite' },
    ...elements.map(({ id, name }) => ({ value: `element ${id}`, label: name })),
    ...elements
      .filter((element) => !isGroup(element) && element.id !== shot.plate)
      .map(({ id, name }) => ({ value: `matte ${id}`, label: `matte of ${name}` })),
    ...mattesOf(shot).map(({ id, name }) => ({ value: `shot-matte ${id}`, label: `matte ${name}` })),
  ]
}

export const valueOf = (of: OutputOf): string => (of.what === 'composite' ? of.what : `${of.what} ${of.id}`)

/** @returns the output of something else, named after it */
export function withOf(shot: Shot, output: DeliveryOutput, value: string): DeliveryOutput {
  const [what, id] = value.split(' ')
  const of: OutputOf =
    what === 'element' || what === 'matte' || what === 'shot-matte' ? { what, id } : { what: 'composite' }
  const named = what === 'shot-matte' ? find(shot.mattes, id) : id === undefined ? undefined : find(shot.elements, id)
  const plain = (named?.name ?? 'comp').replace(/[^\w-]+/g, '-').replace(/^-+|-+$/g, '') || 'element'
  return { ...output, of, name: what === 'matte' ? `${plain}-matte` : plain }
}

/** @returns the output in another format, with what is usual for it */
export function withFormat(output: DeliveryOutput, format: OutputFormat): DeliveryOutput {
  const { of, name } = output
  const [held, holds] = [output.format, format].map(holdsAllFrames)
  const own = output.pattern !== (held ? moviePattern : sequencePattern)
  const pattern = own && held === holds ? output.pattern : holds ? moviePattern : sequencePattern
  if (format === 'proof') return { of: { what: 'composite' }, name: 'proof', pattern, format }
  const base = { of, name, pattern }
  if (format === 'movie') return { ...base, format, line: true }
  if (format === 'dpx') return { ...base, format, encoding: 'plate', bits: 10 }
  if (format === 'png' || format === 'tiff') return { ...base, format, encoding: 'view', bits: 8 }
  return { ...usualOutput, ...base }
}
