/** The files of sources that are made here: how much room they take, whose they are, and taking away those of no source any more. */

import { readdir, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import type { Models } from '../database/models'
import type { MadeFilesState } from '../../core/work'
import { unfinishedMark } from '../delivery/write-whole'
import { HeldUpError } from '../work/kind'

/** Below the folder of a shot: a folder for every source, named by its id. */
export const madeFolder = 'made'
const waitSeconds = 30

/** Only folders that are named like a source, and hold nothing but pictures, are taken to be made here. */
const madeName = /^[0-9a-f]{20}$/
const madeFile = /\.exr$/

interface SourcesOfShot {
  readonly byId: Readonly<Record<string, { readonly path?: unknown }>>
}
/** Sources of all shots in the folder of one, since they share what is made there. */
export type SourcesIn = (folder: string) => Promise<readonly SourcesOfShot[]>

export class MadeFiles {
  /** @param most bytes that made files of one folder may take */
  constructor(
    private readonly sourcesIn: SourcesIn,
    readonly most: number,
  ) {}

  async state(folder: string): Promise<MadeFilesState> {
    const sizes = await this.sizes(folder)
    const bytes = sizes.reduce((sum, one) => sum + one.bytes, 0)
    const unused = sizes.reduce((sum, one) => sum + (one.used ? 0 : one.bytes), 0)
    return { bytes, unused, most: this.most }
  }

  /** A source that comes back by an undo is made again. */
  async removeUnused(folder: string): Promise<MadeFilesState> {
    for (const { name, used } of await this.sizes(folder))
      if (!used) await rm(join(folder, madeFolder, name), { recursive: true, force: true })
    return this.state(folder)
  }

  /** @throws HeldUpError while there is no room for more */
  async refuseFull(folder: string, shot: string): Promise<void> {
    const { bytes, unused, most } = await this.state(folder)
    if (bytes < most) return
    const inGigabytes = (value: number) => `${(value / 1e9).toFixed(value < 1e9 ? 3 : 1)} GB`
    throw new HeldUpError(
      `What was made for ${shot} takes ${inGigabytes(bytes)}, of ${inGigabytes(most)} that it may take (ENKRASIS_MADE_GB). ${
        unused > 0
          ? 'Remove what is of no source any more, in the drawer of the sources.'
          : 'Remove sources that are made here and not needed, and then their files, in the drawer of the sources.'
      }`,
      waitSeconds,
    )
  }

  private async sizes(folder: string) {
    const sources = (await this.sourcesIn(folder)).flatMap(({ byId }) => Object.entries(byId))
    const names = (await readdir(join(folder, madeFolder)).catch(() => [])).filter((name) => madeName.test(name))
    const sizes = await Promise.all(
      names.map(async (name) => ({
        name,
        used: sources.some(([id, { path }]) => id === name || String(path).startsWith(`${madeFolder}/${name}/`)),
        bytes: await bytesOfPictures(join(folder, madeFolder, name)),
      })),
    )
    return sizes.flatMap(({ bytes, ...rest }) => (bytes === null ? [] : [{ ...rest, bytes }]))
  }
}

/** @returns null where something else than pictures lies there too */
async function bytesOfPictures(folder: string): Promise<number | null> {
  const entries = await readdir(folder, { withFileTypes: true }).catch(() => [])
  if (entries.some((entry) => !entry.isFile() || !(madeFile.test(entry.name) || entry.name.includes(unfinishedMark))))
    return null
  const sizes = await Promise.all(
    entries.map(({ name }) =>
      stat(join(folder, name)).then(
        ({ size }) => size,
        () => 0,
      ),
    ),
  )
  return sizes.reduce((sum, size) => sum + size, 0)
}

/** By the database. Only documents of the present schema have sources that are made here. */
export const sourcesBy =
  ({ shots }: Pick<Models, 'shots'>): SourcesIn =>
  async (folder) => {
    const rows = await shots.findAll({ where: { folder }, attributes: ['document'] })
    return rows.map(({ document }) => {
      const { sources } = document as { readonly sources?: Partial<SourcesOfShot> }
      return { byId: sources?.byId ?? {} }
    })
  }
