import { smallShot } from '../../../../core/test/small-shot'
import { configureStore } from '@reduxjs/toolkit'
import { selectSamples } from '../../store/selectors'
import { shotActions, shotReducer } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { viewChanged, viewOpened, viewReducer, type ViewState } from '../../store/view'
import { dragHandle, handleAt, isPick, tools, type Gesture, type Pointed } from './index'

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
    else if (action) store.dispatch(action)
    return view()
  }
  const begin = (tool: keyof typeof tools, from: Pointed) =>
    tools[tool].down(from, { view: view(), shot: shot(), frame, placement })
  return { store, view, perform, begin, picked, samples }
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
  const { store, begin, perform, view } = open()
  store.dispatch(viewChanged({ screen: { tool: 'split' } }))
  const drawn = perform(begin('split', at(50, 120)), [at(60, 20), at(70, 10)], at(70, 10))
  expect(drawn.comparing.how).toEqual({ way: 'split', from: { x: 50, y: 120 }, to: { x: 70, y: 10 } })
  expect(drawn.screen.tool).toBe('look')
  expect(handleAt(view(), placement, at(60, 60).screen)).toBeNull()
  const end = handleAt(view(), placement, at(72, 12).screen)
  if (!end) throw new Error('The end of the line was not found.')
  expect(perform(dragHandle(end), [at(200, 15)], at(200, 15)).comparing.how).toEqual({
    way: 'split',
    from: { x: 50, y: 120 },
    to: { x: 200, y: 15 },
  })
})
