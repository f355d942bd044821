/** What a pass is for, told from its name, as renderers and people usually call them. */

export type PassRole =
  | 'beauty'
  | 'light'
  | 'shadow'
  | 'occlusion'
  | 'ground-reflection'
  | 'alpha'
  | 'depth'
  | 'normals'
  | 'vectors'
  | 'ids'
  | 'facing'
  | 'albedo'
  | 'other'

/** The first that fits counts: `ground_reflection` is not a light pass of the thing itself. */
const named: readonly (readonly [PassRole, RegExp])[] = [
  ['vectors', /\b(motion|velocity|vectors?|flow)\b/],
  ['ids', /\b(ids?|index)\b/],
  ['ground-reflection', /\b(ground|floor|catcher|plane)\b.*\brefl|\brefl\w*\b.*\b(ground|floor|catcher|plane)\b/],
  ['shadow', /\b(shadows?|shad|shd)\b/],
  ['occlusion', /\b(ao|occlusion|occ)\b/],
  ['depth', /\b(z|depth|zdepth|distance)\b/],
  ['normals', /\b(n|normals?)\b/],
  ['facing', /\b(facing|fresnel)\b/],
  ['albedo', /\b(albedo|base colou?r|diffuse colou?r)\b/],
  ['alpha', /\b(a|alpha|coverage|matte|mask|holdout)\b/],
  ['beauty', /\b(beauty|rgba?|combined|final|full|master)\b/],
  [
    'light',
    /\b(diffuse|specular|spec|emission|emissive|reflections?|refl|refractions?|transmission|coat|sheen|sss|subsurface|volume|direct|indirect|gi|light|lamp|key|fill|rim)\b/,
  ],
]

/** `specularDirect`, `specular_direct` and `Specular.direct` are the same words. */
export const wordsOf = (name: string): string =>
  name
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/[^A-Za-z0-9]+/g, ' ')
    .replace(/(\D)(\d+)\b/g, '$1 $2')
    .trim()
    .toLowerCase()

/** @param name of a part or a layer; null for the channels that have none */
export function passRole(name: string | null): PassRole {
  if (name === null) return 'beauty'
  const words = wordsOf(name)
  return named.find(([, pattern]) => pattern.test(words))?.[0] ?? 'other'
}
