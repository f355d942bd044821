import fc from 'fast-check'
import { smallShot } from '../test/small-shot'
import type { Shot } from '../shot'
import {
  deliveryFault,
  fileName,
  moviePattern,
  nameFrom,
  outputSchema,
  outputSentence,
  patternFault,
  sequencePattern,
  usualOutput,
  type DeliveryOutput,
} from './index'

const movie: Extract<DeliveryOutput, { format: 'movie' }> = {
  of: { what: 'composite' },
  name: 'look',
  pattern: moviePattern,
  format: 'movie',
  line: true,
}
const proof: DeliveryOutput = { of: { what: 'composite' }, name: 'proof', pattern: moviePattern, format: 'proof' }
const { line: _line, ...about } = movie
const png: DeliveryOutput = { ...about, pattern: sequencePattern, format: 'png', encoding: 'view', bits: 8 }
const wanted = (outputs: readonly DeliveryOutput[], shot: Shot = smallShot, scale: 1 | 2 | 4 = 1) =>
  deliveryFault(shot, { first: 1001, last: 1003, scale, outputs })

test('a movie is seen through a table of the shot, or is refused', () => {
  const table = { ...smallShot.sources.byId.matte, id: 'evening', name: 'Evening', path: 'evening.cube' }
  const shot = { ...smallShot, sources: { byId: { ...smallShot.sources.byId, evening: table } } }
  const even = { ...shot, frameSize: { width: 64, height: 36 } }
  const through = (id: string): DeliveryOutput => ({ ...movie, table: id })
  expect(wanted([through('evening')], even)).toBeNull()
  expect(outputSchema.isValidSync([through('evening')])).toBe(true)
  expect(outputSentence(even, through('evening'))).toContain('preview movie, through the table Evening')
  expect(outputSentence(even, movie)).toContain('preview movie, through the view')
  expect(wanted([through('gone')], even)).toMatch(/^The table that look is seen through is gone\./)
  expect(wanted([through('matte')], even)).toMatch(/is no colour table, so look cannot be seen through it\./)
})

describe('names', () => {
  test('words stand for what they say', () => {
    const named = { shot: 'quay-010', version: 3, output: 'comp', frame: 1001 }
    expect(nameFrom('{shot}_{output}_{version}.{frame}', named)).toBe('quay-010_comp_v003.1001')
    expect(nameFrom('{frame}{frame}', { ...named, frame: -7 })).toBe('-0007-0007')
    expect(fileName('quay-010', movie, 12, 1001)).toBe('quay-010_look_v012.mp4')
  })

  test('different frames never have the same name, if the pattern has {frame} in it', () => {
    fc.assert(
      fc.property(fc.integer({ min: -1e8, max: 1e8 }), fc.integer({ min: -1e8, max: 1e8 }), (a, b) => {
        const named = (frame: number) => nameFrom('x.{frame}', { shot: 's', version: 1, output: 'o', frame })
        expect(named(a) === named(b)).toBe(a === b)
      }),
    )
  })

  test.each([
    ['{shot}.{frmae}', true, /\{frmae\} in it, which stands for nothing/],
    ['{shot}', true, /no \{frame\} in it, so all frames would have one name/],
    ['{shot}.{frame}', false, /all frames go into one file/],
    ['a/{frame}', true, /"\/" in it, which file names cannot have/],
    ['a\\{frame}', true, /"\\" in it/],
    ['../{frame}', true, /in it, which file names cannot have|begins or ends with a dot/],
    ['.{frame}', true, /begins or ends with a dot/],
    ['', false, /is empty/],
    ['{shot.{frame}', true, /a brace without its other half|stands for nothing/],
  ])('%j is refused', (pattern, needsFrame, sentence) => {
    expect(patternFault(pattern, needsFrame)).toMatch(sentence)
  })

  test('a pattern that is not refused makes a name that stays in its folder', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 30 }), (text) => {
        const pattern = `${text}{frame}`
        if (patternFault(pattern, true) !== null) return
        const name = nameFrom(pattern, { shot: 's', version: 1, output: 'o', frame: 1 })
        expect(name).not.toMatch(/[/\\]|^\./)
      }),
    )
  })
})

describe('what cannot be delivered is refused with a sentence', () => {
  test('what can be is not', () => {
    expect(wanted([usualOutput, movie, png])).toBeNull()
    expect(wanted([{ ...usualOutput, of: { what: 'matte', id: 'cg' }, name: 'cg-matte' }])).toBeNull()
    expect(wanted([{ ...usualOutput, of: { what: 'shot-matte', id: 'post' }, name: 'post' }])).toBeNull()
  })

  test('two outputs of one name, whatever their case', () => {
    expect(wanted([usualOutput, { ...usualOutput, of: { what: 'element', id: 'cg' } }])).toBe(
      'Two outputs have the same name, small_comp_v001.1001.exr. Give one another name, or add {output} to its name.',
    )
    expect(wanted([usualOutput, { ...usualOutput, name: 'COMP' }])).toMatch(/same name/)
    expect(wanted([usualOutput, { ...usualOutput, name: 'cg' }])).toBeNull()
  })

  test('odd sizes and rates that a movie cannot have', () => {
    const odd = { ...smallShot, frameSize: { width: 301, height: 150 } }
    expect(wanted([movie], odd)).toMatch(/an even number of pixels both ways, and 301 x 150 is odd/)
    // 300 x 150 at a quarter is 75 x 38
    expect(wanted([movie], smallShot, 4)).toMatch(/75 x 38 is odd/)
    expect(wanted([usualOutput], odd)).toBeNull()
    const rate = { numerator: 5000, denominator: 1 }
    expect(wanted([movie], { ...smallShot, rate })).toMatch(/cannot say the rate 5000\/1/)
  })

  test('scene-linear light in whole code values, mattes of what has none, elements that are gone', () => {
    expect(wanted([{ ...png, encoding: 'linear' }])).toMatch(/PNG holds values from 0 to 1 in even steps/)
    expect(wanted([{ ...usualOutput, of: { what: 'matte', id: 'plate' } }])).toMatch(/The plate covers everything/)
    expect(wanted([{ ...usualOutput, of: { what: 'element', id: 'nothing' } }])).toMatch(/an element that is gone/)
    expect(wanted([{ ...usualOutput, of: { what: 'shot-matte', id: 'nothing' } }])).toMatch(/a matte that is gone/)
  })

  test('a proof of one element, and of a name for each frame', () => {
    expect(wanted([usualOutput, proof])).toBeNull()
    expect(wanted([{ ...proof, of: { what: 'element', id: 'cg' } }])).toBe(
      'A proof is of the whole picture. Choose the composite for proof.',
    )
    expect(wanted([{ ...proof, pattern: '{shot}.{frame}' }])).toMatch(/all frames go into one file/)
  })

  test('no output, too many, a range outside', () => {
    expect(wanted([])).toMatch(/no output/)
    const many = Array.from({ length: 21 }, (_, i) => ({ ...usualOutput, name: `o${i}` }))
    expect(wanted(many)).toMatch(/at most 20 outputs/)
    expect(deliveryFault(smallShot, { first: 900, last: 1001, scale: 1, outputs: [usualOutput] })).toMatch(
      /Frames 900 to 1001 are not inside/,
    )
  })
})

test('the door takes outputs as they are made here, and nothing with other fields', () => {
  const take = (output: object) => outputSchema.validateSync([output], { strict: true })
  for (const output of [usualOutput, movie, png, proof]) expect(take(output)).toEqual([output])
  expect(() => take({ ...png, bits: 12 })).toThrow()
  expect(() => take({ ...movie, samples: 'half' })).toThrow()
  expect(() => take({ ...proof, line: true })).toThrow()
  expect(() => take({ ...usualOutput, of: { what: 'composite', id: 'x' } })).toThrow()
  expect(() => take({ ...usualOutput, of: { what: 'element' } })).toThrow()
})
