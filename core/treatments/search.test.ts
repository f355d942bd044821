import { treatmentKinds } from '.'
import { findTreatments } from './search'

test.each([
  ['softer', 'soften'],
  ['less colour', 'saturation'],
  ['LESS  Col', 'saturation'],
  ['lift blacks', 'veil-and-gain'],
  ['warmer', 'veil-and-gain'],
  ['noise', 'grain'],
  ['bloom', 'glow'],
  ['lut', 'look-table'],
  ['barrel', 'lens'],
  ['map', 'lens-map'],
  ['gaussian', 'soften'],
  ['saturation', 'saturation'],
  ['Light wrap', 'light-wrap'],
])('"%s" finds %s first', (text, kind) => {
  expect(findTreatments(text)[0]).toBe(kind)
})

test('nothing typed finds everything, something unknown nothing', () => {
  expect(findTreatments('  ')).toEqual(treatmentKinds)
  expect(findTreatments('teapot')).toEqual([])
})
