/**
 * The door: the server answers only requests that name it, changes something only for its own page, and lets that page run
 * nothing but its own scripts.
 */

import type { RequestHandler } from 'express'
import { ownPageHeader } from '../formats/wire/own-page'

const loopback = ['localhost', '127.0.0.1', '[::1]']

function hostOf(address: string): string | null {
  try {
    return new URL(address).host
  } catch {
    return null
  }
}

const nameOf = (host: string) => host.replace(/:\d+$/, '').toLowerCase()

const policy = [
  "default-src 'self'",
  // WebAssembly is compiled; nothing is evaluated and no script stands in the page.
  "script-src 'self' 'wasm-unsafe-eval'",
  "worker-src 'self'",
  // The components' styles are made while the page runs.
  "style-src 'self' 'unsafe-inline'",
  "img-src 'self' data: blob:",
  "font-src 'self'",
  "connect-src 'self'",
  "object-src 'none'",
  "base-uri 'none'",
  "form-action 'none'",
  "frame-ancestors 'none'",
].join('; ')

/** @param names besides those of this machine itself, by which the server may be called */
export function guard(names: readonly string[]): RequestHandler {
  const known = new Set([...loopback, ...names.map((name) => name.toLowerCase())])
  return (request, response, next) => {
    response.set({
      // SharedArrayBuffer is only given to isolated pages.
      'Cross-Origin-Opener-Policy': 'same-origin',
      'Cross-Origin-Embedder-Policy': 'require-corp',
      'Cross-Origin-Resource-Policy': 'same-origin',
      'Content-Security-Policy': policy,
      'X-Content-Type-Options': 'nosniff',
      'Referrer-Policy': 'same-origin',
    })
    const refuse = (message: string) => void response.status(403).json({ message })
    const { host = '', origin } = request.headers
    if (!known.has(nameOf(host)))
      return refuse(
        `This server is not called "${nameOf(host)}". Open it by the address that it printed, or add the name to ENKRASIS_NAMES.`,
      )
    if (origin !== undefined && hostOf(origin) !== host.toLowerCase())
      return refuse(`Pages of ${origin} may not ask this server.`)
    const changes = !['GET', 'HEAD', 'OPTIONS'].includes(request.method)
    if (changes && request.headers[ownPageHeader] === undefined)
      return refuse(`Only Enkrasis’s own page may change something. Programs send the header "${ownPageHeader}: 1".`)
    next()
  }
}
