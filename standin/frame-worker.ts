/** A worker of the stand-in camera: rows of the far scene first, then whole frames. */

import { parentPort, workerData } from 'node:worker_threads'
import { movingShot } from './moving-shot'
import type { ShotMaker, Task, WorkerSetUp } from './tasks'
import { turningShot } from './turning-shot'

if (parentPort) {
  const port = parentPort
  const setUp = workerData as WorkerSetUp
  const maker: ShotMaker = setUp.shot === 'quay-020' ? movingShot(setUp) : turningShot(setUp)
  port.on('message', (task: Task) => {
    const work = async () => {
      if (task.kind === 'rows') maker.rows(task.first, task.last, task.withFront)
      else if (task.kind === 'frame') await maker.frame(task.frame)
      else if (task.kind === 'clean') await maker.clean()
      else await maker.reference(task.guest, task.frame)
    }
    work().then(
      () => port.postMessage({ done: true }),
      (error: unknown) =>
        port.postMessage({ failed: error instanceof Error ? (error.stack ?? error.message) : String(error) }),
    )
  })
}
