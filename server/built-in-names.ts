/**
 * Names that every JavaScript object has of itself (`valueOf`, `constructor`, `__proto__`). A request that uses one as a name
 * of its own is refused at the door: libraries that look names up in plain objects find the built-in thing instead.
 */

import type { RequestHandler } from 'express'

/** Answered as every request that cannot be read is. */
export class BuiltInNameError extends Error {
  override readonly name = 'BuiltInNameError'
  readonly status = 400

  constructor(name: string) {
    super(`it uses the name "${name}", which means nothing here and has to be left out`)
  }
}

function refuseBuiltIn(name: string): void {
  if (name in Object.prototype) throw new BuiltInNameError(name)
}

/** For `JSON.parse`. @throws BuiltInNameError */
export function refuseBuiltInNames(name: string, value: unknown): unknown {
  refuseBuiltIn(name)
  return value
}

/** The same for what stands behind the question mark of an address. */
export const refuseBuiltInQuery: RequestHandler = (request, _response, next) => {
  Object.keys(request.query).forEach(refuseBuiltIn)
  next()
}
