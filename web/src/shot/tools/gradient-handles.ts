/** Start and end of a gradient, and its stops between them, on the picture. */

import { valueAt } from '../../../../core/motion/curve'
import { allOf, find, rootInput, type Change, type Owner, type Shot, type SingleChange } from '../../../../core/shot'
import type { Point } from '../../store/view'
import type { Handle } from './tool'

const set = (owner: Owner, parameter: string, frame: number, value: number): SingleChange => ({
  kind: 'set-parameter',
  at: { owner, parameter, channel: 0 },
  frame,
  value: Number(value.toFixed(4)),
})

/** @returns none where the element is not a gradient */
export function gradientHandles(shot: Shot | null, id: string | null, frame: number): Handle[] {
  const element = shot && id !== null ? find(shot.elements, id) : undefined
  const input = element && rootInput(element)
  if (!element || input?.kind !== 'gradient') return []
  const at = (name: string) => valueAt(input.parameters[name][0], frame)
  const owner: Owner = { kind: 'input', element: element.id, id: input.id }
  const end = (which: 'start' | 'end'): Handle => ({
    name: which === 'start' ? 'Start of the gradient' : 'End of the gradient',
    at: { x: at(`${which}X`), y: at(`${which}Y`) },
    edit: ({ x, y }): Change => ({
      kind: 'together',
      changes: [set(owner, `${which}X`, frame, x), set(owner, `${which}Y`, frame, y)],
      label: `${which === 'start' ? 'Start' : 'End'} of the gradient ${element.name}`,
    }),
  })
  const [start, stop] = [end('start'), end('end')]
  const [dx, dy] = [stop.at.x - start.at.x, stop.at.y - start.at.y]
  const squared = dx * dx + dy * dy
  const share = ({ x, y }: Point) => (squared > 0 ? ((x - start.at.x) * dx + (y - start.at.y) * dy) / squared : 0)
  // Those at the ends lie under the handles of the ends.
  const between = allOf(input.points).flatMap((point, i): Handle[] => {
    const place = valueAt(point.parameters.at[0], frame)
    if (place <= 0.02 || place >= 0.98) return []
    const of: Owner = { kind: 'point', of: { kind: 'input', element: element.id, id: input.id }, id: point.id }
    return [
      {
        name: `Stop ${i + 1} of the gradient`,
        at: { x: start.at.x + dx * place, y: start.at.y + dy * place },
        edit: (to) => set(of, 'at', frame, Math.min(1, Math.max(0, share(to)))),
      },
    ]
  })
  return [start, stop, ...between]
}
