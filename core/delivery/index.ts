/** Deliveries: what they make, how their files are named, how they stand. */

export * from './choices'
export * from './outputs'
export { nameFrom, patternFault, patternWords, versionName } from './pattern'
export { outputSchema } from './schema'
export type { DeliveredFile, DeliveryStatus } from './status'
