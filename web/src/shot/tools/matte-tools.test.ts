import { configureStore } from '@reduxjs/toolkit'
import type { UnknownAction } from '@reduxjs/toolkit'
import { find, inOrder, outlineAt, type DrawnMatte } from '../../../../core/shot'
import { smallShot } from '../../../../core/test/small-shot'
import { shotActions, shotReducer } from '../../store/shot-slice'
import { viewChanged, viewOpened, viewReducer } from '../../store/view'
import { closedActions } from './outline-tool'
import { dragHandle, handlesOf, isPick, tools, type Gesture, type Pointed } from '.'

/** What the tools of mattes do with the pointer, on the page's own store without a page. */

const frame = { width: 300, height: 150 }
const placement = { zoom: 2, left: 0, top: 0 }
const at = (x: number, y: number, shift = false): Pointed => ({
  ...{ screen: { x: x * 2, y: y * 2 }, point: { x, y }, pixel: { x: Math.floor(x), y: Math.floor(y) } },
  ...{ shift, control: false },
})

function open() {
  const store = configureStore({ reducer: { shot: shotReducer, view: viewReducer } })
  store.dispatch(shotActions.opened({ id: 'small', shot: smallShot, revision: 1, catalog: {} }))
  store.dispatch(viewOpened(1001))
  const shot = () => store.getState().shot.shot ?? smallShot
  const view = () => store.getState().view
  const drawn = () => store.getState().shot.selection.primary
  const send = (actions: unknown) => {
    for (const action of [actions].flat()) if (action) store.dispatch(action as UnknownAction)
  }
  const perform = (gesture: Gesture, ...way: readonly Pointed[]) => {
    for (const one of way.slice(0, -1)) {
      const changes = gesture.move(one)
      if (changes) store.dispatch(viewChanged(changes))
    }
    const action = gesture.up(way[way.length - 1], way.length > 1)
    if (action && !isPick(action)) send(action)
  }
  const begin = (tool: keyof typeof tools, from: Pointed) =>
    tools[tool].down(from, { view: view(), shot: shot(), frame, placement, selected: null, drawn: drawn() })
  const press = (tool: keyof typeof tools, one: Pointed) => perform(begin(tool, one), one)
  const drag = (tool: keyof typeof tools, ...way: readonly Pointed[]) => perform(begin(tool, way[0]), ...way)
  const handle = (name: string) => {
    const found = handlesOf({ view: view(), shot: shot(), selected: drawn() }).find((one) => one.name === name)
    if (!found) throw new Error(`There is no handle ${name}.`)
    return found
  }
  return { store, shot, view, drawn, send, press, drag, perform, handle }
}

const newest = (shot: typeof smallShot) => inOrder(shot.mattes).at(-1) as DrawnMatte

test('a stroke becomes a shape of a new matte, whose card opens; the tool is put away, and the stroke with it', () => {
  const { shot, view, drawn, drag } = open()
  const ring = Array.from({ length: 60 }, (_, i) => {
    const angle = (i / 60) * 2 * Math.PI
    return at(150 + 50 * Math.cos(angle), 75 + 30 * Math.sin(angle))
  })
  drag('outline', ...ring)
  const matte = newest(shot())
  expect(drawn()).toEqual({ kind: 'matte', id: matte.id })
  expect(inOrder(matte.shapes)).toHaveLength(1)
  expect(view().screen.tool).toBe('look')
  expect(view().outlining.stroke).toEqual([])
})

test('places pressed one by one are closed on the first; with Shift they are corners; the next shape goes into the same matte', () => {
  const { shot, press } = open()
  const spots = [
    [100, 20],
    [160, 30],
    [140, 90],
  ] as const
  spots.forEach(([x, y], i) => press('outline', at(x, y, i === 1)))
  press('outline', at(102, 21))
  const first = newest(shot())
  const [shape] = inOrder(first.shapes)
  expect(outlineAt(shape, 1001).map(({ x, y }) => [x, y])).toEqual(spots)
  expect(inOrder(shape.points).map(({ corner }) => corner ?? false)).toEqual([false, true, false])
  for (const [x, y] of spots) press('outline', at(x + 130, y + 40))
  press('outline', at(230, 60))
  expect(Object.keys(newest(shot()).shapes.byId)).toHaveLength(2)
})

test('two places are no outline; Enter closes three', () => {
  const { shot, view, drawn, send, press } = open()
  const before = Object.keys(shot().mattes.byId).length
  press('outline', at(10, 10))
  press('outline', at(50, 10))
  send(closedActions(shot(), view(), drawn()))
  expect(Object.keys(shot().mattes.byId)).toHaveLength(before)
  press('outline', at(30, 60))
  send(closedActions(shot(), view(), drawn()))
  expect(Object.keys(shot().mattes.byId)).toHaveLength(before + 1)
  expect(view().outlining.pressed).toEqual([])
})

test('of a matte with two shapes the one whose line is pressed is worked on', () => {
  const { store, shot, view, press } = open()
  store.dispatch(shotActions.thingSelected({ kind: 'matte', id: 'post' }))
  const second = [at(100, 100), at(180, 100), at(180, 140), at(100, 140), at(101, 101)]
  for (const one of second) press('outline', { ...one, shift: true })
  const [own, other] = inOrder((find(shot().mattes, 'post') as DrawnMatte).shapes)
  expect(view().outlining.shape).toBe(other.id)
  // The first is a square from 20 to 60 and 10 to 50.
  press('look', at(40, 11))
  expect(view().outlining.shape).toBe(own.id)
  press('look', at(140, 99))
  expect(view().outlining.shape).toBe(other.id)
})

test('a point is chosen by a press, more with Shift; dragged, those that are chosen move together', () => {
  const { store, shot, view, perform, handle } = open()
  store.dispatch(shotActions.thingSelected({ kind: 'matte', id: 'post' }))
  const name = (n: number) => `Point ${n} of Outline`
  perform(dragHandle(handle(name(1)), 2), at(20, 10))
  expect(view().outlining.points).toEqual(['p0'])
  perform(dragHandle(handle(name(2)), 2), at(60, 10, true))
  expect(view().outlining.points).toEqual(['p0', 'p1'])
  perform(dragHandle(handle(name(1)), 2), at(22, 10), at(25, 13))
  const { shapes } = find(shot().mattes, 'post') as DrawnMatte
  expect(outlineAt(shapes.byId.outline, 1001).map(({ x, y }) => [x, y])).toEqual([
    [25, 13],
    [65, 13],
    [60, 50],
    [20, 50],
  ])
})

test('the brush paints into the painted matte that is selected, a press is a dot, and it erases when told to', () => {
  const { store, shot, drag, press } = open()
  drag('brush', at(20, 20), at(40, 30), at(60, 30))
  store.dispatch(viewChanged({ outlining: { brush: { radius: 4, hardness: 1, how: 'subtract', onlyHere: true } } }))
  press('brush', at(30, 25))
  const matte = inOrder(shot().mattes).at(-1)
  const strokes = matte?.kind === 'painted' ? inOrder(matte.strokes) : []
  expect(strokes.map(({ how, frame: only, points }) => [how, only, points])).toEqual([
    ['add', undefined, [20, 20, 40, 30, 60, 30]],
    ['subtract', 1001, [30, 25]],
  ])
})
