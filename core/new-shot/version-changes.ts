/** What is different in another version of a render, in sentences; and what of the shot it leaves without a picture. */

import type { PictureHeader } from '../check'
import { allOf, type FrameRange, type Shot } from '../shot'

export interface VersionFiles {
  readonly header: PictureHeader
  readonly frames: FrameRange | null
  /** how many files there are */
  readonly count: number
}

const partsOf = ({ parts }: PictureHeader) => parts.map(({ name }) => name ?? 'the picture')
const sizeText = ({ parts: [{ displayWindow: d }] }: PictureHeader) => `${d.width} x ${d.height}`
const windowText = ({ parts: [{ dataWindow: d }] }: PictureHeader) => `${d.width} x ${d.height} at ${d.x} ${d.y}`
const rangeText = (frames: FrameRange | null) => (frames ? `${frames.first} to ${frames.last}` : 'one frame')

/** @param source id of the source whose files they are */
export function versionChanges(
  shot: Shot,
  source: string,
  before: VersionFiles,
  after: VersionFiles,
): readonly string[] {
  const [had, has] = [partsOf(before.header), partsOf(after.header)]
  const used = usedParts(shot, source)
  const gone = had.filter((part) => !has.includes(part))
  const come = has.filter((part) => !had.includes(part))
  const change = (what: string, was: string, is: string) => (was === is ? [] : [`${what}: ${was} before, ${is} now.`])
  const missing = gone.flatMap((part) => {
    const by = used.get(part)
    return by
      ? [
          `The pass ${part} is not there any more, and ${by.join(' and ')} ${by.length === 1 ? 'is' : 'are'} made of it.`,
        ]
      : []
  })
  const unused = gone.filter((part) => !used.has(part))
  const expected = after.frames ? after.frames.last - after.frames.first + 1 : 1
  return [
    ...missing,
    ...(unused.length > 0 ? [`Passes gone that nothing uses: ${unused.join(', ')}.`] : []),
    ...(come.length > 0 ? [`New passes: ${come.join(', ')}.`] : []),
    ...change('Frames', rangeText(before.frames), rangeText(after.frames)),
    ...(after.count < expected
      ? [`${after.count} of ${expected} frames are there so far; the others appear as they arrive.`]
      : []),
    ...change('Size', sizeText(before.header), sizeText(after.header)),
    ...change('Data window of the first frame', windowText(before.header), windowText(after.header)),
    ...change('Encoding', before.header.says.encoding ?? 'not said', after.header.says.encoding ?? 'not said'),
    ...change('Alpha', before.header.says.alpha, after.header.says.alpha),
    ...change('Format', before.header.format.toUpperCase(), after.header.format.toUpperCase()),
  ]
}

/** Names of the elements that each part of a source is used by. */
function usedParts(shot: Shot, source: string): ReadonlyMap<string, readonly string[]> {
  const used = new Map<string, string[]>()
  for (const element of allOf(shot.elements))
    for (const input of allOf(element.inputs)) {
      if (input.kind !== 'pass' || input.source !== source) continue
      const part = input.part ?? 'the picture'
      const names = used.get(part) ?? []
      if (!names.includes(element.name)) used.set(part, [...names, element.name])
    }
  return used
}

/** While fewer frames have arrived than there were, all that there were are waited for. */
export function framesOfVersion(before: FrameRange | null, after: FrameRange | null): FrameRange | null {
  if (!before || !after) return after
  const shorter = after.last - after.first < before.last - before.first
  return shorter ? { first: Math.min(before.first, after.first), last: Math.max(before.last, after.last) } : after
}
