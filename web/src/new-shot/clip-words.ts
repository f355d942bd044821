/** What a clip is taken to be, in words. */

import type { ProposedClip } from '../../../core/new-shot'

const words: Readonly<Record<ProposedClip['role'], string>> = {
  picture: 'opaque sequence',
  still: 'still, to compare with',
  render: 'render',
  matte: 'matte',
  depth: 'depth',
  map: 'lens map',
  table: 'table',
  camera: 'camera',
  movie: 'movie',
  none: 'not used',
}

export function clipWords({ role, passes, problem }: ProposedClip, isPlate: boolean): string {
  if (problem !== null) return problem
  if (isPlate) return 'plate'
  if (role === 'render' && passes.length > 1) return `render, ${passes.length} passes`
  return words[role]
}
