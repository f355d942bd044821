/** How soft the true frames are beside the sharp render: the Gaussian that leaves least, where nothing else can be wrong. */

import { dirname } from 'node:path'
import { pathToFileURL } from 'node:url'
import { leastBetween } from '../core/algebra/golden-section'
import { darkLight, type SharpAndSeen } from '../core/match'
import type { Window } from '../core/image/window'
import { filesIn } from '../core/plan/catalog'
import { PlanMemo } from '../core/plan/memo'
import { planInPlate } from '../core/plan/plan'
import { applyEdit, inOrder, newTreatment, newUse, type Shot } from '../core/shot'
import { ShotBeingMatched } from '../core/witnesses/matching'
import { framesOf, seenOn } from '../core/witnesses/on-objects'
import { startEngine } from '../server/commands/start-engine'
import { catalogOf } from '../server/media/catalog'
import { placeOf } from '../server/media/media-roots'
import { readShotFile } from '../server/shots/shot-store'

const softest = 0.6
const everyOther = 3
const covered = 0.999

/**
 * Across the edges that lie inside the element: along its outline, what is around it counts as well (its shadow, its reflection and how the
 * lens has mixed them with it). Pixels count by the grain that their light would have.
 *
 * @param file a shot that is matched by its truth, whose first reference object is the element itself on its true frames
 * @returns sigma in pixels
 */
export async function nearestInside(file: string, mediaRoot: string, element: string): Promise<number> {
  const shot = await readShotFile(file)
  const place = placeOf([mediaRoot], dirname(file))
  const built = pathToFileURL('dist/node/')
  const { engine, close } = await startEngine(
    { threads: 2, memory: 512, built },
    (request) => ({ place, request }),
    true,
  )
  try {
    const files = filesIn(await catalogOf(place, shot))
    const memo = new PlanMemo()
    const plan = (seen: Shot, frame: number, scale: 1 | 2 | 4) => planInPlate(seen, frame, scale, files, memo)
    const [object] = inOrder(shot.referenceObjects)
    const picturesAt = async (sigma: number) => {
      const soft = softened(shot, element, sigma)
      const matched = new ShotBeingMatched(soft, engine, plan)
      const frames = framesOf(matched, object).filter((_, i) => i % everyOther === 0)
      const seen = await Promise.all(frames.map((frame) => seenOn(matched, soft.elements.byId[element], object, frame)))
      return seen.flatMap((one) => one ?? [])
    }
    const inside = (await picturesAt(softest)).map(insideOf)
    // Tried once each: a cost cannot wait for an engine.
    const tried: number[] = Array.from({ length: 26 }, (_, i) => 0.1 + i * 0.02)
    const costs: number[] = []
    for (const sigma of tried)
      costs.push((await picturesAt(sigma)).reduce((sum, one, i) => sum + leftOf(one, inside[i]), 0))
    return leastBetween((sigma) => between(tried, costs, sigma), tried[0], tried[tried.length - 1], 1e-4)
  } finally {
    await close()
  }
}

function softened(shot: Shot, element: string, sigma: number): Shot {
  const settings = newTreatment('soften', 'soft', { across: [sigma], down: [sigma] })
  const use = newUse(shot, { kind: 'element', id: element }, 'soften', 'soft')
  return applyEdit(shot, { kind: 'add-treatment', settings, use }).shot
}

type Seen = SharpAndSeen & { readonly window: Window }

/** Pixels of the frame that are covered with all around them. */
function insideOf({ window: { x, y, width }, sharp }: Seen): (readonly [number, number])[] {
  const row = 4 * width
  const around = [-row - 4, -row, -row + 4, -4, 0, 4, row - 4, row, row + 4]
  return Array.from({ length: sharp.length / 4 }, (_, k) => k).flatMap((k) =>
    around.every((by) => sharp[4 * k + by + 3] >= covered)
      ? [[x + (k % width), y + Math.floor(k / width)] as const]
      : [],
  )
}

/** The softer, the larger its window. */
const leftOf = ({ window, sharp, seen }: Seen, inside: readonly (readonly [number, number])[]): number =>
  inside.reduce((sum, [x, y]) => {
    const at = 4 * ((y - window.y) * window.width + x - window.x)
    for (const i of [at, at + 1, at + 2]) sum += (sharp[i] - seen[i]) ** 2 / (Math.max(0, seen[i]) + darkLight)
    return sum
  }, 0)

/** A parabola through the three that are nearest. */
function between(xs: readonly number[], ys: readonly number[], x: number): number {
  const i = Math.min(xs.length - 2, Math.max(1, Math.round((x - xs[0]) / (xs[1] - xs[0]))))
  const t = (x - xs[i]) / (xs[1] - xs[0])
  return ys[i] + (t * (ys[i + 1] - ys[i - 1])) / 2 + (t * t * (ys[i + 1] - 2 * ys[i] + ys[i - 1])) / 2
}
