/** Failures that may be gone at the next try: too many open files, a lost connection, a file system that was busy. */

const passingCodes = new Set([
  'EAGAIN',
  'EBUSY',
  'ECONNRESET',
  'EIO',
  'EMFILE',
  'ENFILE',
  'EPIPE',
  'ESTALE',
  'ETIMEDOUT',
])

export function isPassing(error: unknown): boolean {
  return error instanceof Error && passingCodes.has(String((error as NodeJS.ErrnoException).code))
}

/** Of PostgreSQL: shut down, crashed, starting (Appendix A, class 57); and connections that end or are refused. */
const awayCodes = new Set([
  '57P01',
  '57P02',
  '57P03',
  '08000',
  '08003',
  '08006',
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ENOENT',
])

export function isDatabaseAway(error: unknown): boolean {
  if (!(error instanceof Error)) return false
  const { name, message, original } = error as Error & { readonly original?: { readonly code?: unknown } }
  return (
    /^SequelizeConnection|^SequelizeHostNotReachable/.test(name) ||
    awayCodes.has(String(original?.code)) ||
    /connection terminated|connection ended|client has encountered a connection error/i.test(message)
  )
}
