/** What the screen shows, worked out from the store; memoised. */

export * from './document'
export * from './answers'
export * from './picture'
export * from './computed'
export * from './seen'
export * from './frames'
export * from './samples'
export * from './markers'
export * from './tracks'
export * from './mattes'
export * from './witnesses'
export * from './matching'
