/** How the pattern around a point may change: by its place; turned and scaled as well; in every way that keeps parallels. */
export const patternModels = ['translation', 'similarity', 'affine'] as const
export type PatternModel = (typeof patternModels)[number]

/** How a region may change: in perspective as well. */
export const regionModels = [...patternModels, 'homography'] as const
export type RegionModel = (typeof regionModels)[number]

/** How a region is followed: in one of these ways, or in the least of them that holds, a richer one only where it leaves less of what it was not made of. */
export const regionWays = ['least', ...regionModels] as const
export type RegionWay = (typeof regionWays)[number]
