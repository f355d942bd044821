/** Shots in the database: every edit is saved as made, as a revision; edits from two tabs meet here. */

import { readdir, readFile } from 'node:fs/promises'
import { basename, dirname, join } from 'node:path'
import { isDeepStrictEqual } from 'node:util'
import { applyPatches } from 'immer'
import { LRUCache } from 'lru-cache'
import { Op, type Sequelize, type Transaction } from 'sequelize'
import {
  applyEdit,
  ImpossibleEditError,
  InvalidShotError,
  outlineOf,
  overlap,
  parseShot,
  sequenceOf,
  mostUndo,
  takeBack,
  undoStacks,
  type Edit,
  type Edited,
  type Made,
  type Rational,
  type Shot,
  type ShotOutline,
  type TabEdit,
} from '../../core/shot'
import type { Models, RevisionRow, ShotRow } from '../database/models'

export interface SavedShot {
  readonly shot: Shot
  readonly revision: number
  /** what the edit did; null when it changed nothing */
  readonly made: Made | null
}

/** An edit as a tab sends it. */
export interface SentEdit {
  /** random; sent twice, the edit counts once */
  readonly id: string
  readonly edit: Edit
  readonly tab: string
  /** what the person is called */
  readonly author?: string
  /** by which that person is told from others */
  readonly colour?: string
  /** the revision the tab had when it made the edit */
  readonly baseRevision: number
}

/** There is no such shot, or no such revision of it. */
export class NoSuchShotError extends Error {
  override readonly name = 'NoSuchShotError'
}

/** Another tab changed the same thing since; nothing was saved. */
export class ConflictingEditError extends Error {
  override readonly name = 'ConflictingEditError'
  constructor(
    message: string,
    readonly current: { readonly shot: Shot; readonly revision: number },
  ) {
    super(message)
  }
}

/** Another shot has the name. */
export class NameTakenError extends Error {
  override readonly name = 'NameTakenError'

  constructor(name: string, { removed, archived }: { readonly removed: boolean; readonly archived: boolean }) {
    const of = removed ? 'a shot that was removed' : archived ? 'a shot that is archived' : 'another shot'
    super(
      `The name ${name} is taken by ${of}. Choose another name${removed ? ', or bring that shot back from the list' : ''}.`,
    )
  }
}

/** A line of the list; `fault` says why the document cannot be read. */
export type ListedShot = Pick<
  ShotRow,
  'id' | 'name' | 'folder' | 'revision' | 'author' | 'archived' | 'removed' | 'updatedAt'
> & { readonly outline: ShotOutline | null; readonly fault: string | null }

/** A whole document is kept with every so many revisions; those between are made by patches. */
const revisionsPerDocument = 50
const uuid = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i
const largestRevision = 2 ** 31 - 1

const noSuchShot = 'There is no such shot. Open the list of shots and choose one.'

interface LockedShot {
  readonly id: string
  readonly revision: number
  readonly shot: Shot
  /** of the document in the row */
  readonly schema: unknown
}

export class ShotStore {
  /** Documents are read and migrated once a revision; `schema` is that of the row. */
  private readonly documents = new LRUCache<string, { readonly shot: Shot; readonly schema: unknown }>({ max: 50 })

  private readonly beingFound = new Map<string, Promise<ShotRow>>()

  constructor(
    private readonly sequelize: Sequelize,
    private readonly models: Models,
  ) {}

  /** Every shot without its document; outlines that are not known yet are made. */
  async list(): Promise<ListedShot[]> {
    const rows = await this.models.shots.findAll({
      attributes: { exclude: ['document', 'file'] },
      order: [['name', 'ASC']],
      raw: true,
    })
    const listed: ListedShot[] = []
    for (const row of rows) listed.push({ ...row, ...(row.outline ? { fault: null } : await this.outlined(row)) })
    return listed
  }

  private async outlined({ id }: ShotRow): Promise<Pick<ListedShot, 'outline' | 'fault'>> {
    const row = await this.find(id)
    try {
      const outline = outlineOf(this.documentOf(row))
      // Not a change of the shot: the time of its last change stays.
      await row.update({ outline }, { silent: true })
      return { outline, fault: null }
    } catch (error) {
      return { outline: null, fault: error instanceof Error ? error.message : String(error) }
    }
  }

  /**
   * A shot that was not there before.
   *
   * @param folder absolute: paths in the document are relative to it
   * @param label what the first revision is called
   * @throws NameTakenError
   */
  async create(shot: Shot, folder: string, label: string, author?: string): Promise<ShotRow> {
    return this.sequelize.transaction(async (transaction) => {
      await this.refuseTaken(shot.name, null, transaction)
      const row = await this.models.shots.create(
        { name: shot.name, folder, revision: 1, document: shot, outline: outlineOf(shot), author: author ?? null },
        { transaction },
      )
      const first = { shotId: row.id, revision: 1, label, tab: 'server', patches: [], document: shot }
      await this.models.revisions.create({ ...first, author: author ?? null }, { transaction })
      return row
    })
  }

  /** Names are taken one at a time. @param own the shot that may have it @throws NameTakenError */
  private async refuseTaken(name: string, own: string | null, transaction: Transaction): Promise<void> {
    await this.sequelize.query('SELECT pg_advisory_xact_lock(hashtext(:name))', {
      replacements: { name: `adopt ${name}` },
      transaction,
    })
    const taken = await this.models.shots.findOne({
      where: { name, ...(own === null ? {} : { id: { [Op.ne]: own } }) },
      attributes: ['removed', 'archived'],
      transaction,
    })
    if (taken) throw new NameTakenError(name, taken)
  }

  /** The same again under another name, with the same grain. @throws NoSuchShotError, NameTakenError */
  async duplicate(id: string, name: string, author?: string): Promise<ShotRow> {
    const row = await this.find(id)
    return this.create({ ...this.documentOf(row), name }, row.folder, `Copied from ${row.name}`, author)
  }

  /** @throws NoSuchShotError */
  async putAway(id: string, change: { readonly archived?: boolean; readonly removed?: boolean }): Promise<void> {
    const row = await this.find(id)
    await row.update(change, { silent: true })
  }

  /** Rates that shots of a sequence have; null where it has none, or several. */
  async rateOf(sequence: string): Promise<Rational | null> {
    const rates = (await this.list()).flatMap(({ name, outline, removed }) =>
      outline && !removed && sequenceOf(name) === sequence ? [outline.rate] : [],
    )
    const [first] = rates
    return first && rates.every((rate) => isDeepStrictEqual(rate, first)) ? first : null
  }

  /** @throws NoSuchShotError */
  async find(id: string, transaction?: Transaction): Promise<ShotRow> {
    const options = transaction && { transaction, lock: transaction.LOCK.UPDATE }
    const row = uuid.test(id) ? await this.models.shots.findByPk(id, options) : null
    if (!row) throw new NoSuchShotError(noSuchShot)
    return row
  }

  /**
   * As `find`, for the many files of one picture, which are asked for at the same moment: they share one question to the
   * database. An edit that was acknowledged before is always in the answer.
   *
   * @throws NoSuchShotError
   */
  findTogether(id: string): Promise<ShotRow> {
    const asked = this.beingFound.get(id)
    if (asked) return asked
    const asking = this.find(id).finally(() => {
      if (this.beingFound.get(id) === asking) this.beingFound.delete(id)
    })
    this.beingFound.set(id, asking)
    return asking
  }

  /** For the command line, where people write names. @throws NoSuchShotError */
  async findByName(name: string): Promise<ShotRow> {
    const row = await this.models.shots.findOne({ where: { name } })
    if (!row) throw new NoSuchShotError(`There is no shot "${name}". Open the list of shots and choose one.`)
    return row
  }

  /** The document of a row, in the present schema. @throws InvalidShotError when it cannot be read */
  documentOf({ id, name, revision, document }: ShotRow): Shot {
    const key = `${id} ${revision}`
    let known = this.documents.get(key)
    if (!known) {
      known = { shot: parseShot(document, name), schema: (document as { schema?: unknown }).schema }
      this.documents.set(key, known)
    }
    return known.shot
  }

  /** The shot as it is, its row locked: of a shot that is being worked on the document is not read again. */
  private async locked(id: string, transaction: Transaction): Promise<LockedShot> {
    const options = { transaction, lock: transaction.LOCK.UPDATE, attributes: ['id', 'revision'], raw: true }
    const row = uuid.test(id) ? await this.models.shots.findByPk(id, options) : null
    if (!row) throw new NoSuchShotError(noSuchShot)
    const key = `${id} ${row.revision}`
    if (!this.documents.has(key)) this.documentOf(await this.find(id, transaction))
    const known = this.documents.get(key)
    if (!known) throw new Error(`Revision ${row.revision} of ${id} is not the one that was locked.`)
    return { id, revision: row.revision, ...known }
  }

  /** Takes in a shot file; a shot that somebody has worked on stays as it is. @returns whether it is new */
  async adopt(file: string): Promise<boolean> {
    const shot = await readShotFile(file)
    return this.sequelize.transaction(async (transaction) => {
      // Two servers, or two requests, that find the same new file take it in once.
      await this.sequelize.query('SELECT pg_advisory_xact_lock(hashtext(:file))', {
        replacements: { file: `adopt ${shot.name}` },
        transaction,
      })
      const known = await this.knownAs(file, shot.name, transaction)
      if (known) return this.adoptAgain(known, file, shot, transaction)
      const { id } = await this.models.shots.create(
        { name: shot.name, folder: dirname(file), file, revision: 1, document: shot, outline: outlineOf(shot) },
        { transaction },
      )
      await this.models.revisions.create(
        {
          shotId: id,
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

  /** The shot that was taken in from a file; of a file that was moved, the one of its name. */
  private async knownAs(file: string, name: string, transaction: Transaction): Promise<ShotRow | null> {
    const byFile = await this.models.shots.findOne({ where: { file }, transaction, lock: transaction.LOCK.UPDATE })
    return byFile ?? this.models.shots.findOne({ where: { name }, transaction, lock: transaction.LOCK.UPDATE })
  }

  private async adoptAgain(known: ShotRow, file: string, shot: Shot, transaction: Transaction): Promise<false> {
    if (known.folder !== dirname(file) || known.file !== file)
      await known.update({ folder: dirname(file), file }, { transaction })
    if (known.revision > 1) return this.warnOfDifference(file, shot, known)
    if (isDeepStrictEqual(known.document, shot)) return false
    // Nobody has worked on it yet, so the newer file counts.
    await known.update({ document: shot, name: shot.name, outline: outlineOf(shot) }, { transaction })
    await this.models.revisions.update({ document: shot }, { where: { shotId: known.id, revision: 1 }, transaction })
    this.documents.delete(`${known.id} 1`)
    return false
  }

  /** The database counts once somebody has worked on a shot; but media of another size or length must not pass unsaid. */
  private warnOfDifference(file: string, shot: Shot, known: ShotRow): false {
    const own = this.documentOf(known)
    if (isDeepStrictEqual([shot.frames, shot.frameSize], [own.frames, own.frameSize])) return false
    throw new InvalidShotError(basename(file), [
      `its frame range or size is not that of the shot in the database, which has been worked on (revision ${known.revision})`,
      'give the file another name and shot name to take it in as a new shot',
    ])
  }

  /**
   * Applies and saves one edit. Sent again, it answers as it did: nothing is applied twice.
   *
   * @throws ConflictingEditError when another tab has changed the same place since; other changes are merged
   * @throws ImpossibleEditError when what it names is gone, or it would break a rule
   */
  async edit(id: string, sent: SentEdit): Promise<SavedShot> {
    const saved = await this.sequelize.transaction(async (transaction) => {
      const current = await this.locked(id, transaction)
      const { shot, revision } = current
      const before = await this.madeBy(id, sent.id, transaction)
      if (before) return { shot, revision, made: madeOf(before) }
      const edited = await this.applied(current, sent.edit, transaction)
      if (edited.patches.length === 0) return { shot, revision, made: null }
      if (sent.edit.kind !== 'undo') await this.refuseRival(current, edited, sent, transaction)
      return this.saved(current, edited, sent, transaction)
    })
    // What is being read may have been asked before the edit was there.
    this.beingFound.delete(id)
    return saved
  }

  private async applied({ id, shot }: LockedShot, edit: Edit, transaction: Transaction): Promise<Edited> {
    if (edit.kind !== 'undo') return applyEdit(shot, edit)
    const made = await this.madeBy(id, edit.edit, transaction)
    const known = made && madeOf(made)
    if (!known) throw new ImpossibleEditError('What should be taken back is not in the history of this shot.')
    return takeBack(shot, known)
  }

  private madeBy(shotId: string, editId: string, transaction: Transaction): Promise<RevisionRow | null> {
    return this.models.revisions.findOne({
      where: { shotId, editId },
      attributes: ['label', 'patches', 'inverse'],
      transaction,
    })
  }

  private async refuseRival(
    { id: shotId, shot, revision }: LockedShot,
    { label, patches }: Edited,
    { baseRevision, tab }: SentEdit,
    transaction: Transaction,
  ): Promise<void> {
    if (baseRevision >= revision) return
    const since = await this.models.revisions.findAll({
      where: { shotId, revision: { [Op.gt]: baseRevision }, tab: { [Op.ne]: tab } },
      attributes: ['revision', 'label', 'patches'],
      transaction,
    })
    const rival = since.find((other) => overlap(patches, other.patches) !== null)
    if (rival)
      throw new ConflictingEditError(
        `${label} was not saved: another tab changed the same value meanwhile (${rival.label}, revision ${rival.revision}).`,
        { shot, revision },
      )
  }

  private async saved(
    current: LockedShot,
    { shot, label, patches, inverse }: Edited,
    { id: editId, edit, tab, author, colour }: SentEdit,
    transaction: Transaction,
  ): Promise<SavedShot> {
    const { id: shotId, revision: before, schema } = current
    const revision = before + 1
    // Revisions before the first of a new schema have whole documents of the old one.
    const full = schema !== shot.schema || revision % revisionsPerDocument === 0
    if (shot.name !== current.shot.name) await this.refuseTaken(shot.name, shotId, transaction)
    await this.models.shots.update(
      {
        document: shot,
        name: shot.name,
        outline: outlineOf(shot),
        revision,
        ...(author === undefined ? {} : { author }),
      },
      { where: { id: shotId }, transaction, returning: false },
    )
    await this.models.revisions.create(
      {
        shotId,
        revision,
        label,
        tab,
        author: author ?? null,
        colour: colour ?? null,
        editId,
        undoes: edit.kind === 'undo' ? edit.edit : null,
        patches: [...patches],
        inverse: [...inverse],
        document: full ? shot : null,
      },
      { transaction },
    )
    transaction.afterCommit(() => void this.documents.set(`${shotId} ${revision}`, { shot, schema: shot.schema }))
    return { shot, revision, made: { label, patches, inverse } }
  }

  /** The newest first. */
  history(
    shotId: string,
    most = 200,
  ): Promise<Pick<RevisionRow, 'revision' | 'label' | 'tab' | 'author' | 'colour' | 'createdAt' | 'called'>[]> {
    return this.models.revisions.findAll({
      where: { shotId },
      order: [['revision', 'DESC']],
      limit: most,
      attributes: ['revision', 'label', 'tab', 'author', 'colour', 'createdAt', 'called'],
    })
  }

  /** @param called empty: it has no name any more @throws NoSuchShotError */
  async callRevision({ id: shotId, name }: ShotRow, revision: number, called: string): Promise<void> {
    const known = Number.isInteger(revision) && revision >= 1 && revision <= largestRevision
    const [changed] = known
      ? await this.models.revisions.update({ called: called || null }, { where: { shotId, revision } })
      : [0]
    if (changed === 0) throw new NoSuchShotError(`${name} has no revision ${revision}.`)
  }

  /** What a tab can take back, and make again, as far as the history of its edits tells. */
  async undoOf(shotId: string, tab: string): Promise<{ past: readonly TabEdit[]; future: readonly TabEdit[] }> {
    const rows = await this.models.revisions.findAll({
      where: { shotId, tab, editId: { [Op.ne]: null }, inverse: { [Op.ne]: null } },
      order: [['revision', 'DESC']],
      limit: mostUndo,
      attributes: ['editId', 'undoes', 'label', 'patches', 'inverse'],
    })
    const edits = rows.reverse().map(({ editId, undoes, label, patches, inverse }): TabEdit => ({
      edit: editId as string,
      undoes: undoes ?? null,
      label,
      patches,
      inverse: inverse ?? [],
    }))
    return undoStacks(edits)
  }

  /** A shot as it was: the last whole document before, and the patches since. @throws NoSuchShotError */
  async atRevision({ id: shotId, name }: ShotRow, revision: number): Promise<Shot> {
    const none = new NoSuchShotError(`${name} has no revision ${revision}.`)
    if (!Number.isInteger(revision) || revision < 1 || revision > largestRevision) throw none
    const full = await this.models.revisions.findOne({
      where: { shotId, revision: { [Op.lte]: revision }, document: { [Op.ne]: null } },
      order: [['revision', 'DESC']],
    })
    const since = await this.models.revisions.findAll({
      where: { shotId, revision: { [Op.gt]: full?.revision ?? 0, [Op.lte]: revision } },
      order: [['revision', 'ASC']],
      attributes: ['revision', 'patches'],
    })
    if (!full || (since.at(-1)?.revision ?? full.revision) !== revision) throw none
    const start = parseShot(full.document, `Revision ${full.revision} of ${name}`)
    return since.reduce((shot, { patches }) => applyPatches(shot, patches), start)
  }
}

function madeOf({ label, patches, inverse }: RevisionRow): Made | null {
  return inverse ? { label, patches, inverse } : null
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
    const names = await readdir(folder).catch(() => [] as string[])
    for (const name of names) if (name.endsWith('.shot.json')) files.push(join(folder, name))
  }
  return files.sort()
}
