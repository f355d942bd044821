/** HTTP: straight lines or a chart found on the plate or on another source, strokes brought onto edges, and the lens that these tell. */

import type { Express } from 'express'
import { array, boolean, number, object, string, ValidationError } from 'yup'
import { filesIn } from '../core/plan/catalog'
import { ChartTellsNothingError, findLines, lensFromChart, lensFromLines, lineAlong, type Line } from '../core/lens'
import type { LensLeads } from '../core/motion/lens'
import { valuesAt } from '../core/plan/values'
import { find, mostFrameNumber, mostLines, mostPixelsASide, mostStrokePoints } from '../core/shot'
import { lensOf, treatments } from '../core/treatments'
import { chartPhotographs, framesOfChart, noChart } from './lens/chart-photographs'
import { lensMapFile } from './lens/lens-map-file'
import { pictureBrightness } from './lens/picture-brightness'
import { catalogOf } from './media/catalog'
import type { Service } from './service'
import { shotId } from './shot-id'

const coordinate = () => number().strict().min(-mostPixelsASide).max(mostPixelsASide).required()
const stroke = () =>
  array(coordinate())
    .min(4)
    .max(2 * mostStrokePoints)
    .test('pairs', '${path} must hold pairs of numbers', (value) => (value?.length ?? 0) % 2 === 0)
const linesBody = object({
  frame: number().strict().integer().min(-mostFrameNumber).max(mostFrameNumber).required(),
  source: string().strict().max(64).nullable().defined(),
  stroke: stroke().optional().default(undefined),
})
const lensBody = object({
  lines: array(stroke().required()).max(mostLines).required(),
  squeeze: number().strict().min(0.25).max(4).required(),
  tangential: boolean().strict().required(),
})
const chartBody = object({
  frame: number().strict().integer().min(-mostFrameNumber).max(mostFrameNumber).required(),
  source: string().strict().max(64).nullable().defined(),
  squeeze: number().strict().min(0.25).max(4).required(),
  tangential: boolean().strict().required(),
})

const mapQuery = object({
  treatment: string().max(64).required(),
  frame: number().integer().min(-mostFrameNumber).max(mostFrameNumber).required(),
  leads: string<LensLeads>().oneOf(['to-straight', 'to-bent']).required(),
})

export function addLensRoutes(app: Express, { store, engineFor, configuration }: Service): void {
  app.post('/api/shots/:id/straight-lines', async (request, response) => {
    const row = await store.find(shotId(request))
    const shot = store.documentOf(row)
    const { frame, source, stroke: along } = linesBody.validateSync(request.body ?? {}, { strict: true })
    const files = filesIn(await catalogOf(configuration.media.place(row.folder), shot))
    const stopping = new AbortController()
    response.on('close', () => stopping.abort())
    const picture = await pictureBrightness(engineFor(row.folder), { shot, files }, source, frame, stopping.signal)
    const lines = along
      ? [lineAlong(picture, [along[0], along[1]], [along.at(-2) as number, along.at(-1) as number])]
      : findLines(picture)
    response.json({ lines: lines.flatMap((line) => (line ? [flat(line)] : [])) })
  })

  app.post('/api/shots/:id/lens', async (request, response) => {
    const { frameSize } = store.documentOf(await store.find(shotId(request)))
    const { lines, squeeze, tangential } = lensBody.validateSync(request.body ?? {}, { strict: true })
    response.json(lensFromLines(lines.map(pairs), { frame: frameSize, squeeze, tangential, choose: true }))
  })

  app.post('/api/shots/:id/lens-of-chart', async (request, response) => {
    const row = await store.find(shotId(request))
    const shot = store.documentOf(row)
    const { frame, source, squeeze, tangential } = chartBody.validateSync(request.body ?? {}, { strict: true })
    const files = filesIn(await catalogOf(configuration.media.place(row.folder), shot))
    const stopping = new AbortController()
    response.on('close', () => stopping.abort())
    const { looked, found } = await chartPhotographs(
      framesOfChart(shot, source, frame),
      (at) => pictureBrightness(engineFor(row.folder), { shot, files }, source, at, stopping.signal),
      stopping.signal,
    )
    if (found.length === 0) throw new ChartTellsNothingError(noChart(looked))
    const { lens, rms } = lensFromChart(found, { frame: shot.frameSize, squeeze, tangential })
    const photographs = found.map(({ frame: at, seen }) => ({ frame: at, seen: flat(seen) }))
    response.json({ lens, rms, looked: looked.length, photographs })
  })

  app.get('/api/shots/:id/lens-map', async (request, response) => {
    const shot = store.documentOf(await store.find(shotId(request)))
    const { treatment, frame, leads } = mapQuery.validateSync(request.query)
    const settings = find(shot.treatments, treatment)
    if (settings?.kind !== 'lens') throw new ValidationError('That lens is not in this shot any more.')
    const window = { x: 0, y: 0, ...shot.frameSize }
    const values = valuesAt(treatments.lens.parameters, settings.parameters, frame)
    const bytes = await lensMapFile(lensOf(values, window, 1), shot.frameSize, leads)
    const name = `${shot.name}_${leads === 'to-straight' ? 'redistort' : 'undistort'}.exr`
    response.attachment(name).type('application/octet-stream').end(bytes)
  })
}

/** To a thousandth of a pixel. */
const flat = (line: Line) => line.flatMap(([x, y]) => [Math.round(x * 1000) / 1000, Math.round(y * 1000) / 1000])
const pairs = (points: readonly number[]): Line =>
  Array.from({ length: points.length / 2 }, (_, i) => [points[2 * i], points[2 * i + 1]] as const)
