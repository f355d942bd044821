/** The HTTP interface. Handlers parse, call, answer; every error becomes a status and a sentence. */

import express, { type Express, type Request } from 'express'
import { join } from 'node:path'
import sharp from 'sharp'
import { mixed, number, object, string } from 'yup'
import { encodingNames, primariesNames, type EncodingName, type PrimariesName } from '../core/colour'
import { planFrame } from '../core/plan/plan'
import type { FrameRequest, Scale } from '../core/graph/steps'
import { framePath, type Edit } from '../core/shot'
import { encodeSourceFrame } from '../formats/wire/source-frame'
import { fingerprintFrom } from '../core/plan/catalog'
import { catalogOf } from './media/catalog'
import { answerErrors } from './answer-errors'
import { MissingFileError } from './media/file-source'
import { addMediaRoutes } from './media-routes'
import type { Service } from './service'

const scale = () => number<Scale>().oneOf([1, 2, 4]).default(1)
const editKinds: readonly Edit['kind'][] = [
  'set-parameter',
  'set-channels',
  'reset-parameter',
  'add-key',
  'remove-key',
  'enable-treatment',
  'show-element',
  'set-claims',
  'set-source',
  'add-source',
  'remove-source',
  'add-element',
  'remove-element',
  'add-treatment',
  'remove-treatment',
  'set-treatment-source',
  'keep-try',
  'take-try',
  'drop-try',
  'restore',
]
const editBody = object({
  baseRevision: number().integer().min(1).required(),
  tab: string().trim().min(1).max(64).required(),
  edit: mixed<Edit>()
    .required()
    .test('kind', 'edit.kind is not a known edit', (value) =>
      editKinds.includes((value as Partial<Edit>)?.kind as Edit['kind']),
    ),
})
const frameQuery = object({
  source: string().required(),
  frame: number().integer().required(),
  part: string().nullable().default(null),
  takes: string<FrameRequest['takes']>().oneOf(['rgba', 'matte', 'map', 'table']).required(),
  encoding: string<EncodingName>()
    .oneOf([...encodingNames])
    .required(),
  primaries: string<PrimariesName>()
    .oneOf([...primariesNames])
    .required(),
  working: string<PrimariesName>()
    .oneOf([...primariesNames])
    .required(),
  enlarge: number<Scale>().oneOf([1, 2, 4]).required(),
  alpha: string<'none' | 'premultiplied' | 'straight'>().oneOf(['none', 'premultiplied', 'straight']).required(),
  scale: scale(),
})
const deliveryBody = object({
  first: number().integer().required(),
  last: number().integer().required(),
  scale: scale(),
})

const shotName = (request: Request) => String(request.params.name)

export function createApp(service: Service): Express {
  const app = express()
  app.disable('x-powered-by')
  app.use((_request, response, next) => {
    // SharedArrayBuffer is only given to isolated pages.
    response.set({
      'Cross-Origin-Opener-Policy': 'same-origin',
      'Cross-Origin-Embedder-Policy': 'require-corp',
      'Cross-Origin-Resource-Policy': 'same-origin',
    })
    next()
  })
  app.use(express.json({ limit: '4mb' }))
  addShotRoutes(app, service)
  addPictureRoutes(app, service)
  addDeliveryRoutes(app, service)
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

function addShotRoutes(app: Express, { store, events, adoptShots, configuration }: Service): void {
  app.get('/api/shots', async (_request, response) => {
    const complaints = await adoptShots()
    const rows = await store.list()
    const shots = await Promise.all(
      rows.map(async ({ name, folder, revision, document, updatedAt }) => {
        const catalog = await catalogOf(configuration.media.place(folder), document)
        const plate = catalog[document.elements[0].source] ?? {}
        return {
          name,
          revision,
          updatedAt,
          frames: document.frames,
          rate: document.rate,
          frameSize: document.frameSize,
          framesReady: Object.keys(plate).length,
        }
      }),
    )
    response.json({ shots, complaints })
  })
  app.get('/api/shots/:name', async (request, response) => {
    const row = await store.find(shotName(request))
    response.json({
      shot: row.document,
      revision: row.revision,
      catalog: await catalogOf(configuration.media.place(row.folder), row.document),
    })
  })
  app.get('/api/shots/:name/catalog', async (request, response) => {
    const row = await store.find(shotName(request))
    response.json(await catalogOf(configuration.media.place(row.folder), row.document))
  })
  app.post('/api/shots/:name/edits', async (request, response) => {
    const { baseRevision, tab, edit } = editBody.validateSync(request.body)
    const name = shotName(request)
    const saved = await store.edit(name, baseRevision, tab, edit)
    events.emit('revised', { shotName: name, revision: saved.revision, tab })
    response.json(saved)
  })
  app.get('/api/shots/:name/revisions', async (request, response) => {
    await store.find(shotName(request))
    response.json(await store.history(shotName(request)))
  })
  app.get('/api/shots/:name/revisions/:revision', async (request, response) => {
    response.json(await store.atRevision(shotName(request), Number(request.params.revision)))
  })
  app.get('/api/shots/:name/events', async (request, response) => {
    const name = shotName(request)
    await store.find(name)
    response.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-cache' })
    response.flushHeaders()
    const send = (event: string, data: { shotName: string }) =>
      data.shotName === name && response.write(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`)
    const onRevised = (data: { shotName: string }) => send('revised', data)
    const onDelivery = (data: { shotName: string }) => send('delivery', data)
    events.on('revised', onRevised)
    events.on('delivery', onDelivery)
    request.on('close', () => {
      events.off('revised', onRevised)
      events.off('delivery', onDelivery)
    })
  })
}

function addPictureRoutes(app: Express, { store, engineFor, readers, configuration }: Service): void {
  app.get('/api/shots/:name/frame', async (request, response) => {
    const row = await store.find(shotName(request))
    const query = frameQuery.validateSync(request.query)
    const source = row.document.sources.find((s) => s.id === query.source)
    const from = source?.frames ? query.frame : null
    const { first, last } = source?.frames ?? { first: query.frame, last: query.frame }
    const place = configuration.media.place(row.folder)
    if (!source || query.frame < first || query.frame > last)
      throw new MissingFileError(
        `${row.name} has no source "${query.source}" at frame ${query.frame}. Reload the shot.`,
      )
    const frame = await readers.read(place, {
      source: source.id,
      sourceName: source.name,
      path: framePath(source.path, from),
      frame: from,
      part: query.part,
      takes: query.takes,
      claims: { encoding: query.encoding, alpha: query.alpha, primaries: query.primaries },
      working: query.working,
      enlarge: query.enlarge,
      scale: query.scale,
    })
    const pieces = encodeSourceFrame(frame)
    response.set({
      'Content-Type': 'application/octet-stream',
      'Content-Length': String(pieces.reduce((sum, piece) => sum + piece.length, 0)),
      'Cache-Control': 'no-store',
    })
    for (const piece of pieces) response.write(Buffer.from(piece.buffer, piece.byteOffset, piece.byteLength))
    response.end()
  })
  app.get('/api/shots/:name/thumbnail', async (request, response) => {
    const row = await store.find(shotName(request))
    const shot = row.document
    const catalog = await catalogOf(configuration.media.place(row.folder), shot)
    const ready = Object.keys(catalog[shot.elements[0].source] ?? {}).map(Number)
    if (ready.length === 0) throw new MissingFileError(`${row.name} has no plate yet, so there is nothing to show.`)
    const frame = Math.min(...ready)
    const plan = planFrame(shot, frame, 4, fingerprintFrom(catalog))
    const window = {
      x: 0,
      y: 0,
      width: Math.ceil(shot.frameSize.width / 4),
      height: Math.ceil(shot.frameSize.height / 4),
    }
    const pixels = await engineFor(row.folder).view(plan.composite, window, {
      exposure: 1,
      channel: 'all',
      encoding: 'srgb',
    })
    const jpeg = await sharp(pixels, { raw: { width: window.width, height: window.height, channels: 4 } })
      .jpeg({ quality: 88 })
      .toBuffer()
    response.set({ 'Content-Type': 'image/jpeg', 'Cache-Control': 'no-cache' }).send(jpeg)
  })
}

function addDeliveryRoutes(app: Express, { store, deliveries }: Service): void {
  app.get('/api/shots/:name/deliveries', async (request, response) => {
    await store.find(shotName(request))
    response.json(await deliveries.list(shotName(request)))
  })
  app.post('/api/shots/:name/deliveries', async (request, response) => {
    const { first, last, scale: at } = deliveryBody.validateSync(request.body)
    response.status(201).json(await deliveries.create(await store.find(shotName(request)), first, last, at))
  })
  app.post('/api/deliveries/:id/cancel', async (request, response) => {
    response.json(await deliveries.cancel(String(request.params.id)))
  })
}
