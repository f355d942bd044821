/** The server, as the application talks to it. Every failure is an error with the server's own sentence. */

import type { Wedge, MediaFolder, MovieStatus, PictureHeader, SourceReport } from '../../../core/check'
import type { SourceFrame } from '../../../core/engine/source-frame'
import type { FrameRequest, Scale } from '../../../core/graph/steps'
import type { Catalog } from '../../../core/plan/catalog'
import type { Edit, DeliveryStatus, Shot, Source } from '../../../core/shot'
import { decodeSourceFrame } from '../../../formats/wire/source-frame'

export interface ShotSummary {
  readonly name: string
  readonly revision: number
  readonly updatedAt: string
  readonly frames: Shot['frames']
  readonly rate: Shot['rate']
  readonly frameSize: Shot['frameSize']
  readonly framesReady: number
}

export interface LoadedShot {
  readonly shot: Shot
  readonly revision: number
  readonly catalog: Catalog
}

/** The server answered with a refusal; `body` is what it said. */
export class RefusedError extends Error {
  override readonly name = 'RefusedError'
  constructor(
    message: string,
    readonly status: number,
    readonly body: unknown,
  ) {
    super(message)
  }
}

/** The server did not answer. */
export class UnreachableError extends Error {
  override readonly name = 'UnreachableError'
}

async function ask(path: string, init?: RequestInit): Promise<Response> {
  let response: Response
  try {
    response = await fetch(path, init)
  } catch {
    throw new UnreachableError('The server does not answer. Check that it runs; nothing is lost meanwhile.')
  }
  if (response.ok) return response
  const body: unknown = await response.json().catch(() => null)
  const said = (body as { message?: string } | null)?.message
  throw new RefusedError(said ?? `The server answered ${response.status} to ${path}.`, response.status, body)
}

async function askJson<T>(path: string, init?: RequestInit): Promise<T> {
  return (await ask(path, init)).json() as Promise<T>
}

function post<T>(path: string, body: unknown): Promise<T> {
  return askJson<T>(path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  })
}

const shotPath = (name: string) => `/api/shots/${encodeURIComponent(name)}`

export const listShots = () => askJson<{ shots: ShotSummary[]; complaints: string[] }>('/api/shots')
export const loadShot = (name: string) => askJson<LoadedShot>(shotPath(name))
export const loadCatalog = (name: string) => askJson<Catalog>(`${shotPath(name)}/catalog`)
export const sendEdit = (name: string, baseRevision: number, tab: string, edit: Edit) =>
  post<{ shot: Shot; revision: number }>(`${shotPath(name)}/edits`, { baseRevision, tab, edit })
export const listDeliveries = (name: string) => askJson<DeliveryStatus[]>(`${shotPath(name)}/deliveries`)
export const startDelivery = (name: string, first: number, last: number, scale: Scale) =>
  post<DeliveryStatus>(`${shotPath(name)}/deliveries`, { first, last, scale })
export const cancelDelivery = (id: string) => post<DeliveryStatus>(`/api/deliveries/${id}/cancel`, {})
const asked = (path: string, values: Record<string, string>) => `${path}?${new URLSearchParams(values)}`
export const loadReports = (name: string) => askJson<SourceReport[]>(`${shotPath(name)}/reports`)
export const browseMedia = (folder: string) => askJson<MediaFolder>(asked('/api/media', { folder }))
const fileValues = (path: string, frame: number | null) => ({
  path,
  ...(frame === null ? {} : { frame: String(frame) }),
})
export const mediaHeader = (path: string, frame: number | null) =>
  askJson<PictureHeader>(asked('/api/media/header', fileValues(path, frame)))
export const mediaPictureUrl = (path: string, frame: number | null) =>
  asked('/api/media/picture', fileValues(path, frame))
export const proposeSource = (name: string, path: string) =>
  askJson<Source>(asked(`${shotPath(name)}/proposed-source`, { path }))
export const bringMovie = (path: string) => post<MovieStatus>('/api/media/movie', { path })
export const movieStatus = (path: string) => askJson<MovieStatus | null>(asked('/api/media/movie', { path }))
export const cancelMovie = (path: string) =>
  askJson<MovieStatus | null>(asked('/api/media/movie', { path }), { method: 'DELETE' })
export const uploadsPath = '/api/uploads'
export const rankSource = (
  name: string,
  source: string,
  frame: number,
  trusted: string | null,
  patch: { readonly x: number; readonly y: number } | null,
) =>
  askJson<Wedge>(
    asked(`${shotPath(name)}/wedge`, {
      source,
      frame: String(frame),
      ...(trusted === null ? {} : { trusted }),
      ...(patch === null ? {} : { x: String(patch.x), y: String(patch.y) }),
    }),
  )
export const thumbnailUrl = ({ name, revision }: ShotSummary) => `${shotPath(name)}/thumbnail?revision=${revision}`
export const eventsUrl = (name: string) => `${shotPath(name)}/events`

/** Brings a source frame; the shot frame of a still is any frame. */
export async function fetchFrame(shotName: string, anyFrame: number, request: FrameRequest): Promise<SourceFrame> {
  const query = new URLSearchParams({
    source: request.source,
    frame: String(request.frame ?? anyFrame),
    takes: request.takes,
    encoding: request.claims.encoding,
    primaries: request.claims.primaries,
    working: request.working,
    enlarge: String(request.enlarge),
    alpha: request.claims.alpha,
    scale: String(request.scale),
  })
  if (request.part !== null) query.set('part', request.part)
  const response = await ask(`${shotPath(shotName)}/frame?${query}`)
  return decodeSourceFrame(await response.arrayBuffer())
}
