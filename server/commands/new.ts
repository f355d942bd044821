/** `enkrasis new`: a shot file from a plate and renders. */

import { dirname, relative, resolve } from 'node:path'
import { makeShot, proposeShot, remarksOn, workingSpaceFor, clipAt, type Answers } from '../../core/new-shot'
import { idPattern, type Rational, type Shot } from '../../core/shot'
import { writeWhole } from '../delivery/write-whole'
import { MediaRoots } from '../media/media-roots'
import { findClips } from '../new-shot/find-clips'
import { readShotFile } from '../shots/shot-store'

export interface NewOptions {
  readonly out: string
  readonly name?: string
  readonly rate?: Rational
  readonly handles: number
}

/**
 * @param plate a sequence with # for its numbers, a file, or a folder that holds one plate
 * @param others renders, mattes, maps, tables: likewise
 */
export async function newShot(plate: string, others: readonly string[], options: NewOptions): Promise<void> {
  const out = resolve(options.out)
  const { shot, remarks } = await shotOf(plate, others, options, (path) => relative(dirname(out), path))
  for (const remark of remarks) console.error(remark)
  await writeWhole(out, `${JSON.stringify(shot, null, 2)}\n`)
  console.log(
    `${options.out}: ${shot.name}, ${shot.frames.first} to ${shot.frames.last}, ${shot.frameSize.width} x ${shot.frameSize.height}, ${Object.keys(shot.elements.byId).length} elements`,
  )
}

/**
 * A shot of files, which is not written.
 *
 * @param written how the absolute path of a file is written in the shot
 * @param options without a rate: what the files say, which must be something
 * @throws Error where there is no one plate among the files, no rate, or the name cannot be that of a shot
 */
export async function shotOf(
  plate: string,
  others: readonly string[],
  options: Omit<NewOptions, 'out'>,
  written: (path: string) => string,
): Promise<{ readonly shot: Shot; readonly remarks: readonly string[] }> {
  // Whoever types a command may read what they name: everything lies below the one root.
  const media = new MediaRoots('/')
  const named = (path: string) => relative('/', resolve(path))
  const plates = proposeShot(await findClips(media, [named(plate)])).plates
  if (plates.length !== 1)
    throw new Error(
      plates.length === 0
        ? `${plate} holds nothing that can be a plate: an opaque sequence or picture. Name its files, for example plate.####.exr.`
        : `${plate} holds ${plates.length} sequences that can be the plate. Name one of them, for example ${relative('.', `/${plates[0]}`)}.`,
    )
  const proposal = proposeShot(await findClips(media, [plates[0], ...others.map(named)]))
  const rate = options.rate ?? proposal.rate
  if (!rate) throw new Error('The files say no rate. Give it with --rate, for example --rate 24.')
  const name = options.name ?? proposal.name
  if (!idPattern.test(name))
    throw new Error(`"${name}" cannot be the name of a shot: it is lower-case letters, digits and dashes.`)
  const claims = clipAt(proposal, plates[0])?.claims
  const answers: Answers = {
    ...{ name, plate: plates[0], rate, handles: options.handles, bentBy: null, without: [] },
    workingSpace: claims ? workingSpaceFor(claims) : 'linear-rec709',
  }
  const problems = proposal.clips.flatMap(({ problem }) => (problem === null ? [] : [problem]))
  return {
    shot: makeShot(proposal, answers, (path) => written(`/${path}`)),
    remarks: [...problems, ...remarksOn(proposal, answers)],
  }
}

const anyRate: Rational = { numerator: 24, denominator: 1 }

/**
 * A shot file, or a sequence as the plate of a shot with nothing else in it.
 *
 * @returns the folder that its paths are relative to
 * @throws what reading the one or finding the other throws
 */
export async function shotOrSequence(file: string): Promise<{ readonly shot: Shot; readonly folder: string }> {
  if (file.endsWith('.json')) return { shot: await readShotFile(resolve(file)), folder: dirname(resolve(file)) }
  const folder = dirname(resolve(file))
  // Where a frame is looked at by itself its rate tells nothing.
  const options = { name: 'sequence', rate: anyRate, handles: 0 }
  const { shot, remarks } = await shotOf(file, [], options, (path) => relative(folder, path))
  for (const remark of remarks) console.error(remark)
  return { shot, folder }
}
