/** Names of files that others choose. */

import { basename } from 'node:path'

/** Letters, digits, dots, dashes and underscores, nothing that leads elsewhere. */
export function safeName(given: string): string {
  const name = basename(given.replaceAll('\\', '/'))
    .replace(/[^\w.-]+/g, '_')
    .replace(/^\.+/, '')
  return name === '' ? 'unnamed' : name.slice(0, 180)
}
