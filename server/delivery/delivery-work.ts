/** Work of the kind `delivery`: a frame an item, and a last item that makes movies and proofs of frames that are all there. */

import { existsSync } from 'node:fs'
import { readdir, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import { LRUCache } from 'lru-cache'
import { object, string } from 'yup'
import { fileName, versionName } from '../../core/delivery'
import type { Engine } from '../../core/engine/engine'
import { filesIn } from '../../core/plan/catalog'
import { PlanMemo } from '../../core/plan/memo'
import { unmadeAt } from '../../core/plan/unmade'
import { parseShot, type Shot } from '../../core/shot'
import type { DeliveryRow, Models, ShotRow } from '../database/models'
import { catalogOf } from '../media/catalog'
import type { MediaRoots } from '../media/media-roots'
import type { MadeSources } from '../making/made-sources'
import { prove } from '../matching/prove'
import { heldUpByDisk } from '../work/disk'
import { HeldUpError, type ItemContext, type WorkKind } from '../work/kind'
import type { Deliveries } from './deliveries'
import { makeMovie, movieFramesFolder } from './preview-movie'
import { renderOutputs, type RenderedFrame } from './render-outputs'
import { unfinishedMark } from './write-whole'

export interface DeliveryWorkOptions {
  readonly models: Models
  readonly deliveries: Deliveries
  readonly madeSources: MadeSources
  readonly media: MediaRoots
  /** an engine that reads from the shot's folder */
  readonly engineFor: (shotFolder: string) => Engine
  /** folder of the built programs */
  readonly built: URL
}

interface Known {
  readonly row: DeliveryRow
  readonly shotRow: ShotRow
  readonly shot: Shot
  readonly shotFolder: string
  readonly memo: PlanMemo
}

export interface DeliveredItem {
  readonly bytes: number
  readonly clamped: number
}

const inputOfWork = object({ delivery: string().required() })
const noMediaSeconds = 30

export function deliveryWork(options: DeliveryWorkOptions): WorkKind<unknown, DeliveredItem> {
  const { models, deliveries, madeSources, media, engineFor, built } = options
  const known = new LRUCache<string, Promise<Known>>({ max: 20 })

  const load = async (id: string): Promise<Known> => {
    const row = await deliveries.find(id)
    const shotRow = await models.shots.findByPk(row.shotId)
    if (!shotRow) throw new Error('The shot of this delivery is gone.')
    const shot = parseShot(row.document, shotRow.name)
    return { row, shotRow, shot, shotFolder: shotRow.folder, memo: new PlanMemo() }
  }
  const find = (id: string) => {
    const found = known.get(id) ?? load(id)
    known.set(id, found)
    found.catch(() => known.delete(id))
    return found
  }

  const renderFrame = async ({ row, shotRow, shot, shotFolder, memo }: Known, frame: number, context: ItemContext) => {
    const place = media.place(shotFolder)
    const filesNow = async () => filesIn(await catalogOf(place, shot))
    await madeSources.refuseUnmade(shotRow, shot, async () => unmadeAt(shot, frame, await filesNow()), {
      since: row.createdAt,
    })
    const files = await filesNow()
    if (context.again) {
      const names = row.outputs.map((output) => fileName(shot.name, output, row.version, frame))
      await removeUnfinished(deliveries.folderOf(row), names)
    }
    const request = {
      ...{ shot, place, frame, memo, scale: row.scale, outputs: row.outputs, version: row.version },
      revision: row.revision,
      ...{ files, signal: context.signal },
    }
    const rendered = await renderOutputs(engineFor(shotFolder), request, deliveries.folderOf(row), context.attempt)
    await clearAfterMovies(deliveries.folderOf(row), shot, row)
    return delivered(rendered)
  }

  const makeProofs = async (
    { row, shot, shotFolder }: Known,
    { signal, attempt, again }: ItemContext,
  ): Promise<number> => {
    const { first, last, version, revision } = row
    let bytes = 0
    for (const output of row.outputs) {
      if (output.format !== 'proof') continue
      const [folder, name] = [deliveries.folderOf(row), fileName(shot.name, output, version, first)]
      const [html, json] = [name, name.replace(/html$/, 'json')].map((one) => join(folder, one))
      if (again) await removeUnfinished(folder, [name, name.replace(/html$/, 'json')])
      const files = filesIn(await catalogOf(media.place(shotFolder), shot))
      const about = { shot, files, revision, frames: { first, last }, signal }
      await prove(engineFor(shotFolder), about, { html, json }, attempt)
      bytes += (await stat(html)).size
    }
    return bytes
  }

  const makeMovies = async ({ row, shot }: Known, context: ItemContext): Promise<DeliveredItem> => {
    const folder = deliveries.folderOf(row)
    const { first, last, scale, version } = row
    let bytes = 0
    for (const output of row.outputs) {
      if (output.format !== 'movie') continue
      const name = fileName(shot.name, output, version, first)
      if (context.again) await removeUnfinished(folder, [`.${name}`])
      // An attempt that ended between the movie's name and its being noted has made it.
      if (existsSync(join(folder, name))) await clearAfterMovies(folder, shot, row)
      else
        await makeMovie({
          ...{ folder, name, first, last, rate: shot.rate, built, attempt: context.attempt, signal: context.signal },
          width: Math.ceil(shot.frameSize.width / scale),
          height: Math.ceil(shot.frameSize.height / scale),
          line: output.line ? `${shot.name}  ${versionName(version)}` : null,
        })
      bytes += (await stat(join(folder, name))).size
    }
    return { bytes, clamped: 0 }
  }

  const makeLast = async (one: Known, context: ItemContext): Promise<DeliveredItem> => {
    const { bytes, clamped } = await makeMovies(one, context)
    return { bytes: bytes + (await makeProofs(one, context)), clamped }
  }

  return {
    kind: 'delivery',
    async run(input, item, context) {
      const one = await find(inputOfWork.validateSync(input).delivery)
      if (!existsSync(one.shotFolder))
        throw new HeldUpError(
          `The media of ${one.shot.name} are not on the machine of this worker. Start the worker where they are.`,
          noMediaSeconds,
        )
      try {
        const made = item > one.row.last ? await makeLast(one, context) : await renderFrame(one, item, context)
        await deliveries.clearIfRemoved(one.row)
        return made
      } catch (error) {
        throw heldUpByDisk(error, one.row.folder) ?? error
      }
    },
  }
}

function delivered({ files, clamped }: RenderedFrame): DeliveredItem {
  return { bytes: files.reduce((sum, file) => sum + file.bytes, 0), clamped }
}

/**
 * A movie that is made needs its frames no more. An attempt at a frame that was thought lost may end after that, and must leave
 * nothing behind either.
 */
async function clearAfterMovies(folder: string, shot: Shot, { outputs, version, first }: DeliveryRow): Promise<void> {
  for (const output of outputs) {
    const name = fileName(shot.name, output, version, first)
    if (output.format === 'movie' && existsSync(join(folder, name)))
      await rm(join(folder, movieFramesFolder(name)), { recursive: true, force: true, maxRetries: 10 })
  }
}

/** What attempts at these files that were killed left behind. */
async function removeUnfinished(folder: string, names: readonly string[]): Promise<void> {
  const starts = names.map((name) => `${name}${unfinishedMark}`)
  for (const name of await readdir(folder).catch(() => []))
    if (starts.some((start) => name.startsWith(start))) await rm(join(folder, name), { force: true })
}
