import { smallShot } from '../../../../core/test/small-shot'
import { configureStore, type UnknownAction } from '@reduxjs/toolkit'
import { selectSamples } from '../../store/selectors'
import { shotActions, shotReducer } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { viewChanged, viewOpened, viewReducer, type ViewState } from '../../store/view'
import { newPlacing, placedMatrix } from '../../../../core/shot'
import { dragHandle, handleAt, handlesOf, isPick, tools, type Gesture, type Pointed } from './index'

/** The picture is 300 by 150, shown at twice its size, its corner at 10, 20 of its place. */
const placement = { zoom: 2, left: 10, top: 20 }
const frame = { width: 300, height: 150 }

const at = (x: number, y: number, shift = false, control = false): Pointed => ({
  screen: { x: placement.left + x * 2, y: placement.top + y * 2 },
  point: { x, y },
  pixel: x >= 0 && y >= 0 && x < frame.width && y < frame.height ? { x: Math.floor(x), y: Math.floor(y) } : null,
  shift,
  control,
})

/** Nothing is saved: there is no server here. */
const createStore = () => configureStore({ reducer: { shot: shotReducer, view: viewReducer } })

function open() {
  const store = createStore()
  store.dispatch(shotActions.opened({ id: 'small', shot: smallShot, revision: 1, catalog: {} }))
  store.dispatch(viewOpened(1001))
  const shot = () => store.getState().shot.shot ?? smallShot
  const samples = () => selectSamples(store.getState() as RootState)
  const view = (): ViewState => store.getState().view
  const picked: unknown[] = []
  const perform = (gesture: Gesture, moves: readonly Pointed[], last: Pointed) => {
    for (const move of moves) {
      const changes = gesture.move(move)
      if (changes) store.dispatch(viewChanged(changes))
    }
    const action = gesture.up(last, moves.length > 0)
    if (action && isPick(action)) picked.push(action.pick)
    else if (action) for (const one of [action].flat()) store.dispatch(one as UnknownAction)
    return view()
  }
  const begin = (tool: keyof typeof tools, from: Pointed) =>
    tools[tool].down(from, { view: view(), shot: shot(), frame, placement, selected: null, drawn: null })
  return { store, view, shot, perform, begin, picked, samples }
}

test('dragging moves the picture; a press without a movement selects, with Ctrl it keeps a place', () => {
  const { begin, perform, picked, samples } = open()
  const moved = perform(begin('look', at(100, 50)), [at(90, 50), at(80, 60)], at(80, 60))
  // From the middle: 20 pixels to the left under the pointer is a centre 20 pixels to the right.
  expect(moved.framing).toMatchObject({ zoom: 2, centre: { x: 170, y: 65 } })
  expect(samples()).toEqual([])
  perform(begin('look', at(12.7, 8.2)), [], at(12.7, 8.2))
  expect(samples()).toEqual([])
  expect(picked).toEqual([{ x: 12, y: 8 }])
  const kept = at(12.7, 8.2, false, true)
  perform(begin('look', kept), [], kept)
  expect(samples()).toMatchObject([{ name: '1', x: 12, y: 8, width: 1, height: 1 }])
  const outside = at(-5, 8, false, true)
  perform(begin('look', outside), [], outside)
  expect(samples()).toHaveLength(1)
})

test('a region holds both corners, however it was dragged, and stops at the picture’s edge; the scope shows it', () => {
  const { begin, perform, samples, view } = open()
  expect(perform(begin('look', at(20, 30, true)), [at(11, 34, true)], at(11, 34, true)).framing.zoom).toBeNull()
  expect(samples()).toMatchObject([{ name: '1', x: 11, y: 30, width: 10, height: 5 }])
  perform(begin('look', at(290, 140, true)), [at(299, 149, true), at(320, 170, true)], at(320, 170, true))
  expect(samples()[1]).toMatchObject({ name: '2', x: 290, y: 140, width: 10, height: 10 })
  expect(view().framing.scoped).toBe(samples()[1].id)
})

test('the part of the picture that is made is drawn, and all of it is made again by a press', () => {
  const { store, begin, perform } = open()
  store.dispatch(viewChanged({ screen: { tool: 'area' } }))
  const drawn = perform(begin('area', at(50, 120)), [at(60, 20), at(70, 10)], at(70, 10))
  expect(drawn.framing.area).toEqual({ x: 50, y: 10, width: 21, height: 111 })
  expect(drawn.screen.tool).toBe('look')
  expect(perform(begin('area', at(50, 120)), [], at(50, 120)).framing.area).toBeNull()
})

test('the line of the split is drawn, its ends are moved by whichever tool, and the usual tool is in hand again', () => {
  const { store, begin, perform, view, shot } = open()
  store.dispatch(viewChanged({ screen: { tool: 'split' } }))
  const drawn = perform(begin('split', at(50, 120)), [at(60, 20), at(70, 10)], at(70, 10))
  expect(drawn.comparing.how).toEqual({ way: 'split', from: { x: 50, y: 120 }, to: { x: 70, y: 10 } })
  expect(drawn.screen.tool).toBe('look')
  expect(handleAt({ view: view(), shot: shot(), selected: null }, placement, at(60, 60).screen)).toBeNull()
  const end = handleAt({ view: view(), shot: shot(), selected: null }, placement, at(72, 12).screen)
  if (!end) throw new Error('The end of the line was not found.')
  expect(perform(dragHandle(end, 2), [at(200, 15)], at(200, 15)).comparing.how).toEqual({
    way: 'split',
    from: { x: 50, y: 120 },
    to: { x: 200, y: 15 },
  })
})

test('a line drawn on a frame makes its marker, the next goes to the same one; both are edits by themselves', () => {
  const { store, begin, perform, shot } = open()
  perform(begin('note', at(50, 60)), [at(50.2, 60), at(60, 62.25), at(70, 70)], at(70, 70))
  const [marker] = Object.values(shot().markers.byId)
  expect(marker).toMatchObject({ name: 'Marker 1', frame: 1001 })
  // The second place is less than two screen pixels away.
  expect(Object.values(marker.strokes?.byId ?? {})).toMatchObject([{ points: [50, 60, 60, 62.3, 70, 70] }])
  perform(begin('note', at(-20, 10)), [at(0, 10)], at(0, 10))
  expect(Object.keys(shot().markers.byId)).toEqual([marker.id])
  expect(Object.values(shot().markers.byId[marker.id].strokes?.byId ?? {})).toHaveLength(2)
  // A press alone draws nothing.
  perform(begin('note', at(10, 10)), [], at(10, 10))
  store.dispatch(shotActions.undone())
  expect(Object.values(shot().markers.byId[marker.id].strokes?.byId ?? {})).toHaveLength(1)
  store.dispatch(shotActions.undone())
  expect(shot().markers.byId).toEqual({})
})

describe('placing', () => {
  /** The CG placed in a box of 40 by 30 at 100, 60: its pivot is 120, 75. */
  function placed() {
    const all = open()
    const placing = newPlacing({ x: 100, y: 60, width: 40, height: 30 })
    all.store.dispatch(shotActions.edited({ kind: 'place-element', element: 'cg', placing }))
    all.store.dispatch(viewChanged({ screen: { tool: 'place' } }))
    const numbers = () => all.shot().elements.byId.cg.placing?.parameters ?? {}
    const handles = () => handlesOf({ view: all.view(), shot: all.shot(), selected: { kind: 'element', id: 'cg' } })
    const handle = (name: string) => {
      const found = handles().find((one) => one.name === name)
      if (!found) throw new Error(`no handle ${name}`)
      return found
    }
    const drag = (name: string, to: Pointed) => all.perform(dragHandle(handle(name), 2), [to], to)
    const move = (from: Pointed, to: Pointed) => {
      const gesture = tools.place.down(from, {
        ...{ view: all.view(), shot: all.shot(), frame, placement, selected: 'cg', drawn: null },
      })
      return all.perform(gesture, [to], to)
    }
    return { ...all, numbers, handle, drag, move }
  }

  test('dragged it moves along; with Shift along the longer way only; Ctrl keeps it from snapping', () => {
    const { move, numbers } = placed()
    move(at(110, 70), at(121.5, 83, false, true))
    expect([numbers().x, numbers().y]).toEqual([[11.5], [13]])
    move(at(10, 10), at(30, 14, true, true))
    expect([numbers().x, numbers().y]).toEqual([[31.5], [13]])
  })

  test('it is drawn to the middle and the edges of the frame within six pixels of the screen', () => {
    const { move, numbers } = placed()
    // The pivot comes within 2 px of the middle of the frame, 150 across: it is drawn there.
    move(at(0, 0), at(28, 40))
    expect(numbers().x).toEqual([30])
    // Its lower side within 2 of the lower edge.
    move(at(0, 0), at(0, 18.5))
    expect(numbers().y).toEqual([60])
  })

  test('a corner scales about the pivot, a side stretches, the arm turns by steps with Shift', () => {
    const { drag, numbers, handle } = placed()
    expect(handle('Lower right').at).toEqual({ x: 140, y: 90 })
    drag('Lower right', at(160, 105))
    expect([numbers().scale, numbers().stretch]).toEqual([[2], [1]])
    drag('Right side', at(180, 75))
    expect([numbers().scale, numbers().stretch]).toEqual([[2], [1.5]])
    const { x, y } = handle('Turn').at
    expect(x).toBeCloseTo(120, 9)
    drag('Turn', at(120 + (75 - y), 78, true))
    expect(numbers().rotation).toEqual([90])
  })

  test('the pivot moves without moving anything; a corner is pulled by itself', () => {
    const { drag, numbers, store, shot } = placed()
    const before = placedMatrix(shot(), 'cg', 1001)
    drag('Pivot', at(101, 61, false, true))
    expect([numbers().pivotX, numbers().pivotY]).toEqual([[101], [61]])
    expect(placedMatrix(shot(), 'cg', 1001)).toEqual(before)
    store.dispatch(viewChanged({ screen: { tool: 'corners' } }))
    drag('Upper left corner', at(90, 52, false, true))
    expect([numbers().topLeftX, numbers().topLeftY, numbers().topRightX]).toEqual([[-10], [-8], [0]])
  })

  test('a gesture is one edit, taken back at once', () => {
    const { move, numbers, store } = placed()
    move(at(0, 0), at(33, 21, false, true))
    store.dispatch(shotActions.undone())
    expect([numbers().x, numbers().y]).toEqual([[0], [0]])
  })
})

test('each press of the track tool is a new track on this frame, which is selected, drawn, and set by hand when its place is dragged', () => {
  const { begin, perform, store, shot } = open()
  const press = at(120.256, 60.5)
  perform(begin('track', press), [], press)
  const { primary } = store.getState().shot.selection
  expect(primary?.kind).toBe('track')
  const id = primary?.id ?? ''
  expect(shot().tracks.byId[id].points).toEqual({ 1001: { x: 120.26, y: 60.5, byHand: true } })
  const drawn = { view: store.getState().view, shot: shot(), selected: primary }
  const [handle] = handlesOf(drawn)
  expect(handle).toMatchObject({ name: 'Place of the track', at: { x: 120.26, y: 60.5 } })
  expect(handle.edit?.({ x: 121, y: 61.125 }, { shift: false, control: false, reach: 0 })).toEqual({
    ...{ kind: 'set-track-points', track: id },
    points: { 1001: { x: 121, y: 61.13, byHand: true } },
  })
  const outside = at(-3, 20)
  perform(begin('track', outside), [], outside)
  expect(Object.keys(shot().tracks.byId)).toHaveLength(2)
  // On a frame where it is not known there is nothing to take hold of.
  store.dispatch(viewChanged({ playing: { frame: 1004 } }))
  expect(handlesOf({ ...drawn, view: store.getState().view })).toEqual([])
})
