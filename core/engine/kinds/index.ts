/** All kinds of steps and of rows. A new one is its file and a line here. */

import type { Step } from '../../graph/steps'
import type { Rows } from '../program'
import { blend, runBlend } from './blend'
import { runClip, runExtend } from './beyond'
import { blur, runSpread } from './blur'
import { combine, runCombine } from './combine'
import { constant, frame, runConstant, runFrame } from './frame'
import { grow, runGrow } from './grow'
import { key, runKey } from './key'
import type { RunRows, StepKind } from './kind'
import { made, runMade } from './made'
import { outline, runOutline } from './outline'
import { colour, point, runColour, runPoint, runTable, table } from './pixels'
import { resample, runResample } from './resample'

const kinds = { frame, constant, made, outline, colour, point, combine, table, blur, grow, key, resample, blend }

export function kindOf(step: Step): StepKind<Step> {
  return kinds[step.op] as StepKind<Step>
}

export const runRows: { readonly [N in Exclude<Rows['node'], 'nothing' | 'buffer'>]: RunRows<N> } = {
  frame: runFrame,
  constant: runConstant,
  made: runMade,
  outline: runOutline,
  colour: runColour,
  point: runPoint,
  combine: runCombine,
  table: runTable,
  blend: runBlend,
  clip: runClip,
  extend: runExtend,
  spread: runSpread,
  grow: runGrow,
  key: runKey,
  resample: runResample,
}

export { runKeyCells, runKeyCoverage } from './key'
export type { Bounding, Lowering, Need, StepKind } from './kind'
