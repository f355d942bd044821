/** Shots in the database: every edit is saved as made, as a revision; edits from two tabs meet here. */

import { readdir, readFile } from 'node:fs/promises'
import { basename, dirname, join } from 'node:path'
import { isDeepStrictEqual } from 'node:util'
import type { Sequelize } from 'sequelize'
import { Op } from 'sequelize'
import { applyEdit, describeEdit, InvalidShotError, overlap, parseShot, type Edit, type Shot } from '../../core/shot'
import type { Models, ShotRow } from '../database/models'

export interface SavedShot {
  readonly shot: Shot
  readonly revision: number
}

/** There is no such shot. */
export class NoSuchShotError extends Error {
  override readonly name = 'NoSuchShotError'
}

/** Another tab changed the same thing since; nothing was saved. */
export class ConflictingEditError extends Error {
  override readonly name = 'ConflictingEditError'
  constructor(
    message: string,
    readonly current: SavedShot,
  ) {
    super(message)
  }
}

export class ShotStore {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly models: Models,
  ) {}

  list(): Promise<ShotRow[]> {
    return this.models.shots.findAll({ order: [['name', 'ASC']] })
  }

  async find(name: string): Promise<ShotRow> {
    const row = await this.models.shots.findByPk(name)
    if (!row) throw new NoSuchShotError(`There is no shot "${name}". Open the list of shots and choose one.`)
    return row
  }

  /** Takes in a shot file; a shot that is already in the database stays as it is. @returns whether it is new */
  async adopt(file: string): Promise<boolean> {
    const shot = await readShotFile(file)
    return this.sequelize.transaction(async (transaction) => {
      const known = await this.models.shots.findByPk(shot.name, { transaction })
      if (known) {
        if (known.folder !== dirname(file)) await known.update({ folder: dirname(file) }, { transaction })
        if (isDeepStrictEqual(known.document, shot)) return false
        if (known.revision > 1) return warnOfDifference(file, shot, known)
        // Nobody has worked on it yet, so the newer file counts.
        await known.update({ document: shot }, { transaction })
        await this.models.revisions.update(
          { document: shot },
          { where: { shotName: shot.name, revision: 1 }, transaction },
        )
        return false
      }
      await this.models.shots.create(
        { name: shot.name, folder: dirname(file), revision: 1, document: shot },
        { transaction },
      )
      await this.models.revisions.create(
        {
          shotName: shot.name,
          revision: 1,
          label: `Taken in from ${basename(file)}`,
          tab: 'server',
          patches: [],
          document: shot,
        },
        { transaction },
      )
      return true
    })
  }

  /**
   * Applies and saves one edit.
   *
   * @param baseRevision the revision the tab had when it made the edit
   * @throws ConflictingEditError when another tab has changed the same place since; other changes are merged
   */
  async edit(name: string, baseRevision: number, tab: string, edit: Edit): Promise<SavedShot> {
    return this.sequelize.transaction(async (transaction) => {
      const row = await this.models.shots.findByPk(name, { transaction, lock: transaction.LOCK.UPDATE })
      if (!row) throw new NoSuchShotError(`There is no shot "${name}". Open the list of shots and choose one.`)
      const current = { shot: row.document, revision: row.revision }
      const edited = applyEdit(row.document, edit)
      const label = describeEdit(row.document, edit)
      const since = await this.models.revisions.findAll({
        where: { shotName: name, revision: { [Op.gt]: baseRevision }, tab: { [Op.ne]: tab } },
        transaction,
      })
      const rival = since.find((revision) => overlap(edited.patches, revision.patches) !== null)
      if (rival)
        throw new ConflictingEditError(
          `${label} was not saved: another tab changed the same value meanwhile (${rival.label}, revision ${rival.revision}).`,
          current,
        )
      const shot = parseShot(edited.shot, `The edit "${label}" of ${name}`)
      if (edited.patches.length === 0) return current
      const revision = row.revision + 1
      await row.update({ document: shot, revision }, { transaction })
      await this.models.revisions.create(
        { shotName: name, revision, label, tab, patches: [...edited.patches], document: shot },
        { transaction },
      )
      return { shot, revision }
    })
  }

  /** The newest first. */
  history(name: string, most = 200): Promise<{ revision: number; label: string; tab: string; createdAt: Date }[]> {
    return this.models.revisions.findAll({
      where: { shotName: name },
      order: [['revision', 'DESC']],
      limit: most,
      attributes: ['revision', 'label', 'tab', 'createdAt'],
    })
  }

  async atRevision(name: string, revision: number): Promise<Shot> {
    const row = await this.models.revisions.findOne({ where: { shotName: name, revision } })
    if (!row) throw new NoSuchShotError(`${name} has no revision ${revision}.`)
    return row.document
  }
}

/** The database counts once somebody has worked on a shot; but media of another size or length must not pass unsaid. */
function warnOfDifference(file: string, shot: Shot, known: ShotRow): false {
  const sameFrames = isDeepStrictEqual([shot.frames, shot.frameSize], [known.document.frames, known.document.frameSize])
  if (sameFrames) return false
  throw new InvalidShotError(basename(file), [
    `its frame range or size is not that of the shot in the database, which has been worked on (revision ${known.revision})`,
    'give the file another name and shot name to take it in as a new shot',
  ])
}

/** @throws InvalidShotError when the file is no shot document */
export async function readShotFile(file: string): Promise<Shot> {
  let text: string
  try {
    text = await readFile(file, 'utf8')
  } catch (error) {
    throw new InvalidShotError(file, [`it cannot be read (${(error as NodeJS.ErrnoException).code ?? String(error)})`])
  }
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch (error) {
    throw new InvalidShotError(file, [`it is not JSON (${error instanceof Error ? error.message : String(error)})`])
  }
  return parseShot(value, basename(file))
}

/** @returns every shot file in the media root and its folders, one level deep */
export async function findShotFiles(mediaRoot: string): Promise<string[]> {
  const files: string[] = []
  for (const entry of await readdir(mediaRoot, { withFileTypes: true })) {
    if (!entry.isDirectory()) continue
    const folder = join(mediaRoot, entry.name)
    for (const name of await readdir(folder)) if (name.endsWith('.shot.json')) files.push(join(folder, name))
  }
  return files.sort()
}
