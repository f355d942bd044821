/** What a shot made of some files would be: proposed from what they hold, asked where two answers are as good. */

import { workingSpaces, type WorkingSpace } from '../colour'
import type { Claims } from '../graph/steps'
import { type FileSays, type PictureHeader } from '../check'
import { type FirstFile, type FrameRange, mediaKind, type Rational } from '../shot'
import { roleOf, type ClipRole, type FoundClip } from './clip'
import { isCalledReference, objectsAmong, type FoundObject } from './objects'
import { commonFolder, elementName, proposedName, stemOf } from './names'
import { passRole, type PassRole } from './pass-names'

export interface ProposedPass {
  readonly part: string | null
  readonly role: PassRole
  readonly channels: readonly string[]
}

export interface ProposedClip {
  readonly path: string
  readonly role: ClipRole
  readonly name: string
  readonly frames: FrameRange | null
  readonly size: { readonly width: number; readonly height: number } | null
  /** width of a pixel over its height, as the file says; 1 where it says nothing */
  readonly pixelAspect: number
  /** of a render: what its passes are for */
  readonly passes: readonly ProposedPass[]
  readonly claims: Claims
  readonly firstFile: FirstFile | null
  /** why it cannot be used */
  readonly problem: string | null
}

export interface Proposal {
  readonly name: string
  /** the folder that everything lies in, as the browser names it */
  readonly folder: string
  readonly clips: readonly ProposedClip[]
  /** what was shot for reference; its clips are for comparing only */
  readonly objects: readonly FoundObject[]
  /** what the plate may be; it is asked when there are several */
  readonly plates: readonly string[]
  /** frames a second; null: it has to be asked */
  readonly rate: Rational | null
  /** where the rate comes from, in words */
  readonly rateFrom: string
}

/** What only the person knows, or wants otherwise. */
export interface Answers {
  readonly name: string
  /** path of the clip */
  readonly plate: string
  readonly rate: Rational
  /** frames at each end that are not worked on */
  readonly handles: number
  readonly workingSpace: WorkingSpace
  /** path of the map that bends the renders as the plate is bent; null: none does */
  readonly bentBy: string | null
  /** paths of clips that stay out of the shot */
  readonly without: readonly string[]
}

/** What is usual where the file is silent: pictures of few bits are made for screens. */
export function claimsOf({
  says,
  bits,
}: Pick<PictureHeader, 'bits'> & { readonly says: Omit<FileSays, 'rate' | 'pixelAspect'> }): Claims {
  return {
    encoding: says.encoding ?? (bits !== null && bits < 10 ? 'srgb' : 'linear'),
    primaries: says.primaries ?? 'rec709',
    alpha: says.alpha,
  }
}

const noClaims: Claims = { encoding: 'linear', primaries: 'rec709', alpha: 'none' }

/** Rates of film and television, and what is nearest to a whole number otherwise. */
export function rationalRate(perSecond: number): Rational {
  const whole = Math.round(perSecond)
  if (Math.abs(perSecond - whole) < 1e-3) return { numerator: whole, denominator: 1 }
  const slowed = Math.round(perSecond * 1.001)
  if (Math.abs(perSecond - (slowed * 1000) / 1001) < 2e-3) return { numerator: slowed * 1000, denominator: 1001 }
  return { numerator: Math.round(perSecond * 1000), denominator: 1000 }
}

/**
 * What was shot for reference is kept, and not put into the picture, and so is a still that is called like something to compare with
 * beside a render that moves.
 */
function roleAmong(clip: FoundClip, all: readonly FoundClip[], objects: readonly FoundObject[]): ClipRole {
  const role = roleOf(clip)
  if (objects.some(({ photographed, rendered }) => [photographed, rendered].includes(clip.path))) return 'still'
  const moves = all.some((other) => other.frames !== null && roleOf(other) === 'render')
  return role === 'render' && clip.frames === null && moves && isCalledReference(clip.path) ? 'still' : role
}

function clipOf(
  clip: FoundClip,
  all: readonly FoundClip[],
  objects: readonly FoundObject[],
  shot: string,
): ProposedClip {
  const { path, frames, header, firstFile, problem } = clip
  const role = roleAmong(clip, all, objects)
  const window = header?.parts[0].displayWindow
  return {
    path,
    role,
    name: role === 'picture' || role === 'render' ? elementName(path, shot) : stemOf(path),
    frames,
    size: window ? { width: window.width, height: window.height } : null,
    pixelAspect: header?.says.pixelAspect ?? 1,
    passes:
      role === 'render' && header
        ? header.parts.map(({ name, channels }) => ({
            part: name,
            role: passRole(name),
            channels: channels.map((channel) => channel.name),
          }))
        : [],
    claims: header ? claimsOf(header) : noClaims,
    firstFile,
    problem:
      problem ?? (role === 'none' && mediaKind(path) === 'other' ? `${path} is of no kind that can be used.` : null),
  }
}

/** @param rates what other shots of the sequence have, by the name that the sequence would have */
export function proposeShot(
  found: readonly FoundClip[],
  rates: (shot: string) => Rational | null = () => null,
): Proposal {
  const folder = commonFolder(found.map(({ path }) => path))
  const unnamed = proposedName(folder, null)
  const photographs = new Set(objectsAmong(found, unnamed).map(({ photographed }) => photographed))
  const plain = found.filter(({ path }) => !photographs.has(path))
  const pictures = plain.filter((clip) => roleOf(clip) === 'picture')
  const stills = plain.filter((clip) => roleOf(clip) === 'still')
  // A plate may be one frame; but a reference beside a sequence is not the plate.
  const plates = pictures.length > 0 ? pictures : stills
  const name = proposedName(folder, plates.length === 1 ? plates[0].path : null)
  const objects = objectsAmong(found, name)
  const clips = found.map((clip) => clipOf(clip, found, objects, name))
  const saying = [...plates, ...found].find(({ header }) => (header?.says.rate ?? null) !== null)
  const said = saying?.header?.says.rate
  const sequence = rates(name)
  const rate = said ? rationalRate(said) : sequence
  return {
    ...{ name, folder, clips, objects, rate },
    plates: plates.map(({ path }) => path),
    rateFrom: said ? `as ${stemOf(saying.path)} says` : sequence ? 'as other shots of the sequence' : '',
  }
}

/** The working space that keeps a plate's primaries; linear Rec.709 where none does. */
export function workingSpaceFor({ primaries }: Claims): WorkingSpace {
  const spaces = Object.keys(workingSpaces) as WorkingSpace[]
  return spaces.find((space) => workingSpaces[space] === primaries) ?? 'linear-rec709'
}

export const clipAt = ({ clips }: Pick<Proposal, 'clips'>, path: string): ProposedClip | undefined =>
  clips.find((clip) => clip.path === path)

/** Frames of the shot: those of the plate, or of what moves before a plate of one frame, without the handles. */
export function framesFor({ clips }: Proposal, plate: ProposedClip, handles: number): FrameRange {
  const longest = clips
    .flatMap(({ role, frames }) => (role === 'render' && frames ? [frames] : []))
    .sort((a, b) => b.last - b.first - (a.last - a.first))
    .at(0)
  const { first, last } = plate.frames ?? longest ?? { first: 1, last: 1 }
  return { first: first + handles, last: last - handles }
}

const rangeText = ({ first, last }: FrameRange) => (first === last ? `${first}` : `${first} to ${last}`)

/** How far a render's numbers have to be moved so that it meets the shot; 0 where they meet already. */
export function offsetFor(clip: FrameRange, shot: FrameRange): number {
  return clip.last < shot.first || clip.first > shot.last ? shot.first - clip.first : 0
}

/** What does not fit, in sentences: none of it stops anybody. */
export function remarksOn(proposal: Proposal, { plate: path, handles, without }: Answers): string[] {
  const plate = clipAt(proposal, path)
  if (!plate) return []
  const shot = framesFor(proposal, plate, handles)
  const remarks: string[] = []
  if (plate.frames === null)
    remarks.push(`${stemOf(path)} is one frame. It is the plate of every frame from ${rangeText(shot)}.`)
  for (const clip of proposal.clips) {
    if (without.includes(clip.path) || clip.path === path) continue
    if (clip.role === 'movie')
      remarks.push(`${clip.name} is a movie. It is not used yet: import it in the shot, where it is decoded.`)
    if (clip.role !== 'render') continue
    remarks.push(...lengthRemarks(clip, shot, handles), ...sizeRemarks(clip, plate))
  }
  return remarks
}

function lengthRemarks({ name, frames }: ProposedClip, shot: FrameRange, handles: number): string[] {
  if (!frames) return [`${name} is one frame. It is shown on every frame of the shot.`]
  const offset = offsetFor(frames, shot)
  const lies = { first: frames.first + offset, last: frames.last + offset }
  const moved =
    offset === 0
      ? []
      : [`${name} is numbered ${rangeText(frames)}. It is moved by ${offset} frames to begin with the shot.`]
  const early = lies.first > shot.first
  const late = lies.last < shot.last
  if (early || late)
    return [
      ...moved,
      `${name} has ${rangeText(lies)}, the shot ${rangeText(shot)}: it is not there ${[early && `before ${lies.first}`, late && `after ${lies.last}`].filter(Boolean).join(' and ')}.`,
    ]
  const longer = lies.first < shot.first - handles || lies.last > shot.last + handles
  return longer
    ? [...moved, `${name} has ${rangeText(lies)}, which is more than the plate has. The rest is not used.`]
    : moved
}

function sizeRemarks({ name, size }: ProposedClip, plate: ProposedClip): string[] {
  if (!size || !plate.size || (size.width === plate.size.width && size.height === plate.size.height)) return []
  const text = (of: { readonly width: number; readonly height: number }) => `${of.width} x ${of.height}`
  const factor = enlargementFor(size, plate.size)
  return [
    factor > 1
      ? `${name} is ${text(size)}, the plate ${text(plate.size)}. It is enlarged ${factor} times.`
      : `${name} is ${text(size)}, the plate ${text(plate.size)}. It is centred on the plate.`,
  ]
}

/** Renders of half or a quarter of the size are enlarged on their pixel grid. */
export function enlargementFor(
  size: { readonly width: number; readonly height: number },
  plate: { readonly width: number; readonly height: number },
): 1 | 2 | 4 {
  return ([2, 4] as const).find((by) => size.width * by === plate.width && size.height * by === plate.height) ?? 1
}
