import type { Track } from './types'

/** What a person calls a region: its corners bear its name, and a number. */
export const nameOfRegion = (corner: Track): string => corner.name.replace(/, corner \d$/, '')
