/** The backing key: how far its coverage and light are off on made-up hair, and its time. */

import { differenceOf, labOf } from '../core/colour/colour-difference'
import { measuredBacking } from '../core/match/measured-backing'
import { filmedHair } from '../core/test/filmed-hair'
import { surroundings } from '../core/test/steps'
import { treatments } from '../core/treatments'
import { OneThread } from './one-thread'
import { atMost, besidePeer, inTurns, median, type Row } from './row'

const { abs } = Math
const hd = { width: 1280, height: 720 }

/** Made-up hair of known coverage before a backing that is uneven by a fifth, with spill, motion blur and noise; measured, then keyed. */
export async function benchBackingKey(): Promise<Row[]> {
  const { width, height } = hd
  const scene = filmedHair(width, height, 11)
  const backing = measuredBacking(scene.filmed, width, height, 1)
  if (!backing) throw new Error('The backing was not found.')
  const window = { x: 0, y: 0, ...hd }
  const thread = new OneThread(600)
  const filmed = thread.source('hair', window, 4, 'float', (c, x, y) => scene.filmed[(y * width + x) * 4 + c])
  const points = backing.picks.map(({ x, y, light }) => ({ values: { x: [x], y: [y], colour: light } }))
  const clear = Math.max(0.004, 2.5 * 0.19 * backing.noise)
  const step = treatments['backing-key']
  if (step.side === 'mapping') throw new Error('A key moves nothing.')
  const keyed = step.build(
    filmed,
    { colour: [0, 0, 0], clear: [clear], solid: [0.05], spill: [1], around: [6] },
    surroundings({ frame: window, choices: { channel: backing.channel }, points }),
  )
  const address = thread.arena.allocate(width * height * 16)
  const run = thread.pictureTo(keyed, window, address)
  const [from, to] = [thread.arena.allocate(width * height * 16), thread.arena.allocate(width * height * 16)]
  const bytes = new Uint8Array(thread.buffer)
  const copy = () => bytes.copyWithin(to, from, from + width * height * 16)
  const [ours, copying] = await inTurns(15, run, copy)
  const two = thread.sharedTo(keyed, window, address, 2)
  // The workers' code is compiled in steps.
  for (let i = 0; i < 15; i++) await two.run()
  const [shared, copyingThen] = await inTurns(15, two.run, copy)
  two.close()
  run()
  const found = new Float32Array(thread.buffer, address, width * height * 4)
  let [band, inBand, rest, elsewhere] = [0, 0, 0, 0]
  const differences: number[] = []
  scene.alpha.forEach((a, i) => {
    const off = abs(found[i * 4 + 3] - a)
    if (!(a > 0.004 && a < 0.996)) return ([rest, elsewhere] = [rest + off, elsewhere + 1])
    ;[band, inBand] = [band + off, inBand + 1]
    const over = (light: Float32Array) =>
      [0, 1, 2].map((c) => light[i * 4 + c] + 0.18 * (1 - light[i * 4 + 3])) as unknown as readonly [
        number,
        number,
        number,
      ]
    differences.push(differenceOf(labOf(...over(found)), labOf(...over(scene.figure))))
  })
  return [
    atMost(
      'Backing key, made-up hair, backing uneven by a fifth, noise 0.008: mean error of coverage in the band',
      band / inBand,
      0.05,
      '',
    ),
    atMost('… elsewhere', rest / elsewhere, 0.003, ''),
    atMost('… laid over grey, band: median dE2000', median(differences), 3, ''),
    besidePeer('… 1280x720 by the engine, two threads, beside copying', shared, copyingThen, 8, 'ms'),
    besidePeer('… on one thread', ours, copying, 8, 'ms'),
  ]
}
