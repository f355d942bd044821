/** Entry of a thread that measures sources. */

import { measureSource, type MeasureTask } from './check/measure-source'
import type { SourceReport } from '../core/check'
import { useKernelsForBlocks } from './media/exr-blocks'

useKernelsForBlocks(new URL('.', import.meta.url))

export default function measure(task: MeasureTask): Promise<SourceReport> {
  return measureSource(task)
}
