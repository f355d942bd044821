import { SweptArea, framesThrough } from './swept-area'

/** A thing of 2 x 2 pixels goes from left to right along the third row of a window that begins at 10, 20, over a plate of 0.2. */

const window = { x: 10, y: 20, width: 12, height: 6 }
const plate = new Float32Array(window.width * window.height * 4).fill(0.2)
const picture = (left: number, channel: number, value: number) => {
  const light = plate.slice()
  for (const row of [2, 3])
    for (const column of [left, left + 1]) light[(row * window.width + column) * 4 + channel] = value
  return light
}
const passed = (channel: number, value = 0.5) => {
  const area = new SweptArea(window)
  ;[0, 3, 6].forEach((left, i) => area.add(1001 + i, picture(left, channel, value), plate))
  return area
}

test('every pixel that the thing changes counts, and no other', () => {
  const { swept } = passed(1)
  const expected = [...swept].map((_, i) => {
    const [row, column] = [Math.floor(i / window.width), i % window.width]
    return (row === 2 || row === 3) && [0, 1, 3, 4, 6, 7].includes(column) ? 1 : 0
  })
  expect([...swept]).toEqual(expected)
})

test('a shadow passes as light does, in any channel; what nobody sees does not', () => {
  expect([...passed(0, 0.1).swept]).toEqual([...passed(1).swept])
  expect([...passed(2, 0.19).swept]).toEqual([...passed(1).swept])
  expect(passed(2, 0.196).swept.some((one) => one !== 0)).toBe(false)
})

test('the box of each frame lies where the window does; frames are told by whether they come into a box', () => {
  const { passings } = passed(3)
  expect(passings[1]).toEqual({ frame: 1002, box: { x: 13, y: 22, width: 2, height: 2 } })
  const through = (x: number, width: number) =>
    framesThrough(passings, { x, y: 23, width, height: 1 }).map(({ frame }) => frame)
  expect(through(10, 12)).toEqual([1001, 1002, 1003])
  expect(through(14, 2)).toEqual([1002])
  expect(through(15, 1)).toEqual([])
  expect(framesThrough([{ frame: 1, box: null }], window)).toEqual([])
})
