/** Which program this is: workers of another build take no work of this one, since they might make other pixels of it. */

import { createHash } from 'node:crypto'
import { readdir, readFile } from 'node:fs/promises'

/** @param built folder of the built programs; the kernels lie beside it */
export async function buildHash(built: URL): Promise<string> {
  const hash = createHash('sha256')
  const names = (await readdir(built, { recursive: true })).filter((name) => name.endsWith('.mjs')).sort()
  for (const name of names) hash.update(name).update(await readFile(new URL(name, built)))
  hash.update(await readFile(new URL('../kernels/kernels.wasm', built)))
  return hash.digest('hex').slice(0, 16)
}
