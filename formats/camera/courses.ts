/** How places, turns, sizes and heights of view go through the keys of a glTF file (glTF 2.0, appendix C). */

import type { AnimationSampler, Camera, Node, Root } from '@gltf-transform/core'
import { AnimationPointer } from './animation-pointer'
import { slerped, unit } from './matrices'

export type Path = 'translation' | 'rotation' | 'scale'

export interface Course {
  /** seconds */
  readonly first: number
  readonly last: number
  /** before its first key and after its last one it stays */
  at(seconds: number): readonly number[]
}

export interface Courses {
  readonly nodes: ReadonlyMap<Node, ReadonlyMap<Path, Course>>
  readonly heights: ReadonlyMap<Camera, Course>
}

export function coursesOf(root: Root): Courses {
  const pointed = root.listExtensionsUsed().find((one) => one instanceof AnimationPointer)
  const nodes = new Map<Node, Map<Path, Course>>()
  const heights = new Map<Camera, Course>()
  for (const channel of root.listAnimations().flatMap((animation) => animation.listChannels())) {
    const sampler = channel.getSampler()
    const course = sampler && courseOf(sampler, channel.getTargetPath() === 'rotation')
    if (!course) continue
    const camera = pointed?.heights.get(channel)
    if (camera) heights.set(camera, course)
    const node = channel.getTargetNode()
    const path = channel.getTargetPath()
    if (!node || (path !== 'translation' && path !== 'rotation' && path !== 'scale')) continue
    const own = nodes.get(node) ?? new Map<Path, Course>()
    nodes.set(node, own.set(path, course))
  }
  return { nodes, heights }
}

/** @returns null for one without keys */
function courseOf(sampler: AnimationSampler, turns: boolean): Course | null {
  const input = sampler.getInput()
  const output = sampler.getOutput()
  if (!input || !output || input.getCount() === 0) return null
  const times = Array.from({ length: input.getCount() }, (_, i) => input.getScalar(i))
  const how = sampler.getInterpolation()
  const values = Array.from({ length: output.getCount() }, (_, i) => output.getElement(i, []))
  const isCubic = how === 'CUBICSPLINE'
  if (values.length < times.length * (isCubic ? 3 : 1)) return null
  const value = (i: number) => values[isCubic ? 3 * i + 1 : i]
  const last = times.length - 1
  const at = (seconds: number) => {
    if (seconds <= times[0]) return value(0)
    if (seconds >= times[last]) return value(last)
    const next = times.findIndex((time) => time > seconds)
    const i = next - 1
    if (how === 'STEP') return value(i)
    const span = times[next] - times[i]
    const t = (seconds - times[i]) / span
    if (!isCubic) {
      if (turns) return slerped(value(i), value(next), t)
      return value(i).map((from, c) => from + (value(next)[c] - from) * t)
    }
    const mixed = value(i).map((from, c) => {
      const leaving = values[3 * i + 2][c] * span
      const arriving = values[3 * next][c] * span
      const [t2, t3] = [t * t, t * t * t]
      return (
        (2 * t3 - 3 * t2 + 1) * from +
        (t3 - 2 * t2 + t) * leaving +
        (3 * t2 - 2 * t3) * value(next)[c] +
        (t3 - t2) * arriving
      )
    })
    return turns ? unit(mixed) : mixed
  }
  return { first: times[0], last: times[last], at }
}
