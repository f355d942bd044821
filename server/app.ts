/** The HTTP interface. Handlers parse, call, answer; every error becomes a status and a sentence. */

import express, { type Express } from 'express'
import { LRUCache } from 'lru-cache'
import { join } from 'node:path'
import sharp from 'sharp'
import { array, boolean, number, object, string } from 'yup'
import { encodingNames, primariesNames, type EncodingName, type PrimariesName } from '../core/colour'
import { planFrame } from '../core/plan/plan'
import { refuseProblems } from '../core/plan/problem'
import type { FrameRequest, Scale } from '../core/graph/steps'
import { editSchema, find, framePath, mostObjects, plateSource, labelColours } from '../core/shot'
import { encodeSourceFrame } from '../formats/wire/source-frame'
import { filesIn, firstFrameThere } from '../core/plan/catalog'
import { catalogOf } from './media/catalog'
import { answerErrors } from './answer-errors'
import { refuseBuiltInNames, refuseBuiltInQuery } from './built-in-names'
import { guard } from './guard'
import { MissingFileError } from './media/file-source'
import { addComputedRoutes } from './computed-routes'
import { addDeliveryRoutes } from './delivery-routes'
import { addCameraRoutes } from './camera-routes'
import { addMediaRoutes } from './media-routes'
import type { Revised, Service } from './service'
import { shotId } from './shot-id'
import { addObjectRoutes } from './object-routes'
import { addMakingRoutes } from './making-routes'
import { addMatchingRoutes } from './matching-routes'
import { addLensRoutes } from './lens-routes'
import { addTrackingRoutes } from './tracking-routes'
import { addReadingsRoutes } from './readings-routes'
import { addShotListRoutes } from './shot-list-routes'
import { addDemoShotRoutes } from './demo-shot-routes'
import { addWorkRoutes } from './work-routes'
import type { News } from './work/work-news'

const scale = () => number<Scale>().oneOf([1, 2, 4]).default(1)
const frameNumber = () => number().integer().min(-1e8).max(1e8)
const editBody = object({
  id: string()
    .matches(/^[A-Za-z0-9-]{8,64}$/, 'id must be 8 to 64 letters, digits and dashes')
    .required(),
  baseRevision: number()
    .strict()
    .integer()
    .min(1)
    .max(2 ** 31 - 1)
    .required(),
  tab: string().trim().min(1).max(64).required(),
  author: string().trim().max(100),
  colour: string().oneOf([...labelColours]),
})
const frameQuery = object({
  source: string().max(64).required(),
  /** of the file; absent: as the shot has it now. The shot as it was may have been read from other files */
  path: string().max(1000),
  frame: frameNumber().required(),
  part: string().max(500).nullable().default(null),
  channels: array(string().max(255).required()).min(1).max(4).json(),
  ids: object({ ids: array(number().integer().required()).max(mostObjects).required(), ranked: boolean().required() })
    .json()
    .optional()
    .default(undefined),
  takes: string<FrameRequest['takes']>().oneOf(['rgba', 'scalar', 'rgb-matte', 'vec2', 'bits', 'table']).required(),
  encoding: string<EncodingName>()
    .oneOf([...encodingNames])
    .required(),
  primaries: string<PrimariesName>()
    .oneOf([...primariesNames])
    .required(),
  working: string<PrimariesName>()
    .oneOf([...primariesNames])
    .required(),
  alpha: string<'none' | 'premultiplied' | 'straight'>().oneOf(['none', 'premultiplied', 'straight']).required(),
  reduce: scale(),
  framing: string<FrameRequest['framing']>().oneOf(['centred', 'file']).required(),
  green: string().oneOf(['up']),
  width: number().min(0).max(1e7).required(),
  height: number().min(0).max(1e7).required(),
})
const revisionBody = object({ called: string().trim().max(200).defined() })
const undoQuery = object({ tab: string().trim().min(1).max(64).required() })

export function createApp(service: Service): Express {
  const app = express()
  app.disable('x-powered-by')
  app.use(guard(service.configuration.names))
  app.use(express.json({ limit: '4mb', reviver: refuseBuiltInNames }), refuseBuiltInQuery)
  addShotListRoutes(app, service)
  addShotRoutes(app, service)
  addPictureRoutes(app, service)
  addDeliveryRoutes(app, service)
  addWorkRoutes(app, service)
  addComputedRoutes(app, service)
  addReadingsRoutes(app, service)
  addMatchingRoutes(app, service)
  addMakingRoutes(app, service)
  addObjectRoutes(app, service)
  addTrackingRoutes(app, service)
  addLensRoutes(app, service)
  addCameraRoutes(app, service)
  addDemoShotRoutes(app, service)
  addMediaRoutes(app, service)
  app.use('/api', (request, response) => {
    response.status(404).json({ message: `There is nothing at ${request.originalUrl}.` })
  })
  app.use(
    express.static(service.configuration.webRoot, {
      index: false,
      maxAge: '1y',
      immutable: true,
      setHeaders: (response, path) => path.endsWith('.html') && response.set('Cache-Control', 'no-cache'),
    }),
  )
  app.use((_request, response) =>
    response.set('Cache-Control', 'no-cache').sendFile(join(service.configuration.webRoot, 'index.html')),
  )
  app.use(answerErrors)
  return app
}

function addShotRoutes(app: Express, service: Service): void {
  const { store, events, news, configuration } = service
  app.get('/api/shots/:id', async (request, response) => {
    const row = await store.find(shotId(request))
    response.json({ shot: store.documentOf(row), revision: row.revision })
  })
  app.get('/api/shots/:id/catalog', async (request, response) => {
    const row = await store.find(shotId(request))
    response.json(await catalogOf(configuration.media.place(row.folder), store.documentOf(row)))
  })
  app.post('/api/shots/:id/edits', async (request, response) => {
    const body = (request.body ?? {}) as { edit?: unknown }
    const { id, baseRevision, tab, author, colour } = editBody.validateSync(body)
    const edit = editSchema.validateSync(body.edit, { strict: true })
    const saved = await store.edit(shotId(request), { id, edit, tab, author, colour, baseRevision })
    events.emit('revised', { shotId: shotId(request), revision: saved.revision, tab })
    response.json(saved)
  })
  app.get('/api/shots/:id/undo', async (request, response) => {
    const row = await store.find(shotId(request))
    response.json(await store.undoOf(row.id, undoQuery.validateSync(request.query).tab))
  })
  app.get('/api/shots/:id/revisions', async (request, response) => {
    const row = await store.find(shotId(request))
    response.json(await store.history(row.id))
  })
  app.get('/api/shots/:id/revisions/:revision', async (request, response) => {
    const row = await store.find(shotId(request))
    response.json(await store.atRevision(row, Number(request.params.revision)))
  })
  app.post('/api/shots/:id/revisions/:revision', async (request, response) => {
    const row = await store.find(shotId(request))
    const { called } = revisionBody.validateSync(request.body ?? {})
    await store.callRevision(row, Number(request.params.revision), called)
    response.json({})
  })
  app.get('/api/shots/:id/events', async (request, response) => {
    const { id } = await store.find(shotId(request))
    response.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-cache' })
    response.flushHeaders()
    const send = (event: string, data: unknown) => response.write(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`)
    const onRevised = (data: Revised) => data.shotId === id && send('revised', data)
    const onNews = (data: News) => (data.work.shotId === id || data.work.shotId === null) && send('work', data)
    const onMissed = () => send('missed', {})
    events.on('revised', onRevised)
    news.on('news', onNews)
    news.on('missed', onMissed)
    request.on('close', () => {
      events.off('revised', onRevised)
      news.off('news', onNews)
      news.off('missed', onMissed)
    })
  })
}

/** By what they show; a list asks for many at once, and again. */
const thumbnails = new LRUCache<string, Buffer>({ max: 500 })

function addPictureRoutes(app: Express, { store, engineFor, readers, configuration }: Service): void {
  app.get('/api/shots/:id/frame', async (request, response) => {
    const row = await store.findTogether(shotId(request))
    const query = frameQuery.validateSync(request.query)
    const source = find(store.documentOf(row).sources, query.source)
    const from = source?.frames ? query.frame : null
    const { first, last } = source?.frames ?? { first: query.frame, last: query.frame }
    const place = configuration.media.place(row.folder)
    if (query.path === undefined && (!source || query.frame < first || query.frame > last))
      throw new MissingFileError(
        `${row.name} has no source "${query.source}" at frame ${query.frame}. Reload the shot.`,
      )
    const unwanted = new AbortController()
    response.on('close', () => unwanted.abort())
    const frame = await readers.read(
      place,
      {
        source: query.source,
        sourceName: source?.name ?? query.source,
        path: query.path ?? framePath(source?.path ?? '', from),
        frame: from,
        part: query.part,
        channels: query.channels ?? null,
        takes: query.takes,
        ...(query.ids ? { ids: query.ids } : {}),
        ...(query.green === 'up' ? { greenUp: true } : {}),
        claims: { encoding: query.encoding, alpha: query.alpha, primaries: query.primaries },
        working: query.working,
        reduce: query.reduce,
        framing: query.framing,
        frameSize: { width: query.width, height: query.height },
      },
      unwanted.signal,
    )
    const pieces = encodeSourceFrame(frame)
    response.set({
      'Content-Type': 'application/octet-stream',
      'Content-Length': String(pieces.reduce((sum, piece) => sum + piece.length, 0)),
      'Cache-Control': 'no-store',
    })
    for (const piece of pieces) response.write(Buffer.from(piece.buffer, piece.byteOffset, piece.byteLength))
    response.end()
  })
  app.get('/api/shots/:id/thumbnail', async (request, response) => {
    const row = await store.find(shotId(request))
    const shot = store.documentOf(row)
    const plate = plateSource(shot)
    const catalog = await catalogOf(configuration.media.place(row.folder), shot)
    if (!plate || Object.keys(catalog[plate.id] ?? {}).length === 0)
      throw new MissingFileError(`${row.name} has no plate yet, so there is nothing to show.`)
    const { composite, problems } = planFrame(shot, firstFrameThere(shot, catalog), 4, filesIn(catalog))
    if (!composite) return refuseProblems(problems)
    const window = {
      x: 0,
      y: 0,
      width: Math.ceil(shot.frameSize.width / 4),
      height: Math.ceil(shot.frameSize.height / 4),
    }
    const view = { exposure: 1, channel: 'all', encoding: 'srgb' } as const
    let jpeg = thumbnails.get(composite.key)
    if (!jpeg) {
      const pixels = await engineFor(row.folder).view(composite, window, view)
      jpeg = await sharp(pixels, { raw: { width: window.width, height: window.height, channels: 4 } })
        .jpeg({ quality: 88 })
        .toBuffer()
      thumbnails.set(composite.key, jpeg)
    }
    response.set({ 'Content-Type': 'image/jpeg', 'Cache-Control': 'no-cache' }).send(jpeg)
  })
}
