/** Claims check: are a shot's files what they claim to be, and do they fit each other? */

export { frameList, type Finding } from './finding'
export { checkShot } from './findings'
export { sizeOfMap } from './findings-in-pixels'
export { waysOfReading } from './uses'
export { voicesOf, type Voices } from './voices'
export type {
  DecodedMovie,
  FileSays,
  FormatName,
  PictureHeader,
  PicturePart,
  SourceReport,
  SourceCamera,
  UnevenPicture,
  WayOfReading,
} from './report'
export type { FileGroup, Wedge, MediaEntry, MediaFolder, MovieSays, MovieStatus } from './media'
export type { FoundObject, ObjectPass } from './objects'
