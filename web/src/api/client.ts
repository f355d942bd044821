/** The server, as the application talks to it. Every failure is an error with the server's own sentence. */

import type { ObjectPass, Wedge, MediaFolder, MovieStatus, PictureHeader, SourceReport } from '../../../core/check'
import { ComputedGoneError } from '../../../core/engine/computed'
import type { SourceFrame } from '../../../core/engine/source-frame'
import type { FrameRequest } from '../../../core/graph/steps'
import type { Answers, Proposal } from '../../../core/new-shot'
import type { LensFromLines } from '../../../core/lens'
import type { Lens, LensLeads } from '../../../core/motion/lens'
import type { Catalog } from '../../../core/plan/catalog'
import type { DeliveredFile, DeliveryStatus, WantedDelivery } from '../../../core/delivery'
import type {
  Edit,
  FirstFile,
  LabelColour,
  Made,
  MissingSource,
  CornersFound,
  SetTrackPoints,
  Shot,
  Source,
  Stretch,
  TabEdit,
  Together,
  Track,
  PlaneCamera,
  SolvedScene,
} from '../../../core/shot'
import type { ComputedElement, MadeFilesState, MakingState, OfferedShot, WorkStatus } from '../../../core/work'
import type { ShotMatching, ShotReadings } from '../../../core/witnesses'
import { ownPageHeader } from '../../../formats/wire/own-page'
import { personColour, personName } from '../people/person'
import { decodeSourceFrame } from '../../../formats/wire/source-frame'

interface SummaryBase {
  readonly id: string
  readonly name: string
  readonly revision: number
  readonly updatedAt: string
  /** who changed it last, as far as that is known */
  readonly author: string | null
  readonly archived: boolean
  readonly removed: boolean
}

/** A line of the list; `fault` says why a document cannot be read. */
export type ShotSummary =
  | (SummaryBase & {
      readonly fault: null
      readonly frames: Shot['frames']
      readonly rate: Shot['rate']
      readonly frameSize: Shot['frameSize']
      readonly framesReady: number
    })
  | (SummaryBase & { readonly fault: string })

/** What is found in files, what would be answered, and what does not fit. */
export interface ProposedShot {
  readonly proposal: Proposal
  readonly answers: Answers
}

export interface ShotDocument {
  readonly id: string
  readonly shot: Shot
  readonly revision: number
}

export interface LoadedShot extends ShotDocument {
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
  } catch (error) {
    if (init?.signal?.aborted) throw error
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

/** What only the application's own page sends. */
export const ownPage = { [ownPageHeader]: '1' }

function post<T>(path: string, body: unknown): Promise<T> {
  return askJson<T>(path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', ...ownPage },
    body: JSON.stringify(body),
  })
}

/** What the server says line by line while it tracks. */
export interface TrackedLine {
  readonly work?: string
  readonly frame?: number
  readonly points?: CornersFound
  readonly edit?: SetTrackPoints | Together
  readonly problem?: string
}

export interface TrackingBody {
  readonly track: Track
  readonly stretches: readonly Stretch[]
  readonly corners?: readonly Track[]
  /** as which edit of which tab it is kept; the work has its id */
  readonly as: { readonly id: string; readonly tab: string; readonly baseRevision: number }
}

/**
 * It goes on, and is kept, when nobody listens any more.
 *
 * @param told of every frame as it is found
 * @returns the edit
 * @throws RefusedError; Error with why it cannot be tracked
 */
export async function trackOnServer(
  shot: string,
  { as, ...what }: TrackingBody,
  told: (frame: number, points: CornersFound) => void,
  signal: AbortSignal,
): Promise<SetTrackPoints | Together> {
  const response = await ask(`${shotPath(shot)}/tracking`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', ...ownPage },
    body: JSON.stringify({ ...what, as: withPerson(as) }),
    signal,
  })
  const reader = (response.body as ReadableStream<Uint8Array>).getReader()
  const decoder = new TextDecoder()
  let rest = ''
  for (;;) {
    const { done, value } = await reader.read()
    if (done)
      throw new UnreachableError(
        'The server broke off while it tracked. It goes on by itself; what it finds comes by itself, too.',
      )
    const lines = (rest + decoder.decode(value, { stream: true })).split('\n')
    rest = lines.pop() ?? ''
    for (const line of lines) {
      const { frame, points, edit, problem } = JSON.parse(line) as TrackedLine
      if (problem !== undefined) throw new Error(problem)
      if (edit) return edit
      if (frame !== undefined && points) told(frame, points)
    }
  }
}

/** Lines, each x and y of its places by turns. */
export const straightLines = (
  shot: string,
  body: { readonly source: string | null; readonly frame: number; readonly stroke?: readonly number[] },
) => post<{ lines: readonly (readonly number[])[] }>(`${shotPath(shot)}/straight-lines`, body)
export const measureLens = (
  shot: string,
  body: { readonly lines: readonly (readonly number[])[]; readonly squeeze: number; readonly tangential: boolean },
) => post<LensFromLines>(`${shotPath(shot)}/lens`, body)
/** Where a chart's corners were found, x and y by turns, in pixels of the frame; and the lens that they tell. */
export interface LensOfChart {
  readonly lens: Lens
  readonly rms: number
  /** frames that were looked at */
  readonly looked: number
  readonly photographs: readonly { readonly frame: number; readonly seen: readonly number[] }[]
}
export const lensOfChart = (
  shot: string,
  body: {
    readonly source: string | null
    readonly frame: number
    readonly squeeze: number
    readonly tangential: boolean
  },
) => post<LensOfChart>(`${shotPath(shot)}/lens-of-chart`, body)
export const lensMapUrl = (shot: string, treatment: string, frame: number, leads: LensLeads) =>
  asked(`${shotPath(shot)}/lens-map`, { treatment, frame: String(frame), leads })

const shotPath = (id: string) => `/api/shots/${encodeURIComponent(id)}`

export const listShots = () => askJson<{ shots: ShotSummary[]; complaints: string[] }>('/api/shots')
export const proposeNewShot = (paths: readonly string[]) =>
  askJson<ProposedShot>(asked('/api/new-shot', { paths: JSON.stringify(paths) }))
const withAuthor = <T extends object>(body: T) => ({ ...body, author: personName() || undefined })
const withPerson = <T extends object>(body: T) => ({ ...withAuthor(body), colour: personColour() ?? undefined })
export const makeNewShot = (paths: readonly string[], answers: Answers) =>
  post<{ id: string }>('/api/shots', withAuthor({ paths, answers }))
export const openShotFile = (document: unknown, folder: string) =>
  post<{ id: string }>('/api/shot-files', withAuthor({ document, folder }))
export const copyShot = (id: string, name: string) =>
  post<{ id: string }>(`${shotPath(id)}/copies`, withAuthor({ name }))
export const putAway = (id: string, change: { readonly archived?: boolean; readonly removed?: boolean }) =>
  post<object>(`${shotPath(id)}/put-away`, change)
export const shotFileUrl = (id: string) => `${shotPath(id)}/file`
export const loadShot = async (id: string): Promise<ShotDocument> => ({
  ...(await askJson<Omit<ShotDocument, 'id'>>(shotPath(id))),
  id,
})
/** The document, and which files are there: looking for those takes longer. */
export async function openShot(id: string): Promise<LoadedShot> {
  const [opened, catalog] = await Promise.all([loadShot(id), loadCatalog(id)])
  return { ...opened, catalog }
}
export const loadUndo = (id: string, tab: string) =>
  askJson<{ past: readonly TabEdit[]; future: readonly TabEdit[] }>(asked(`${shotPath(id)}/undo`, { tab }))
export const loadCatalog = (id: string) => askJson<Catalog>(`${shotPath(id)}/catalog`)
export const sendEdit = (
  shot: string,
  sent: { readonly id: string; readonly baseRevision: number; readonly tab: string; readonly edit: Edit },
) => post<{ shot: Shot; revision: number; made: Made | null }>(`${shotPath(shot)}/edits`, withPerson(sent))
export interface Revision {
  readonly revision: number
  readonly label: string
  readonly tab: string
  readonly author: string | null
  readonly colour: LabelColour | null
  readonly createdAt: string
  /** what somebody called this state */
  readonly called: string | null
}
export const listRevisions = (id: string) => askJson<Revision[]>(`${shotPath(id)}/revisions`)
export const loadRevision = (id: string, revision: number) => askJson<Shot>(`${shotPath(id)}/revisions/${revision}`)
export const callRevision = (id: string, revision: number, called: string) =>
  post<object>(`${shotPath(id)}/revisions/${revision}`, { called })
export interface SourceVersion {
  readonly number: number
  readonly path: string
  readonly frames: Source['frames']
  readonly count: number
}
export const listVersions = (id: string, source: string) =>
  askJson<{ present: number | null; versions: SourceVersion[] }>(asked(`${shotPath(id)}/versions`, { source }))
export interface Replacement {
  readonly path: string
  readonly frames: Source['frames']
  readonly firstFile: FirstFile | null
  readonly changes: readonly string[]
}
export interface SourceParts {
  readonly source: string
  /** names of its parts; null for the only one of a file without */
  readonly parts: readonly (string | null)[]
}
/** The passes of each source, as its first file has them. */
export const listParts = (id: string) => askJson<SourceParts[]>(`${shotPath(id)}/parts`)
/** Sources whose files are not there, with files of the same names elsewhere in the media. */
export const listMissing = (id: string) => askJson<MissingSource[]>(`${shotPath(id)}/missing`)
/** @param files `path` as the shot writes it, or `chosen` as folders of media name it */
export const proposeReplacement = (
  id: string,
  source: string,
  files: { readonly path: string } | { readonly chosen: string },
) => askJson<Replacement>(asked(`${shotPath(id)}/replacement`, { source, ...files }))
export const listDeliveries = (id: string) => askJson<DeliveryStatus[]>(`${shotPath(id)}/deliveries`)
export const startDelivery = (id: string, wanted: WantedDelivery) =>
  post<DeliveryStatus>(`${shotPath(id)}/deliveries`, wanted)
const deliveryPath = (id: string) => `/api/deliveries/${id}`
export const listDeliveredFiles = (id: string) => askJson<DeliveredFile[]>(`${deliveryPath(id)}/files`)
export const deliveredFileUrl = (id: string, name: string) => `${deliveryPath(id)}/files/${encodeURIComponent(name)}`
export const archiveUrl = (id: string) => `${deliveryPath(id)}/archive`
export const removeDelivery = (id: string) => post<DeliveryStatus>(`${deliveryPath(id)}/remove`, {})
/** @param shot of this shot and of none; all when it is '' */
export const listWork = (shot: string) => askJson<WorkStatus[]>(shot ? asked('/api/work', { shot }) : '/api/work')
export const listOfferedShots = () => askJson<OfferedShot[]>('/api/demo-shots')
export const makeDemoShot = (name: string, small: boolean) =>
  post<WorkStatus>(`/api/demo-shots/${encodeURIComponent(name)}`, { small })
export const cancelWork = (id: string) => post<WorkStatus>(`/api/work/${id}/cancel`, {})
export const retryWork = (id: string) => post<WorkStatus>(`/api/work/${id}/retry`, {})
const computedPath = (shot: string) => `${shotPath(shot)}/computed`
export const listComputed = (shot: string) => askJson<ComputedElement[]>(computedPath(shot))
export const keepComputed = (shot: string, element: string) =>
  post<ComputedElement[]>(computedPath(shot), withAuthor({ element }))
export const letGoComputed = (shot: string, element: string) =>
  askJson<ComputedElement[]>(`${computedPath(shot)}/${encodeURIComponent(element)}`, {
    method: 'DELETE',
    headers: ownPage,
  })
/** @param at a pixel of the frame, whose objects are told too */
export const listObjects = (shot: string, source: string, frame: number, at?: { x: number; y: number }) =>
  askJson<ObjectPass[]>(
    asked(`${shotPath(shot)}/objects`, {
      source,
      frame: String(frame),
      ...(at ? { x: String(at.x), y: String(at.y) } : {}),
    }),
  )
const makingPath = (shot: string) => `${shotPath(shot)}/made-sources`
export const loadMaking = (shot: string) => askJson<MakingState[]>(makingPath(shot))
export const makeSource = (shot: string, source: string) =>
  post<MakingState[]>(makingPath(shot), withAuthor({ source }))
const madeFilesPath = (shot: string) => `${shotPath(shot)}/made-files`
export const loadMadeFiles = (shot: string) => askJson<MadeFilesState>(madeFilesPath(shot))
/** Files of sources that are in no shot any more. */
export const removeUnusedMadeFiles = (shot: string) =>
  askJson<MadeFilesState>(madeFilesPath(shot), { method: 'DELETE', headers: ownPage })
const readingsPath = (shot: string) => `${shotPath(shot)}/readings`
export const loadReadings = (shot: string) => askJson<ShotReadings>(readingsPath(shot))
export const readEveryFrame = (shot: string) => post<ShotReadings>(readingsPath(shot), withAuthor({}))
const matchingPath = (shot: string) => `${shotPath(shot)}/matching`
export const loadMatching = (shot: string) => askJson<ShotMatching>(matchingPath(shot))
/** @param gainFrom another shot of the series */
export const matchShot = (shot: string, gainFrom?: string) =>
  post<ShotMatching>(matchingPath(shot), withAuthor({ gainFrom }))
const asked = (path: string, values: Record<string, string>) => `${path}?${new URLSearchParams(values)}`
export const loadSolvedScene = (shot: string, source: string) =>
  askJson<SolvedScene>(asked(`${shotPath(shot)}/camera`, { source }))
/** @param focal null: as the plane's corners tell it */
export const loadPlaneCamera = (shot: string, region: string, focal: number | null) =>
  askJson<PlaneCamera>(
    asked(`${shotPath(shot)}/plane-camera`, { region, ...(focal === null ? {} : { focal: String(focal) }) }),
  )
export const loadReports = (id: string) => askJson<SourceReport[]>(`${shotPath(id)}/reports`)
export const browseMedia = (folder: string) => askJson<MediaFolder>(asked('/api/media', { folder }))
const fileValues = (path: string, frame: number | null) => ({
  path,
  ...(frame === null ? {} : { frame: String(frame) }),
})
export const mediaHeader = (path: string, frame: number | null) =>
  askJson<PictureHeader>(asked('/api/media/header', fileValues(path, frame)))
export const mediaPictureUrl = (path: string, frame: number | null) =>
  asked('/api/media/picture', fileValues(path, frame))
export const proposeSource = (id: string, path: string) =>
  askJson<Source>(asked(`${shotPath(id)}/proposed-source`, { path }))
export const importMovie = (path: string) => post<MovieStatus>('/api/media/movie', { path })
export const movieStatus = (path: string) => askJson<MovieStatus | null>(asked('/api/media/movie', { path }))
export const cancelMovie = (path: string) =>
  askJson<MovieStatus | null>(asked('/api/media/movie', { path }), { method: 'DELETE', headers: ownPage })
export const uploadsPath = '/api/uploads'
export const rankSource = (
  id: string,
  source: string,
  frame: number,
  trusted: string | null,
  patch: { readonly x: number; readonly y: number } | null,
) =>
  askJson<Wedge>(
    asked(`${shotPath(id)}/wedge`, {
      source,
      frame: String(frame),
      ...(trusted === null ? {} : { trusted }),
      ...(patch === null ? {} : { x: String(patch.x), y: String(patch.y) }),
    }),
  )
export const thumbnailUrl = ({ id, revision }: ShotSummary) => `${shotPath(id)}/thumbnail?revision=${revision}`
export const eventsUrl = (id: string) => `${shotPath(id)}/events`

/** Brings a source frame; the shot frame of a still is any frame. */
/** @throws ComputedGoneError when it was let go meanwhile */
async function fetchComputed(key: string, signal?: AbortSignal): Promise<SourceFrame> {
  try {
    const response = await ask(`/api/computed/${key}`, { signal })
    return decodeSourceFrame(await response.arrayBuffer())
  } catch (error) {
    if (error instanceof RefusedError && error.status === 404) throw new ComputedGoneError(key)
    throw error
  }
}

export async function fetchFrame(
  shot: string,
  anyFrame: number,
  request: FrameRequest,
  signal?: AbortSignal,
): Promise<SourceFrame> {
  if (request.computed !== undefined) return fetchComputed(request.computed, signal)
  const query = new URLSearchParams({
    source: request.source,
    path: request.path,
    frame: String(request.frame ?? anyFrame),
    takes: request.takes,
    encoding: request.claims.encoding,
    primaries: request.claims.primaries,
    working: request.working,
    alpha: request.claims.alpha,
    reduce: String(request.reduce),
    framing: request.framing,
    width: String(request.frameSize.width),
    height: String(request.frameSize.height),
  })
  if (request.channels) query.set('channels', JSON.stringify(request.channels))
  if (request.part !== null) query.set('part', request.part)
  if (request.greenUp) query.set('green', 'up')
  if (request.ids) query.set('ids', JSON.stringify(request.ids))
  const response = await ask(`${shotPath(shot)}/frame?${query}`, { signal })
  return decodeSourceFrame(await response.arrayBuffer())
}
