import { readTable, UnusableTableError, type TableOperation } from '.'

const only = (text: string, file: string): TableOperation => {
  const [operation, ...rest] = readTable(text, file)
  expect(rest).toEqual([])
  return operation
}

const cube = (rows: number) => `TITLE "look"\n# made up\nLUT_3D_SIZE 2\n${'0.1 0.2 0.3\n'.repeat(rows)}`

describe('.cube', () => {
  test('one axis: entries by channel, over its domain', () => {
    const text = 'LUT_1D_SIZE 3\nDOMAIN_MIN -0.5 -0.5 -0.5\nDOMAIN_MAX 2 2 2\n0 1 2\n3 4 5\n6 7 8\n'
    expect(only(text, 'a.cube')).toEqual({
      kind: 'table-1d',
      size: 3,
      least: -0.5,
      most: 2,
      entries: Float32Array.of(0, 3, 6, 1, 4, 7, 2, 5, 8),
    })
  })

  test('three axes, with Windows line ends and spaces', () => {
    const text = cube(8).replaceAll('\n', '\r\n').replace('0.1 0.2', '  0.1\t0.2')
    expect(only(text, 'a.cube')).toMatchObject({ kind: 'table-3d', size: 2, least: 0, most: 1 })
  })

  test.each([
    [cube(7), /it should have 8 rows of numbers and has 7/],
    [cube(9), /it should have 8 rows of numbers and has 9/],
    ['0 0 0\n', /does not say how large it is/],
    ['LUT_3D_SIZE 1\n', /line 1 names a size of 1/],
    ['LUT_3D_SIZE 2\n0 0 x\n', /line 2 is no row of three numbers \("0 0 x"\)/],
    ['LUT_1D_SIZE 2\nDOMAIN_MAX 1 1\n', /line 2 should have 3 numbers/],
    ['LUT_1D_SIZE 2\nDOMAIN_MIN 0 0 0\nDOMAIN_MAX 0 0 0\n0 0 0\n1 1 1', /or an empty one/],
  ])('what is wrong is said with its line: %#', (text, sentence) => {
    expect(() => readTable(text, 'bad.cube')).toThrow(sentence)
    expect(() => readTable(text, 'bad.cube')).toThrow(UnusableTableError)
  })
})

describe('CDL', () => {
  const correction = `<ColorCorrection id="shot">
    <SOPNode><Slope>1.1 1 0.9</Slope><Offset>0.01 0 -0.02</Offset><Power>1 1.2 1</Power></SOPNode>
    <SatNode><Saturation>0.8</Saturation></SatNode></ColorCorrection>`
  const expected = {
    kind: 'cdl',
    slope: [1.1, 1, 0.9],
    offset: [0.01, 0, -0.02],
    power: [1, 1.2, 1],
    saturation: 0.8,
    clamp: true,
  }

  test.each([
    ['shot.cc', correction],
    ['shot.ccc', `<ColorCorrectionCollection>${correction}${correction}</ColorCorrectionCollection>`],
    [
      'shot.cdl',
      `<ColorDecisionList xmlns="urn:ASC:CDL:v1.2"><ColorDecision>${correction}</ColorDecision></ColorDecisionList>`,
    ],
  ])('%s', (file, text) => expect(only(text, file)).toEqual(expected))

  test('what is left out changes nothing; what is wrong is said', () => {
    expect(only('<ColorCorrection/>', 'x.cc')).toMatchObject({ slope: [1, 1, 1], saturation: 1 })
    expect(() => readTable('<Other/>', 'x.cc')).toThrow('holds no ColorCorrection')
    expect(() => readTable(correction.replace('1.1 1 0.9', '1 2'), 'x.cc')).toThrow(/slope should be three numbers/)
    expect(() => readTable('<a><b></a>', 'x.cdl')).toThrow(/it is no XML/)
  })
})

describe('CLF', () => {
  const list = (inside: string) => `<?xml version="1.0"?><ProcessList id="a" compCLFversion="3">${inside}</ProcessList>`

  test('operations keep their order, and integers are shares of the largest code value', () => {
    const text = list(`
      <Range inBitDepth="10i" outBitDepth="32f"><minInValue>0</minInValue><maxInValue>1023</maxInValue><minOutValue>0</minOutValue><maxOutValue>1</maxOutValue></Range>
      <Matrix inBitDepth="32f" outBitDepth="32f"><Array dim="3 4">1 0 0 0.1 0 1 0 0 0 0 2 0</Array></Matrix>
      <LUT1D inBitDepth="32f" outBitDepth="8i"><Array dim="2 1">0 255</Array></LUT1D>
      <Matrix inBitDepth="32f" outBitDepth="32f"><Array dim="3 3">1 0 0 0 1 0 0 0 1</Array></Matrix>`)
    const operations = readTable(text, 'a.clf')
    expect(operations.map(({ kind }) => kind)).toEqual(['range', 'matrix', 'table-1d', 'matrix'])
    expect(operations[0]).toMatchObject({ scale: 1, offset: 0, least: 0, most: 1 })
    expect(operations[1]).toMatchObject({ offset: [0.1, 0, 0] })
    expect(operations[2]).toMatchObject({ entries: Float32Array.of(0, 1, 0, 1, 0, 1) })
  })

  test('a cube runs blue fastest in the file, red fastest here', () => {
    const values = Array.from({ length: 8 }, (_, i) => `${i >> 2} ${(i >> 1) & 1} ${i & 1}`).join('\n')
    const operation = only(
      list(`<LUT3D inBitDepth="32f" outBitDepth="32f"><Array dim="2 2 2 3">${values}</Array></LUT3D>`),
      'a.clf',
    )
    expect(operation).toMatchObject({ kind: 'table-3d', size: 2 })
    if (operation.kind === 'table-3d')
      expect([...operation.entries]).toEqual([0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0, 0, 0, 1, 1, 0, 1, 0, 1, 1, 1, 1, 1])
  })

  test('logs, powers, and what is not read here', () => {
    expect(only(list('<Log inBitDepth="32f" outBitDepth="32f" style="antiLog10"/>'), 'a.clf')).toEqual({
      kind: 'antilog',
      base: 10,
    })
    const exponent = (style: string) =>
      list(`<Exponent inBitDepth="32f" outBitDepth="32f" style="${style}"><ExponentParams exponent="2"/></Exponent>`)
    expect(only(exponent('basicMirrorRev'), 'a.clf')).toEqual({ kind: 'power', exponent: 0.5, mirrored: true })
    expect(() => readTable(exponent('monCurveFwd'), 'a.clf')).toThrow(/style "monCurveFwd" is not read here/)
    expect(() => readTable(list('<LUT1D><Array dim="3 1">0 1</Array></LUT1D>'), 'a.clf')).toThrow(
      /array of 3 x 1 should have 3 numbers and has 2/,
    )
    expect(() => readTable(list(''), 'a.clf')).toThrow(/holds no operation/)
  })
})

test('other files are refused', () => {
  expect(() => readTable('x', 'look.png')).toThrow('only .cube, .clf, .cc, .ccc and .cdl are read')
})
