/** What is said of a lens that is measured. */

import { overscanOf, type LensFromLines } from '../../../../core/lens'
import { valuesAt } from '../../../../core/plan/values'
import type { Shot, TreatmentSettings } from '../../../../core/shot'
import type { LensOfChart } from '../../api/client'
import { lensOf, treatments } from '../../../../core/treatments'

/** Of the largest bow, what is left of it. */
const tellsLittle = 0.8

const lineOrLines = (count: number) => (count === 1 ? '1 line' : `${count} lines`)

/** @param elsewhere on other frames or pictures */
export function lineWords(here: number, elsewhere: number, drawing: boolean): string {
  const elsewhereToo = elsewhere > 0 ? `, ${elsewhere} on others` : ''
  if (drawing && here === 0)
    return 'Drag along an edge that is straight in the world; long ones near the border tell most.'
  return here + elsewhere === 0
    ? 'No lines yet. A chart or a grid tells most; then long edges of buildings near the border.'
    : `${lineOrLines(here)} on this picture${elsewhereToo}`
}

export function foundWords({ used, bows, heldOutBow, rms }: LensFromLines): string {
  const mostBow = (which: 'before' | 'after') => Math.max(...used.map((i) => bows[i][which]))
  const most = (which: 'before' | 'after') => mostBow(which).toFixed(2)
  const little = mostBow('after') > tellsLittle * mostBow('before')
  const advice = little
    ? ' They tell little of the lens: it makes them hardly straighter. A chart or grid, or longer edges near the border, would tell more.'
    : ''
  const left = bows.length - used.length
  const dashed = left > 0 ? ` ${lineOrLines(left)} left out as not straight in the world (dashed).` : ''
  return `${lineOrLines(used.length)} bow by ${most('before')} px without the lens, by ${most('after')} px with it (rms ${rms.toFixed(2)}); those it was not measured from, by ${heldOutBow.toFixed(2)} px at most.${dashed}${advice}`
}

export function chartWords({ rms, looked, photographs }: LensOfChart): string {
  const corners = photographs.reduce((sum, { seen }) => sum + seen.length / 2, 0)
  const frames = photographs.length === 1 ? 'one frame' : `${photographs.length} frames`
  const without = looked - photographs.length
  const missed = without > 0 ? ` No chart was found on ${without} of the ${looked} frames looked at.` : ''
  const advice =
    photographs.length === 1 ? ' One photograph tells the centre badly: some from other sides would tell more.' : ''
  return `${corners} corners of squares on ${frames} lie ${rms.toFixed(2)} px (rms) from where the lens puts them.${missed}${advice}`
}

/** How far CG must be rendered; null where the lens bends nothing. */
export function overscanWords({ frameSize }: Shot, { parameters }: TreatmentSettings, frame: number): string | null {
  const window = { x: 0, y: 0, ...frameSize }
  const lens = lensOf(valuesAt(treatments.lens.parameters, parameters, frame), window, 1)
  if ([lens.k1, lens.k2, lens.k3, lens.p1, lens.p2].every((value) => value === 0)) return null
  const needed = overscanOf(lens, frameSize)
  if (!needed) return 'It folds inside the frame, so no render reaches far enough.'
  return `Render ${needed.width} x ${needed.height} from ${needed.x} ${needed.y} to fill the frame when it is bent.`
}
