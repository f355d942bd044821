/** Everything the module exports. Each kernel works on addresses in the shared memory; see core/kernels/kernels.ts. */

export * from './samples'
export * from './program'
export * from './tables'
export * from './light-blends'
export * from './blends'
export * from './filters'
export * from './resample'
export * from './view'
export * from './random'
export * from './statistics'
export * from './counts'
export { useScratch } from './lanes'
