/** HTTP: looking into folders of media, importing files, and what is found out about a shot's sources. */

import { resolve } from 'node:path'
import type { Express } from 'express'
import sharp from 'sharp'
import { number, object, string } from 'yup'
import { type Wedge } from '../core/check'
import { allOf, find, framePath, mediaKind, newId, servingFrame, type Shot, type Source, versionIn } from '../core/shot'
import { decoder, encoder, encodingNames, type EncodingName } from '../core/colour'
import { claimsOf, framesOfVersion, versionChanges, type VersionFiles } from '../core/new-shot'
import { rankEncodings } from '../core/measure/plausibility'
import type { Planes } from '../core/image/planes'
import { samplePixels, type PixelSample } from '../core/measure/sample'
import type { FrameRequest } from '../core/graph/steps'
import { browse, headerOf, pathFromShot } from './media/browse'
import { MissingFileError, withFile } from './media/file-source'
import { readPicture, readPictureHeader } from './media/picture-files'
import { firstFileAt } from './media/first-file'
import { framesInFolder } from './media/frames-in-folder'
import type { MediaRoots } from './media/media-roots'
import { pathInside, type MediaPlace } from './media/read-frame'
import { readCameraFile } from './camera/read-camera'
import { readTableFile } from './media/read-table'
import { uploadsPath } from './media/uploads'
import { missingSources } from './media/relink'
import { versionsBeside } from './media/versions'
import { shotId } from './shot-id'
import type { Service } from './service'

const integer = () => number().integer()
const folderQuery = object({ folder: string().default('') })
const encodingQuery = () => string<EncodingName>().oneOf([...encodingNames])
const fileQuery = object({
  path: string().required(),
  frame: integer().nullable().default(null),
  encoding: encodingQuery(),
})
const movieBody = object({ path: string().required() })
const proposalQuery = object({ path: string().required() })
const versionsQuery = object({ source: string().required() })
/** `path` as the shot writes it, or `chosen` as the browser names it */
const replacementQuery = object({ source: string().required(), path: string().max(1000), chosen: string().max(1000) })
const wedgeQuery = object({
  source: string().required(),
  frame: integer().required(),
  trusted: string(),
  /** a square that was mid grey in front of the camera, in the file's pixels */
  x: integer(),
  y: integer(),
})

export function addMediaRoutes(app: Express, service: Service): void {
  const { configuration, movies, uploads, store } = service
  const { media } = configuration
  app.get('/api/media', async (request, response) => {
    response.json(await browse(media, folderQuery.validateSync(request.query).folder))
  })
  app.get('/api/media/header', async (request, response) => {
    const { path, frame } = fileQuery.validateSync(request.query)
    response.json(await headerOf(media, path, frame))
  })
  app.get('/api/media/picture', async (request, response) => {
    const { path, frame, encoding } = fileQuery.validateSync(request.query)
    const said = (await headerOf(media, path, frame)).says
    const jpeg = await thumbnail(service, path, frame, encoding ?? said.encoding ?? 'srgb')
    response.set({ 'Content-Type': 'image/jpeg', 'Cache-Control': 'private, max-age=60' }).send(jpeg)
  })
  app.get('/api/media/movie', async (request, response) => {
    response.json(await movies.status(movieBody.validateSync(request.query).path))
  })
  app.post('/api/media/movie', async (request, response) => {
    response.status(202).json(await movies.decodeOnce(movieBody.validateSync(request.body).path))
  })
  app.delete('/api/media/movie', async (request, response) => {
    const { path } = movieBody.validateSync(request.query)
    await movies.cancel(path)
    response.json(await movies.status(path))
  })
  app.all([uploadsPath, `${uploadsPath}/*rest`], (request, response) => uploads.handle(request, response))
  /** What a file or sequence would be as a source of the shot. */
  app.get('/api/shots/:id/proposed-source', async (request, response) => {
    const row = await store.find(shotId(request))
    response.json(
      await proposedSource(store.documentOf(row), media, row.folder, proposalQuery.validateSync(request.query).path),
    )
  })
  /** Other versions of a source, found by name beside its files. */
  app.get('/api/shots/:id/versions', async (request, response) => {
    const row = await store.find(shotId(request))
    const { path } = findSource(store.documentOf(row), versionsQuery.validateSync(request.query).source)
    response.json({
      present: versionIn(path)?.number ?? null,
      versions: await versionsBeside(media.place(row.folder), path),
    })
  })
  /** The passes of each source that can be read, as its first file has them. */
  app.get('/api/shots/:id/parts', async (request, response) => {
    const row = await store.find(shotId(request))
    const place = media.place(row.folder)
    const pictures = allOf(store.documentOf(row).sources).filter(({ path }) => mediaKind(path) === 'picture')
    const found = pictures.map(async ({ id, path }) => {
      const files = await filesAt(place, path).catch(() => null)
      return { source: id, parts: files?.header.parts.map(({ name }) => name) ?? [] }
    })
    response.json(await Promise.all(found))
  })
  /** Sources whose files are not there, with files of the same names elsewhere. */
  app.get('/api/shots/:id/missing', async (request, response) => {
    const row = await store.find(shotId(request))
    response.json(await missingSources(media.place(row.folder), store.documentOf(row)))
  })
  /** What would be different with other files for a source. */
  app.get('/api/shots/:id/replacement', async (request, response) => {
    const row = await store.find(shotId(request))
    const { source, path, chosen } = replacementQuery.validateSync(request.query)
    const shot = store.documentOf(row)
    const wanted = path ?? pathFromShot(media, row.folder, chosen ?? '')
    response.json(await replacementFor(shot, findSource(shot, source), media.place(row.folder), wanted))
  })
  app.get('/api/shots/:id/reports', async (request, response) => {
    const row = await store.find(shotId(request))
    const left = new AbortController()
    response.on('close', () => left.abort())
    response.json(await service.claims.of(row, store.documentOf(row), left.signal))
  })
  app.get('/api/shots/:id/wedge', async (request, response) => {
    const row = await store.find(shotId(request))
    const { source, frame, trusted, x, y } = wedgeQuery.validateSync(request.query)
    const place = media.place(row.folder)
    response.json(
      await wedge(
        store.documentOf(row),
        place,
        source,
        frame,
        trusted,
        x === undefined || y === undefined ? null : { x, y },
      ),
    )
  })
}

/** As the eye may judge what it is: a quarter of the size, through sRGB. */
async function thumbnail(
  { readers, configuration: { media } }: Service,
  path: string,
  frame: number | null,
  encoding: EncodingName,
): Promise<Buffer> {
  const request: FrameRequest = {
    source: path,
    sourceName: path,
    path: media.absolute(framePath(path, frame)),
    frame,
    part: null,
    channels: null,
    takes: 'rgba',
    claims: { encoding, primaries: 'rec709', alpha: 'none' },
    working: 'rec709',
    reduce: 4,
    framing: 'file',
    frameSize: { width: 0, height: 0 },
  }
  const { planes, dataWindow } = await readers.read(media.place(), request)
  const { width, height } = dataWindow
  const code = encoder('srgb')
  const bytes = Buffer.alloc(width * height * 3)
  planes.slice(0, 3).forEach(({ samples }, c) => {
    for (let i = 0, at = c; i < samples.length; i++, at += 3)
      bytes[at] = Math.round(255 * Math.min(1, Math.max(0, code(samples[i]) || 0)))
  })
  return sharp(bytes, { raw: { width, height, channels: 3 } })
    .resize({ width: Math.min(width, 320), withoutEnlargement: true })
    .jpeg({ quality: 85 })
    .toBuffer()
}

/** Neither a table nor a camera says anything of colour. */
const saysNothing = { says: { encoding: 'linear', primaries: null, alpha: 'none' }, bits: null } as const

/** Claims are what the file says, and the usual where it is silent. */
async function proposedSource(shot: Shot, media: MediaRoots, folder: string, path: string): Promise<Source> {
  const sequence = path.includes('#')
  const numbers = sequence ? await framesInFolder(media.place(), media.absolute(path)) : []
  if (sequence && numbers.length === 0) throw new MissingFileError(`There is no sequence ${path}. Reload the folder.`)
  const frames = sequence ? { first: numbers[0], last: numbers[numbers.length - 1] } : null
  const kind = mediaKind(path)
  if (kind === 'table') await readTableFile(await media.pathOf(path), path)
  if (kind === 'camera') await readCameraFile(media.place(), media.absolute(path), path)
  const { says, bits } =
    kind === 'table' || kind === 'camera' ? saysNothing : await headerOf(media, path, frames?.first ?? null)
  const stem =
    path
      .split('/')
      .at(-1)
      ?.replace(/\.[A-Za-z0-9]+$/, '')
      .replace(/[._-]?#+$/, '') ?? path
  const moved = frames && (frames.first < shot.frames.first || frames.first > shot.frames.last)
  const proposed: Source = {
    id: newId(),
    name: stem,
    path: pathFromShot(media, folder, path),
    frames,
    claims: claimsOf({ says, bits }),
    ...(await noted(await media.pathOf(framePath(path, frames?.first ?? null)))),
  }
  return moved ? { ...proposed, offset: shot.frames.first - frames.first } : proposed
}

/** What the first file of a source holds. */
async function noted(path: string): Promise<Pick<Source, 'firstFile'>> {
  const firstFile = await firstFileAt(path)
  return firstFile ? { firstFile } : {}
}

/** Files as they are: the header of the first, and which there are. */
async function filesAt(place: MediaPlace, path: string): Promise<VersionFiles> {
  const numbers = path.includes('#') ? await framesInFolder(place, path) : []
  if (path.includes('#') && numbers.length === 0)
    throw new MissingFileError(`There are no files ${path}. Choose others, or wait until they are rendered.`)
  const frames = path.includes('#') ? { first: numbers[0], last: numbers[numbers.length - 1] } : null
  const name = framePath(path, frames?.first ?? null)
  const header = await withFile(await pathInside(place, name), name, readPictureHeader)
  return { header, frames, count: frames ? numbers.length : 1 }
}

async function replacementFor(shot: Shot, source: Source, place: MediaPlace, path: string) {
  const after = await filesAt(place, path)
  // What was there before may be gone: then only what is new can be told.
  const before = await filesAt(place, source.path).catch(() => null)
  const changes = before ? versionChanges(shot, source.id, before, after) : []
  const frames = framesOfVersion(source.frames, after.frames)
  const firstFile = await firstFileAt(resolve(place.folder, framePath(path, frames?.first ?? null)))
  return { path, frames, firstFile, changes }
}

const patchSide = 24

async function wedge(
  shot: Shot,
  place: MediaPlace,
  id: string,
  frame: number,
  trustedId: string | undefined,
  patch: { readonly x: number; readonly y: number } | null,
): Promise<Wedge> {
  const source = findSource(shot, id)
  const read = async (of: Source) => {
    const number = servingFrame(of, frame, { has: () => true, before: () => undefined })
    const name = framePath(of.path, number ?? of.frames?.first ?? null)
    return withFile(await pathInside(place, name), name, (file) => readPicture(file, null, colours))
  }
  const planes = await read(source)
  const trusted = trustedId === undefined ? null : findSource(shot, trustedId)
  const decoded = trusted && decodedSample(await read(trusted), trusted)
  const { x: left, y: top, width, height } = planes.dataWindow
  const grey =
    patch &&
    planes.planes.slice(0, 3).map(({ samples, type }) => {
      const sample = samplePixels({ ...planes, planes: [{ name: 'Y', type, samples }] }, Infinity).red
      let [sum, count] = [0, 0]
      for (let y = patch.y - top - patchSide / 2; y < patch.y - top + patchSide / 2; y++)
        for (let x = patch.x - left - patchSide / 2; x < patch.x - left + patchSide / 2; x++)
          if (x >= 0 && y >= 0 && x < width && y < height) {
            sum += sample[y * width + x]
            count++
          }
      return count > 0 ? sum / count : 0
    })
  const evidence = {
    ...(decoded ? { trusted: decoded } : {}),
    ...(grey ? { grey: grey as unknown as readonly [number, number, number] } : {}),
  }
  const words = [trusted && `beside ${trusted.name}`, grey && 'by the grey patch'].filter(Boolean)
  return {
    ranked: rankEncodings(samplePixels(planes), evidence),
    beside: words.join(' and ') || 'by what light on a set is like',
  }
}

function findSource(shot: Shot, id: string): Source {
  const found = find(shot.sources, id)
  if (!found) throw new MissingFileError(`${shot.name} has no source "${id}". Reload the shot.`)
  return found
}

function colours(available: readonly string[]): readonly string[] {
  const rgb = ['R', 'G', 'B'].filter((name) => available.includes(name))
  if (rgb.length === 3) return rgb
  const [one] = available.includes('Y') ? ['Y'] : available
  return [one, one, one]
}

function decodedSample(planes: Planes, { claims }: Source): PixelSample {
  const light = decoder(claims.encoding)
  const sample = samplePixels(planes)
  return { ...sample, red: sample.red.map(light), green: sample.green.map(light), blue: sample.blue.map(light) }
}
