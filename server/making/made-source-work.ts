/** Work of the kind `made-source`: files of a source that is made here, a frame an item. */

import { object, string } from 'yup'
import { filesIn } from '../../core/plan/catalog'
import { unmadeAt } from '../../core/plan/unmade'
import { find, refsOfSource } from '../../core/shot'
import type { HeavyWork } from '../../core/making'
import type { Engine } from '../../core/engine/engine'
import type { MediaRoots } from '../media/media-roots'
import type { ShotsNow } from '../shots/shots-now'
import { catalogOf } from '../media/catalog'
import { heldUpByDisk } from '../work/disk'
import type { WorkKind } from '../work/kind'
import type { MadeFiles } from './made-files'
import type { MadeSources } from './made-sources'
import { writeMade, type MadeFile } from './write-made'

export interface MadeSourceWorkOptions {
  readonly shots: ShotsNow
  readonly media: MediaRoots
  readonly madeSources: MadeSources
  readonly madeFiles: MadeFiles
  /** an engine that reads from the shot's folder */
  readonly engineFor: (shotFolder: string) => Engine
  readonly heavy: HeavyWork
}

const inputOfWork = object({ shot: string().required(), source: string().required() })

export function madeSourceWork({
  shots,
  media,
  madeSources,
  madeFiles,
  engineFor,
  heavy,
}: MadeSourceWorkOptions): WorkKind<unknown, MadeFile> {
  return {
    kind: 'made-source',
    async run(input, frame, { signal, attempt, progress }) {
      const wanted = inputOfWork.validateSync(input)
      const { row, shot, memo } = await shots.of(wanted.shot)
      const source = find(shot.sources, wanted.source)
      if (!source) throw new Error(`The source that was to be made is not in ${shot.name} any more.`)
      await madeFiles.refuseFull(row.folder, shot.name)
      const needed = refsOfSource(source).flatMap((ref) => (ref.kind === 'source' ? ref.id : []))
      const own = media.place(row.folder)
      const filesNow = async () => filesIn(await catalogOf(own, shot))
      await madeSources.refuseUnmade(row, shot, async () => {
        // Most are made of nothing that is made.
        if (needed.length === 0) return []
        const at = source.frames === null ? shot.frames.first : frame
        return unmadeAt(shot, at, await filesNow()).filter(({ id }) => needed.includes(id))
      })
      const files = await filesNow()
      const place = { shot, files, memo, heavy, place: own, engine: engineFor(row.folder) }
      try {
        const number = source.frames === null ? null : frame - (source.offset ?? 0)
        return await writeMade(place, source, number, { signal, attempt, progress })
      } catch (error) {
        throw heldUpByDisk(error, 'made') ?? error
      }
    },
  }
}
