/** What an error answers: each class of trouble that whoever asks can do something about has its status and its sentence. */

import type { ErrorRequestHandler } from 'express'
import { UnreadableFrameError } from './media/frame-readers'
import { ConflictingEditError } from './shots/shot-store'

/** By class name, since errors lose their class between threads. */
const statuses: Readonly<Record<string, number>> = {
  NoSuchShotError: 404,
  MissingFileError: 404,
  OutsideMediaError: 403,
  ConflictingEditError: 409,
  NameTakenError: 409,
  ChangedFileError: 409,
  ValidationError: 422,
  InvalidShotError: 422,
  ImpossibleEditError: 422,
  ImpossibleDeliveryError: 422,
  ImpossibleShotError: 422,
  TooManyClipsError: 422,
  UnplannedError: 422,
  LinesTellNothingError: 422,
  ChartTellsNothingError: 422,
  NoSuchDeliveryError: 404,
  RemovedDeliveryError: 409,
  NoSuchWorkError: 404,
  NoSuchDemoShotError: 404,
  NoSuchComputedError: 404,
  CannotBeMadeError: 422,
  ImpossibleToKeepError: 422,
  DamagedExrError: 422,
  UnsupportedExrError: 422,
  NotInExrError: 422,
  NoSuchChannelsError: 422,
  DamagedDpxError: 422,
  UnsupportedDpxError: 422,
  DamagedPictureError: 422,
  UnknownFormatError: 422,
  UnreadableMovieError: 422,
  UnusableTableError: 422,
  UnusableCameraError: 422,
  NoCameraToldError: 422,
  StoppingError: 503,
  UnwantedFrameError: 499,
}

/** What Express itself refuses: an address that cannot be decoded, a body that is too large or of another encoding. */
function isClientError(error: unknown): error is Error & { readonly status: number } {
  const status = error instanceof Error ? (error as { status?: unknown }).status : undefined
  return typeof status === 'number' && status >= 400 && status < 500
}

export const answerErrors: ErrorRequestHandler = (error: unknown, _request, response, _next) => {
  if (response.headersSent) {
    response.end()
    return
  }
  const message = error instanceof Error ? error.message : String(error)
  const kind = error instanceof UnreadableFrameError ? error.kind : error instanceof Error ? error.name : ''
  if (Object.hasOwn(statuses, kind))
    response
      .status(statuses[kind])
      .json(error instanceof ConflictingEditError ? { message, current: error.current } : { message })
  else if (error instanceof SyntaxError) response.status(400).json({ message: `The request is not JSON: ${message}.` })
  else if (isClientError(error))
    response.status(error.status).json({ message: `The request cannot be read: ${message}.` })
  else {
    console.error(error)
    response.status(500).json({ message: `The server failed: ${message}.` })
  }
}
