/** How the pattern around a point may change: by its place; turned and scaled as well; in every way that keeps parallels. */
export const patternModels = ['translation', 'similarity', 'affine'] as const
export type PatternModel = (typeof patternModels)[number]
