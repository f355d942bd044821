/** `enkrasis new`: a shot file from a plate and renders. */

import { dirname, relative, resolve } from 'node:path'
import { makeShot, proposeShot, remarksOn, workingSpaceFor, clipAt, type Answers } from '../../core/new-shot'
import { idPattern, type Rational } from '../../core/shot'
import { writeWhole } from '../delivery/write-whole'
import { MediaRoots } from '../media/media-roots'
import { findClips } from '../new-shot/find-clips'

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
  for (const clip of proposal.clips) if (clip.problem !== null) console.error(clip.problem)
  for (const remark of remarksOn(proposal, answers)) console.error(remark)
  const out = resolve(options.out)
  const shot = makeShot(proposal, answers, (path) => relative(dirname(out), `/${path}`))
  await writeWhole(out, `${JSON.stringify(shot, null, 2)}\n`)
  console.log(
    `${options.out}: ${name}, ${shot.frames.first} to ${shot.frames.last}, ${shot.frameSize.width} x ${shot.frameSize.height}, ${Object.keys(shot.elements.byId).length} elements`,
  )
}
