/** HTTP: the list of shots; shots made from files, from a shot file, or as copies; put away, removed and brought back. */

import type { Express } from 'express'
import { resolve } from 'node:path'
import { array, boolean, number, object, string } from 'yup'
import { workingSpaces, type WorkingSpace } from '../core/colour'
import { makeShot, proposeShot, remarksOn, workingSpaceFor, type Answers, type Proposal } from '../core/new-shot'
import { idPattern, parseShot, sequenceOf } from '../core/shot'
import { pathFromShot } from './media/browse'
import { framesInFolder } from './media/frames-in-folder'
import { fingerprintOf, Folders } from './media/catalog'
import { findClips } from './new-shot/find-clips'
import type { Service } from './service'
import { shotId } from './shot-id'
import type { ListedShot } from './shots/shot-store'

const path = () => string().max(1000)
const paths = () => array(path().defined()).min(1, 'Choose at least one folder or file.').max(500)
const pathsQuery = object({ paths: paths().json().required() })
const author = () => string().trim().max(100)
const name = () =>
  string()
    .strict()
    .matches(
      idPattern,
      'A name is lower-case letters, digits and dashes, at most 64, and begins with a letter or a digit.',
    )
    .required()
const wholeNumber = () => number().strict().integer().required()
const answersSchema = object({
  name: name(),
  plate: path().required(),
  rate: object({ numerator: wholeNumber().min(1), denominator: wholeNumber().min(1) }).required(),
  handles: wholeNumber().min(0).max(100_000),
  workingSpace: string<WorkingSpace>()
    .oneOf(Object.keys(workingSpaces) as WorkingSpace[])
    .required(),
  bentBy: path().nullable().defined(),
  without: array(path().required()).max(500).required(),
})
const newShotBody = object({ paths: paths().required(), answers: answersSchema.required(), author: author() })
const copyBody = object({ name: name(), author: author() })
const putAwayBody = object({ archived: boolean().strict(), removed: boolean().strict() }).noUnknown()
const fileBody = object({ folder: path().default(''), author: author() })

/** What is found in files, and what would be answered where nobody says otherwise. */
async function proposalFor({ store, configuration: { media } }: Service, wanted: readonly string[]) {
  const clips = await findClips(media, wanted)
  const guess = proposeShot(clips)
  const rate = guess.rate ?? (await store.rateOf(sequenceOf(guess.name)))
  return rate === guess.rate ? guess : proposeShot(clips, () => rate)
}

/** Nobody is asked for what has one answer. */
function usualAnswers(proposal: Proposal): Answers {
  const [plate = ''] = proposal.plates
  const claims = proposal.clips.find((clip) => clip.path === plate)?.claims
  return {
    ...{ name: proposal.name, plate, handles: 0, bentBy: null, without: [] },
    rate: proposal.rate ?? { numerator: 24, denominator: 1 },
    workingSpace: claims ? workingSpaceFor(claims) : 'linear-rec709',
  }
}

export function addShotListRoutes(app: Express, service: Service): void {
  const { store, adoptShots, configuration } = service
  const { media } = configuration
  app.get('/api/shots', async (_request, response) => {
    const complaints = await adoptShots()
    const listed = await store.list()
    // Shots of one sequence may lie in one folder: it is read once.
    const folders = new Folders()
    response.json({ shots: await Promise.all(listed.map((shot) => lineOf(service, shot, folders))), complaints })
  })
  app.get('/api/new-shot', async (request, response) => {
    const proposal = await proposalFor(service, pathsQuery.validateSync(request.query).paths)
    const answers = usualAnswers(proposal)
    response.json({ proposal, answers, remarks: remarksOn(proposal, answers) })
  })
  app.post('/api/shots', async (request, response) => {
    const wanted = newShotBody.validateSync(request.body ?? {})
    const proposal = await proposalFor(service, wanted.paths)
    const folder = media.absolute(proposal.folder)
    const shot = makeShot(proposal, wanted.answers, (one) => pathFromShot(media, folder, one))
    const { id } = await store.create(shot, folder, 'Made from files', wanted.author)
    response.status(201).json({ id })
  })
  /** A shot file that somebody has; its paths are relative to a folder of media. */
  app.post('/api/shot-files', async (request, response) => {
    const body = (request.body ?? {}) as { document?: unknown }
    const { folder, author } = fileBody.validateSync(body)
    const shot = parseShot(body.document, 'The shot file')
    const absolute = folder === '' ? media.store : await media.pathOf(folder)
    const { id } = await store.create(shot, absolute, 'Opened from a shot file', author)
    response.status(201).json({ id })
  })
  app.get('/api/shots/:id/file', async (request, response) => {
    const shot = store.documentOf(await store.find(shotId(request)))
    response
      .attachment(`${shot.name}.shot.json`)
      .type('application/json')
      .send(`${JSON.stringify(shot, null, 2)}\n`)
  })
  app.post('/api/shots/:id/copies', async (request, response) => {
    const { name, author } = copyBody.validateSync(request.body ?? {})
    const { id } = await store.duplicate(shotId(request), name, author)
    response.status(201).json({ id })
  })
  app.post('/api/shots/:id/put-away', async (request, response) => {
    await store.putAway(shotId(request), putAwayBody.validateSync(request.body ?? {}, { strict: true }))
    response.json({})
  })
}

/** Only names of files are looked at: how many of the plate's frames are there. */
async function lineOf(
  { configuration: { media } }: Service,
  { folder, outline, ...about }: ListedShot,
  folders: Folders,
) {
  if (!outline) return about
  const { plate, ...shown } = outline
  return { ...about, ...shown, framesReady: plate ? await framesOf(media.place(folder), plate, folders) : 0 }
}

async function framesOf(
  place: { readonly roots: readonly string[]; readonly folder: string },
  { path, frames }: NonNullable<NonNullable<ListedShot['outline']>['plate']>,
  folders: Folders,
): Promise<number> {
  if (frames === null) return (await fingerprintOf(resolve(place.folder, path))) === null ? 0 : 1
  const { first, last } = frames
  return (await framesInFolder(place, path, (parent) => folders.names(parent))).filter(
    (number) => number >= first && number <= last,
  ).length
}
