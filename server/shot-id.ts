/** The shot that an address names. */

import type { Request } from 'express'

export const shotId = (request: Request) => String(request.params.id)
