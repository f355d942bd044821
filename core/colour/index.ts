/** Encodings and primaries: what code values mean. */

export {
  decode,
  decoder,
  decodeSteps,
  encode,
  encoder,
  encodeSteps,
  encodingNames,
  encodings,
  type Encoding,
  type EncodingFamily,
  type EncodingName,
} from './encodings'
export {
  lumaWeights,
  matrixBetween,
  multiply,
  primaries,
  primariesNamed,
  primariesNames,
  primariesSteps,
  transform,
  workingSpaces,
  type Matrix,
  type Primaries,
  type PrimariesName,
  type WorkingSpace,
} from './primaries'
export { differenceOf, labOf, type Lab } from './colour-difference'
export { lightOfEntry, monotoneLine, toneSteps, toneTable, withEnds, type CurvePoint } from './tone'
export { chromaticityOf, leastDaylight, loci, whiteMatrix, whiteOf, type Locus } from './white'
