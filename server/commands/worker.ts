/** `enkrasis worker`: does long work of a database, without the web server, on any machine that has database and media. */

import { usualWorkKinds, type WorkKindName } from '../../core/work'
import { configurationFrom } from '../configuration'
import { useKernelsForBlocks } from '../media/exr-blocks'
import { startParts } from '../parts'

export interface WorkerCommandOptions {
  readonly kinds?: readonly WorkKindName[]
  readonly threads: number
  readonly memory: number
  readonly built: URL
}

export async function runWorker({
  kinds = usualWorkKinds,
  threads,
  memory,
  built,
}: WorkerCommandOptions): Promise<void> {
  useKernelsForBlocks(built)
  const configuration = { ...configurationFrom(process.env), threads, engineBytes: memory * 2 ** 20 }
  const parts = await startParts(configuration, built, false)
  const worker = parts.worker((sentence) => console.error(sentence), kinds)
  worker.start()
  console.log(`Worker ${worker.name} (build ${parts.work.build}) waits for work: ${kinds.join(', ')}.`)
  await new Promise<void>((resolve) => {
    process.once('SIGTERM', resolve)
    process.once('SIGINT', resolve)
  })
  await worker.stop()
  await parts.close()
}
