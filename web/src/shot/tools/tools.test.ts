import { createStore } from '../../store'
import { viewChanged, viewOpened, type ViewState } from '../../store/view'
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

function open() {
  const store = createStore()
  store.dispatch(viewOpened(1001))
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
  const begin = (tool: keyof typeof tools, from: Pointed) => tools[tool].down(from, { view: view(), frame, placement })
  return { store, view, perform, begin, picked }
}

test('dragging moves the picture; a press without a movement selects, with Ctrl it keeps a place', () => {
  const { begin, perform, picked } = open()
  const moved = perform(begin('look', at(100, 50)), [at(90, 50), at(80, 60)], at(80, 60))
  // From the middle: 20 pixels to the left under the pointer is a centre 20 pixels to the right.
  expect(moved.framing).toMatchObject({ zoom: 2, centre: { x: 170, y: 65 }, samples: [] })
  expect(perform(begin('look', at(12.7, 8.2)), [], at(12.7, 8.2)).framing.samples).toEqual([])
  expect(picked).toEqual([{ x: 12, y: 8 }])
  const kept = at(12.7, 8.2, false, true)
  expect(perform(begin('look', kept), [], kept).framing.samples).toEqual([{ id: 1, x: 12, y: 8, width: 1, height: 1 }])
  const outside = at(-5, 8, false, true)
  expect(perform(begin('look', outside), [], outside).framing.samples).toHaveLength(1)
})

test('a region holds both corners, however it was dragged, and stops at the picture’s edge', () => {
  const { begin, perform } = open()
  const first = perform(begin('look', at(20, 30, true)), [at(11, 34, true)], at(11, 34, true))
  expect(first.framing).toMatchObject({ zoom: null, samples: [{ x: 11, y: 30, width: 10, height: 5 }] })
  const second = perform(
    begin('look', at(290, 140, true)),
    [at(299, 149, true), at(320, 170, true)],
    at(320, 170, true),
  )
  expect(second.framing.samples[1]).toMatchObject({ x: 290, y: 140, width: 10, height: 10 })
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
