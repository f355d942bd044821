/** Entry of a thread that measures sources. */

import { measureSource, type MeasureTask } from './check/measure-source'
import type { SourceReport } from '../core/check'

export default function measure(task: MeasureTask): Promise<SourceReport> {
  return measureSource(task)
}
