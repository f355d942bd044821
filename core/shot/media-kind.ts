/** What a file is taken to be, by its name. */

export type MediaKind = 'picture' | 'movie' | 'table' | 'camera' | 'other'

const endings: Readonly<Record<Exclude<MediaKind, 'other'>, readonly string[]>> = {
  picture: ['exr', 'dpx', 'png', 'tif', 'tiff', 'jpg', 'jpeg'],
  movie: ['mp4', 'mov', 'webm', 'mkv', 'mxf', 'avi'],
  table: ['cube', 'clf', 'cc', 'ccc', 'cdl'],
  camera: ['gltf', 'glb'],
}
const kindOfEnding = new Map(
  (Object.keys(endings) as (keyof typeof endings)[]).flatMap((kind) =>
    endings[kind].map((end) => [end, kind] as const),
  ),
)

/** By the name alone: what a file is taken to be before it is opened. */
export function mediaKind(name: string): MediaKind {
  return kindOfEnding.get(/\.([^./]+)$/.exec(name)?.[1].toLowerCase() ?? '') ?? 'other'
}
